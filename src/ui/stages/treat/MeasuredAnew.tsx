'use client';
import Button from '@mui/material/Button';
import { fileNameOf } from '@/core/path/names';
import type { Rebound } from '@/core/treat/rebind';

/** The file's name, or how an inline script begins. */
function shortly(what: string): string {
  const name = fileNameOf(what);
  return name.length > 50 ? `${name.slice(0, 50)}…` : name;
}

/** What became of the user's own rules when the page was measured again. */
export function MeasuredAnew({ rebound, onSeen }: { rebound: Rebound; onSeen: () => void }) {
  const { bound, lost, fresh } = rebound;
  const said: [string, string[]][] = [
    [
      bound.length === 1 ? 'One rule has found its asset' : `${bound.length} rules have found their assets`,
      bound.map(({ from, to }) => `${shortly(from)} is now ${shortly(to)}`),
    ],
    [
      lost.length === 1
        ? 'One rule has lost its asset, and does nothing'
        : `${lost.length} rules have lost their assets, and do nothing`,
      lost.map(({ what }) => shortly(what)),
    ],
    [
      fresh.length === 1
        ? 'One asset is new, and treated as recommended'
        : `${fresh.length} assets are new, and treated as recommended`,
      fresh.map(({ what }) => shortly(what)),
    ],
  ];
  return (
    <div className="note row" role="status">
      <div style={{ flex: 1, minWidth: 0, overflowWrap: 'anywhere' }}>
        <b>The page was measured again, and what you decided bound again.</b>
        {said.map(([what, names]) =>
          names.length ? (
            <p key={what} style={{ margin: '4px 0 0' }}>
              {what}: {names.join('; ')}.
            </p>
          ) : null,
        )}
      </div>
      <Button variant="outlined" onClick={onSeen}>
        Put away
      </Button>
    </div>
  );
}
