'use client';
import Dialog from '@mui/material/Dialog';

const KEYS: readonly [string, string][] = [
  ['Ctrl K', 'find a page or stage'],
  ['1 … 6', 'go to a stage of the page'],
  ['M', 'measure'],
  ['J  K', 'next and previous row'],
  ['Enter', 'open the selected page'],
  ['.', 'on the board: what to do with the selected page'],
  ['← →', 'step through the frames; on the map, move'],
  ['+  −  0', 'on the map: closer, further, the whole load'],
  ['F  N', 'on the map: a footnote on the row, on the moment at the cursor'],
  ['U  R', 'on Treat: undo, redo; each treatment has its letter beside it'],
  ['G', 'on the board: choose the page; on Treat: mark the rule, to change several together'],
  ['X', 'on Prove: except the rule that breaks the page'],
  ['?', 'these keys'],
];

/** What each key does. */
export function KeysDialog({ onClose }: { onClose: () => void }) {
  return (
    <Dialog open onClose={onClose} aria-labelledby="keys-title">
      <div style={{ padding: 18, minWidth: 320 }}>
        <h2 id="keys-title" style={{ margin: '0 0 8px', fontSize: 15 }}>
          Keys
        </h2>
        <table className="plain">
          <tbody>
            {KEYS.map(([key, what]) => (
              <tr key={key}>
                <td>
                  <span className="key">{key}</span>
                </td>
                <td>{what}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </Dialog>
  );
}
