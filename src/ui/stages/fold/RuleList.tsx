'use client';
import Button from '@mui/material/Button';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useMemo, useRef, useState } from 'react';
import type { KeptRule } from '@/core/fold/choose';
import type { FoldDecision } from '@/core/fold/decisions';
import type { FoldSheet } from '@/core/fold/fold-css';
import { whyKept } from '@/core/fold/why-kept';
import { fileNameOf } from '@/core/path/names';
import { bytes, count } from '@/core/path/words';
import { FindField } from '../../parts/FindField';

const ROW_HEIGHT = 46;

/** Every kept rule in its order, grouped by sheet, searchable: where it came from, who needs it, why it is kept. */
export function RuleList({
  sheets,
  onDecide,
}: {
  sheets: readonly FoldSheet[];
  onDecide: (decision: FoldDecision) => void;
}) {
  const [find, setFind] = useState('');
  const rules = useMemo(() => {
    const wanted = find.trim().toLowerCase();
    const all = sheets.flatMap((sheet) => sheet.kept);
    return wanted ? all.filter((rule) => textOf(rule).includes(wanted)) : all;
  }, [sheets, find]);
  const scroller = useRef<HTMLDivElement>(null);
  // eslint-disable-next-line react-hooks/incompatible-library -- what it returns stays in this component
  const rows = useVirtualizer({
    count: rules.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 8,
    // As the server sees it: the first rules stand in the document.
    initialRect: { width: 900, height: 330 },
  });
  return (
    <>
      <div className="row">
        <FindField
          label="Find a rule, an element, a sheet"
          placeholder="Find a rule, an element, a sheet"
          width={320}
          value={find}
          onFind={setFind}
        />
        <span className="muted">{count(rules.length)} rules</span>
      </div>
      <div className="sheet rules" ref={scroller} tabIndex={0} role="list" aria-label="Kept rules">
        <div style={{ height: rows.getTotalSize(), position: 'relative' }}>
          {rows.getVirtualItems().map((item) => {
            const rule = rules[item.index]!;
            const first = rules[item.index - 1]?.sheetUrl !== rule.sheetUrl;
            return (
              <div
                key={item.key}
                role="listitem"
                className={first ? 'rule first' : 'rule'}
                style={{ height: ROW_HEIGHT, transform: `translateY(${item.start}px)` }}
              >
                <RuleLine rule={rule} onDecide={onDecide} />
              </div>
            );
          })}
        </div>
      </div>
    </>
  );
}

/** A kept rule: what it is, from where, why it is kept, and what may be decided of it. */
function RuleLine({ rule, onDecide }: { rule: KeptRule; onDecide: (decision: FoldDecision) => void }) {
  return (
    <>
      <code className="what" title={[rule.context, rule.selector].filter(Boolean).join(' ')}>
        {rule.context ? <span className="muted">{rule.context} </span> : null}
        {rule.selector}
      </code>
      <span className="from">
        {fileNameOf(rule.sheetUrl)}, line {rule.line}
      </span>
      <span className="why" title={whyKept(rule)}>
        {whyKept(rule)}
      </span>
      <span className="size">{bytes(rule.bytes)}</span>
      <span className="act">
        {rule.reason === 'named' ? null : (
          <>
            <Button
              onClick={() => onDecide({ verb: 'keep', by: 'rule', what: rule.selector })}
              aria-label={`Always keep ${rule.selector}`}
            >
              Keep
            </Button>
            <Button
              onClick={() => onDecide({ verb: 'leave-out', by: 'rule', what: rule.selector })}
              aria-label={`Leave out ${rule.selector}`}
            >
              Leave out
            </Button>
          </>
        )}
      </span>
    </>
  );
}

function textOf(rule: KeptRule): string {
  return [rule.context, rule.selector, rule.sheetUrl, ...rule.neededBy.map((need) => need.element)]
    .join(' ')
    .toLowerCase();
}
