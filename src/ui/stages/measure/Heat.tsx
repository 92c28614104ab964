'use client';
import { lateSteps } from '@/core/frames/late-steps';
import { ms } from '@/core/path/words';
import type { MeasureView } from '@/usecases/measure-view';
import './heat.css';

const WIDTH = 170;
/** How far lines of a hatching stand apart, px: the later, the closer; the first step leaves the picture as it is. */
const APART = [null, 9, 5, 3] as const;

/** Which part of the viewport became final when, in four steps: hatched over the final picture, the closer the later. */
export function Heat({ data }: { data: MeasureView }) {
  const { columns, rows, finalMs } = data.heat;
  const last = data.frames.at(-1);
  if (columns === 0 || !last) return null;
  const side = WIDTH / columns;
  const height = side * rows;
  const { steps, of } = lateSteps(finalMs);
  if (steps.length === 0) return null;
  const [first, latest] = [steps[0]!.fromMs, steps.at(-1)!.untilMs];
  return (
    <figure className="heat">
      <svg
        width={WIDTH}
        height={height}
        role="img"
        aria-label={`Parts of the viewport became final between ${ms(first)} and ${ms(latest)}`}
      >
        <defs>
          {APART.map((apart, step) =>
            apart === null ? null : <Hatching key={step} step={step} apart={apart} />,
          )}
        </defs>
        <image
          href={`/api/pictures/frame/${last.id}`}
          width={WIDTH}
          height={height}
          preserveAspectRatio="none"
        />
        {of.map((step, cell) =>
          step === null ? null : (
            <rect
              key={cell}
              x={(cell % columns) * side}
              y={Math.floor(cell / columns) * side}
              width={side}
              height={side}
              fill={step === 0 ? 'transparent' : `url(#late-${step})`}
            >
              <title>{ms(finalMs[cell]!)}</title>
            </rect>
          ),
        )}
      </svg>
      <figcaption>
        <ul aria-label="When parts became final">
          {steps.map(({ untilMs, share }, step) => (
            <li key={step}>
              <svg width="22" height="14" aria-hidden>
                <rect width="22" height="14" fill={step === 0 ? 'transparent' : `url(#late-${step})`} />
              </svg>
              by {ms(untilMs)} <span className="muted">{Math.round(share * 100)} %</span>
            </li>
          ))}
        </ul>
      </figcaption>
    </figure>
  );
}

function Hatching({ step, apart }: { step: number; apart: number }) {
  return (
    <pattern
      id={`late-${step}`}
      width={apart}
      height={apart}
      patternUnits="userSpaceOnUse"
      patternTransform="rotate(45)"
    >
      <rect width={apart} height={apart} className="veil" />
      <line y2={apart} className="hatch" />
    </pattern>
  );
}
