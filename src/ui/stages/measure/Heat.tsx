'use client';
import { ms } from '@/core/path/words';
import type { MeasureView } from '@/usecases/measure-view';

const WIDTH = 150;

/** Which part of the viewport became final when: the darker, the later, over the final picture. */
export function Heat({ data }: { data: MeasureView }) {
  const { columns, rows, finalMs } = data.heat;
  const last = data.frames.at(-1);
  if (columns === 0 || !last) return null;
  const side = WIDTH / columns;
  const latest = Math.max(...finalMs, 1);
  const first = Math.min(...finalMs.filter((one) => one > 0), latest);
  return (
    <figure style={{ margin: 0 }}>
      <svg
        width={WIDTH}
        height={side * rows}
        role="img"
        aria-label={`Parts of the viewport became final between ${ms(first)} and ${ms(latest)}`}
        style={{ border: '1px solid var(--line)', display: 'block', background: '#fff' }}
      >
        <image
          href={`/api/pictures/frame/${last.id}`}
          width={WIDTH}
          height={side * rows}
          preserveAspectRatio="none"
          opacity={0.35}
        />
        {finalMs.map((at, cell) =>
          at > 0 ? (
            <rect
              key={cell}
              x={(cell % columns) * side}
              y={Math.floor(cell / columns) * side}
              width={side}
              height={side}
              fill="var(--ink)"
              opacity={0.06 + 0.6 * ((at - first) / Math.max(1, latest - first))}
            >
              <title>{ms(at)}</title>
            </rect>
          ) : null,
        )}
      </svg>
      <figcaption className="muted">
        final from {ms(first)} (light) to {ms(latest)} (dark)
      </figcaption>
    </figure>
  );
}
