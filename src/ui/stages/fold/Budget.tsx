'use client';
import Button from '@mui/material/Button';
import { bytes, count } from '@/core/path/words';
import type { GiveUp } from '@/core/fold/budget';
import type { FoldView } from '@/usecases/fold-view';

/** The budget as one figure, and, when it is exceeded, what to give up first. */
export function Budget({ data, onGiveUp }: { data: FoldView; onGiveUp: (what: GiveUp) => void }) {
  const share = Math.round((100 * data.headCompressedBytes) / Math.max(1, data.budgetBytes));
  const over = data.headCompressedBytes > data.budgetBytes;
  return (
    <>
      <p style={{ margin: '0 0 6px' }}>
        The page’s head with it takes <b>{bytes(data.headCompressedBytes)}</b> compressed:{' '}
        {over ? `over the budget of ${bytes(data.budgetBytes)}` : `${share} % of ${bytes(data.budgetBytes)}`}.
      </p>
      {data.giveUps.length ? (
        <>
          <p style={{ margin: '6px 0' }}>To come under it, give up in this order:</p>
          <ol aria-label="What to give up">
            {data.giveUps.map((one) => (
              <li key={one.what}>
                {one.what}: {count(one.rules)} rules, about {bytes(one.compressedBytes)} compressed.{' '}
                <span className="muted">{one.risk}</span>{' '}
                <Button onClick={() => onGiveUp(one)} disabled={one.decisions.length === 0}>
                  Give up
                </Button>
              </li>
            ))}
          </ol>
        </>
      ) : over ? (
        <p style={{ margin: '6px 0' }}>
          Nothing in it can be given up that is not seen at every viewport. Leave out rules yourself below, or
          shorten what else the head holds.
        </p>
      ) : null}
    </>
  );
}
