'use client';
import Button from '@mui/material/Button';
import type { FoldDecision } from '@/core/fold/decisions';
import { countKept } from '@/core/fold/count-kept';
import type { FoldSheet } from '@/core/fold/fold-css';
import { fileNameOf } from '@/core/path/names';
import { bytes, count } from '@/core/path/words';

/** How many elements are named as those that need a sheet. */
const MOST_NAMED = 3;

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
    <table className="plain sheet-bars">
      <thead>
        <tr>
          <th>Stylesheet</th>
          <th className="number">Kept</th>
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
              <KeptBar sheet={sheet} largest={largest} />
              <div className="muted">for {neededWords(sheet)}</div>
            </td>
            <td className="number">
              {bytes(sheet.foldBytes)}
              <div className="muted">of {bytes(sheet.sourceBytes)}</div>
              <div className="muted">
                {count(countKept(sheet.kept))} of {count(sheet.rules)} rules
              </div>
            </td>
            <td className="number">
              <Button
                variant="outlined"
                aria-label={`Leave out ${fileNameOf(sheet.url)}`}
                onClick={() => onDecide({ verb: 'leave-out', by: 'sheet', what: sheet.url })}
              >
                Leave out
              </Button>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** How long a sheet is beside the others, and how much of it is kept. */
function KeptBar({ sheet: { foldBytes, sourceBytes }, largest }: { sheet: FoldSheet; largest: number }) {
  const share = (100 * foldBytes) / Math.max(1, sourceBytes);
  return (
    <div
      className="kept"
      role="img"
      aria-label={`${Math.round(share)} % of the bytes are kept`}
      style={{ width: `${Math.max(4, (100 * sourceBytes) / largest)}%` }}
    >
      <i style={{ width: `${Math.min(100, share)}%` }} />
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
  if (names.length === 0) return sheet.kept.length ? 'what other rules name' : 'nothing';
  return (
    <>
      {names.slice(0, MOST_NAMED).map(([name], index) => (
        <span key={name}>
          {index ? ', ' : ''}
          <code>{name}</code>
        </span>
      ))}
      {names.length > MOST_NAMED ? <> and {count(names.length - MOST_NAMED)} more</> : null}
    </>
  );
}
