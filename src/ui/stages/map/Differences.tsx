'use client';
import type { MapView } from '@/usecases/map-view';
import { when } from '../../figures';

/** What is not as it was in the measurement before: what appeared, went, grew or changed its hold. */
export function Differences({
  differences,
  onPick,
}: {
  differences: MapView['differences'];
  onPick: (url: string) => void;
}) {
  if (!differences) return null;
  const { since, all } = differences;
  return (
    <section aria-label="Differences" style={{ marginTop: 18 }}>
      <h2 style={{ fontSize: 15, margin: '0 0 4px' }}>
        Since {when(since)}{' '}
        <span className="muted">
          {all.length === 0 ? 'the same assets, of the same size and hold' : `${all.length} differences`}
        </span>
      </h2>
      {all.map((one) => (
        <p key={one.what + one.url} style={{ margin: '3px 0' }}>
          <button type="button" className="plain-link" onClick={() => onPick(one.url)}>
            {one.name}
          </button>{' '}
          <b>{one.what}</b>: {one.sentence}
        </p>
      ))}
    </section>
  );
}
