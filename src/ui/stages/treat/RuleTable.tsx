'use client';
import Switch from '@mui/material/Switch';
import { useEffect, useRef, type ReactNode, type Ref } from 'react';
import { fileNameOf, hostOf, shortHost } from '@/core/path/names';
import { bytes } from '@/core/path/words';
import { matchText } from '@/core/treat/plan';
import type { RehearsedState, TreatRow } from '@/usecases/treat-view';
import { KIND_MARK } from '../../figures';
import { nameOf } from './rule-names';
import type { Marks } from './useMarks';

const REHEARSED: Record<RehearsedState, ReactNode> = {
  'not yet': <span className="muted">not yet</span>,
  holds: 'same',
  breaks: <b>breaks the page</b>,
  weakened: 'weakened',
  excepted: 'excepted',
  'does nothing': <span className="muted">–</span>,
};

/** The rules, one a line: what each asset is as authored, and what becomes of it. */
export function RuleTable({
  rows,
  selected,
  opened,
  marks,
  onSelect,
  onSwitch,
}: {
  rows: readonly TreatRow[];
  selected: string;
  /** The row that the screen was opened for. */
  opened: TreatRow | null;
  marks: Marks;
  onSelect: (ruleId: string) => void;
  onSwitch: (ruleId: string, on: boolean) => void;
}) {
  const scrolledTo = useRef<HTMLTableRowElement>(null);
  useEffect(() => scrolledTo.current?.scrollIntoView({ block: 'center' }), []);
  return (
    <div className="sheet">
      <table className="plain">
        <thead>
          <tr>
            <th>
              <input
                type="checkbox"
                aria-label="Mark all that are shown"
                checked={rows.length > 0 && rows.every((row) => marks.has(row.rule.id))}
                onChange={(event) =>
                  event.target.checked ? marks.mark(rows.map((row) => row.rule.id)) : marks.clear()
                }
              />
            </th>
            <th>On</th>
            <th>Asset</th>
            <th className="number">Wire</th>
            <th>Does</th>
            <th>As authored → treatment</th>
            <th>Risk</th>
            <th>Rehearsed</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <RuleLine
              key={row.rule.id}
              ref={row === opened ? scrolledTo : undefined}
              row={row}
              selected={row.rule.id === selected}
              marks={marks}
              onSelect={onSelect}
              onSwitch={onSwitch}
            />
          ))}
        </tbody>
      </table>
    </div>
  );
}

function RuleLine({
  row,
  ref,
  selected,
  marks,
  onSelect,
  onSwitch,
}: {
  row: TreatRow;
  ref: Ref<HTMLTableRowElement> | undefined;
  selected: boolean;
  marks: Marks;
  onSelect: (ruleId: string) => void;
  onSwitch: (ruleId: string, on: boolean) => void;
}) {
  return (
    <tr ref={ref} className="pick" aria-selected={selected} onClick={() => onSelect(row.rule.id)}>
      <td>
        <input
          type="checkbox"
          aria-label={`Mark ${nameOf(row)}`}
          aria-keyshortcuts="g"
          checked={marks.has(row.rule.id)}
          onChange={() => marks.toggle(row.rule.id)}
        />
      </td>
      <td>
        <Switch
          checked={row.rule.on && row.rule.treatment !== 'as-authored'}
          disabled={row.rule.treatment === 'as-authored'}
          onChange={(event) => onSwitch(row.rule.id, event.target.checked)}
          slotProps={{
            input: { 'aria-label': `${nameOf(row)}: ${row.treatmentLabel}` },
          }}
        />
      </td>
      <td>
        <button
          type="button"
          onClick={() => onSelect(row.rule.id)}
          style={{ all: 'unset', cursor: 'pointer' }}
        >
          <span className="kind">
            {row.rule.kind === 'script'
              ? 'JS'
              : row.rule.kind === 'stylesheet'
                ? 'CSS'
                : KIND_MARK[row.rule.kind]}
          </span>
          <b style={{ fontWeight: 600 }}>{nameOf(row)}</b>{' '}
          <span className="muted">{shortHost(hostOf(matchText(row.rule.match)))}</span>
        </button>
        {row.notApplied ? <div>Not applied. {row.notApplied}</div> : null}
      </td>
      <td className="number">{row.wireBytes === null ? '–' : bytes(row.wireBytes)}</td>
      <td style={{ whiteSpace: 'nowrap' }}>
        {row.hold ? (
          <>
            <i className={`hold-mark ${row.hold}`} />
            {row.hold}
          </>
        ) : (
          <span className="muted">–</span>
        )}
      </td>
      <td>
        <span className="muted">{row.start} → </span>
        <b style={{ whiteSpace: 'nowrap' }}>{doneTo(row)}</b>
        {row.rule.on || row.rule.treatment === 'as-authored' ? (
          ''
        ) : (
          <span className="muted"> (off: {row.treatmentLabel})</span>
        )}
      </td>
      <td>{row.rule.risk}</td>
      <td>{REHEARSED[row.rehearsed]}</td>
    </tr>
  );
}

/** What is done to an asset, as the plan stands. */
function doneTo({ rule, treatmentLabel, goesWith }: TreatRow): string {
  if (goesWith !== null) return `with ${fileNameOf(goesWith)}`;
  return rule.on ? treatmentLabel : 'as authored';
}
