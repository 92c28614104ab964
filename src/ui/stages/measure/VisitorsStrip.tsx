'use client';
import type { FieldMetric } from '@/core/field/resemblance';
import type { MetricInfo, Spread } from '@/core/measure/metrics';
import { figure } from '../../figures';

const WIDTH = 168;
const EDGE = 4;

/** Real visitors' percentiles as ticks on the spread measured here: the bar is min to max, its notch the median. */
export function VisitorsStrip({
  info,
  spread,
  field,
}: {
  info: MetricInfo;
  spread: Spread;
  field: FieldMetric;
}) {
  const values = [spread.max ?? 0, ...field.percentiles.map((one) => one.value)];
  const most = Math.max(...values) || 1;
  const x = (value: number) => EDGE + ((WIDTH - 2 * EDGE) * value) / most;
  const words = field.percentiles
    .map(({ percentile, value }) => `${percentile} % by ${figure(info, value)}`)
    .join(', ');
  return (
    <svg width={WIDTH} height={24} role="img" aria-label={`Visitors: ${words}`}>
      <title>{words}</title>
      <line x1={EDGE} x2={WIDTH - EDGE} y1={15} y2={15} stroke="var(--line)" />
      {spread.min !== null && spread.max !== null && spread.median !== null ? (
        <>
          <rect
            x={x(spread.min)}
            width={Math.max(2, x(spread.max) - x(spread.min))}
            y={12}
            height={6}
            fill="var(--ochre)"
          />
          <line
            x1={x(spread.median)}
            x2={x(spread.median)}
            y1={10}
            y2={20}
            stroke="var(--ink)"
            strokeWidth={2}
          />
        </>
      ) : null}
      {field.percentiles.map(({ percentile, value }) => (
        <g key={percentile}>
          <line x1={x(value)} x2={x(value)} y1={9} y2={22} stroke="var(--ink)" />
          <text
            x={x(value)}
            y={8}
            fontSize={11}
            textAnchor={x(value) > WIDTH - 14 ? 'end' : x(value) < 14 ? 'start' : 'middle'}
            fill="var(--muted)"
          >
            {percentile}
          </text>
        </g>
      ))}
    </svg>
  );
}
