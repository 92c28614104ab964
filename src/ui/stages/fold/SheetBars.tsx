'use client';
import Button from '@mui/material/Button';
import type { FoldDecision } from '@/core/fold/decisions';
import { countKept } from '@/core/fold/count-kept';
import type { FoldSheet } from '@/core/fold/fold-css';
import { fileNameOf } from '@/core/path/names';
import { bytes, count } from '@/core/path/words';

/** How many elements are named as those that need a sheet. */
const MOST_NAMED = 4;

/** The sheets as bars of kept against left, in bytes and rules, with what needs each above the fold. */
export function SheetBars({
  sheets,
  onDecide,
}: {
  sheets: readonly FoldSheet[];
  onDecide: (decision: FoldDecision) => void;
}) {
  const largest = Math.max(...sheets.map((sheet) => sheet.sourceBytes), 1);
  return (
    <div className="sheet">
      <table className="plain">
        <thead>
          <tr>
            <th>Stylesheet</th>
            <th style={{ width: '20%' }}>Kept of its bytes</th>
            <th className="number">Kept</th>
            <th className="number">Source</th>
            <th className="number">Rules kept</th>
            <th>What needs it above the fold</th>
            <th>
              <span className="visually-hidden">What is done</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {sheets.map((sheet) => (
            <tr key={sheet.url}>
              <td>
                <code title={sheet.url}>{fileNameOf(sheet.url)}</code>
                {sheet.parts.length > 1 ? (
                  <span className="muted"> with {sheet.parts.length - 1} imported</span>
                ) : null}
                {sheet.whole ? <span className="muted"> kept whole</span> : null}
              </td>
              <td>
                <div
                  className="kept"
                  role="img"
                  aria-label={`${Math.round((100 * sheet.foldBytes) / Math.max(1, sheet.sourceBytes))} % of the bytes are kept`}
                  style={{ width: `${Math.max(4, (100 * sheet.sourceBytes) / largest)}%`, minWidth: 8 }}
                >
                  <i
                    style={{
                      width: `${Math.min(100, (100 * sheet.foldBytes) / Math.max(1, sheet.sourceBytes))}%`,
                    }}
                  />
                </div>
              </td>
              <td className="number">{bytes(sheet.foldBytes)}</td>
              <td className="number">{bytes(sheet.sourceBytes)}</td>
              <td className="number">
                {count(countKept(sheet.kept))} <span className="muted">of {count(sheet.rules)}</span>
              </td>
              <td>{neededWords(sheet)}</td>
              <td className="number">
                <Button
                  variant="outlined"
                  onClick={() => onDecide({ verb: 'leave-out', by: 'sheet', what: sheet.url })}
                >
                  Leave out
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** The elements that most of a sheet's kept rules are for. */
function neededWords(sheet: FoldSheet) {
  const uses = new Map<string, number>();
  for (const rule of sheet.kept)
    for (const element of new Set(rule.neededBy.map((need) => need.element)))
      uses.set(element, (uses.get(element) ?? 0) + 1);
  const names = [...uses].sort((a, b) => b[1] - a[1]);
  if (names.length === 0)
    return <span className="muted">{sheet.kept.length ? 'what other rules name' : 'nothing'}</span>;
  return (
    <>
      {names.slice(0, MOST_NAMED).map(([name], index) => (
        <span key={name}>
          {index ? ', ' : ''}
          <code>{name}</code>
        </span>
      ))}
      {names.length > MOST_NAMED ? (
        <span className="muted"> and {count(names.length - MOST_NAMED)} more</span>
      ) : null}
    </>
  );
}
