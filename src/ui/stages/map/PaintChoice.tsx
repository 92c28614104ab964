'use client';
import { ms } from '@/core/path/words';
import type { MapView } from '@/usecases/map-view';

const PAINTS: readonly [id: string, name: string][] = [
  ['first-paint', 'first paint'],
  ['first-contentful-paint', 'first contentful paint'],
  ['largest-contentful-paint', 'largest contentful paint'],
  ['fold', 'the fold 95 % complete'],
];

/** The paint that the bill is of, by its id. */
export function paintIdOf({ target }: MapView): string {
  const kind = target?.kind ?? 'first paint';
  return PAINTS.find(([, name]) => name.startsWith(kind))?.[0] ?? 'fold';
}

/** Which paint the bill is looked back from. */
export function PaintChoice({
  paint,
  target,
  onPaint,
}: {
  paint: string;
  /** When it was, ms; null where it never was. */
  target: number | null;
  onPaint: (paint: string) => void;
}) {
  return (
    <div style={{ alignSelf: 'center' }}>
      <label>
        <b>The bill</b>{' '}
        <select
          className="small-field"
          style={{ width: 'auto', maxWidth: 180 }}
          aria-label="The paint that is looked back from"
          value={paint}
          onChange={(event) => onPaint(event.target.value)}
        >
          {PAINTS.map(([id, name]) => (
            <option key={id} value={id}>
              of {name}
            </option>
          ))}
        </select>
      </label>
      <div className="muted" style={{ fontSize: 12 }}>
        {target === null ? '' : `its lines sum to ${ms(target)}`}
      </div>
    </div>
  );
}
