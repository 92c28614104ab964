'use client';
import { Area, AreaChart, CartesianGrid, ReferenceLine, ResponsiveContainer, XAxis, YAxis } from 'recharts';
import { HEADLINE_NAMES } from '@/core/measure/headline';
import { ms } from '@/core/path/words';
import type { MeasureView } from '@/usecases/measure-view';
import { axisTicks, seconds } from '../../parts/shown-frames';
import { LEFT, RIGHT } from './curve-margins';

/** How much of the final picture stands when. */
export function CompletenessChart({
  data,
  end,
  atMs,
}: {
  data: MeasureView;
  end: number;
  atMs: number | null;
}) {
  const { frames } = data;
  const paint = data.runs[data.measurement.medianRun]?.metrics[data.headline] ?? null;
  const points = [
    { atMs: 0, share: 0 },
    ...frames.map((frame) => ({ atMs: frame.atMs, share: frame.completeness * 100 })),
    { atMs: end, share: (frames.at(-1)?.completeness ?? 0) * 100 },
  ];
  return (
    <ResponsiveContainer width="100%" height="100%">
      <AreaChart data={points} margin={{ top: 12, right: RIGHT, bottom: 2, left: 0 }}>
        <CartesianGrid stroke="var(--line)" vertical={false} />
        <XAxis
          dataKey="atMs"
          type="number"
          domain={[0, end]}
          ticks={axisTicks(end)}
          tickFormatter={seconds}
          stroke="var(--muted)"
          fontSize={11.5}
          unit=" s"
        />
        <YAxis
          width={LEFT}
          domain={[0, 100]}
          ticks={[0, 50, 100]}
          unit=" %"
          stroke="var(--muted)"
          fontSize={11.5}
        />
        <Area
          type="stepAfter"
          dataKey="share"
          stroke="var(--ochre)"
          strokeWidth={2.5}
          fill="var(--ochre-soft)"
          isAnimationActive={false}
        />
        {paint !== null ? (
          <ReferenceLine
            x={paint}
            stroke="var(--ink)"
            strokeWidth={2}
            label={{
              value: `${HEADLINE_NAMES[data.headline]} ${ms(paint)}`,
              position: 'insideTopRight',
              fontSize: 12,
              fontWeight: 650,
              fill: 'var(--ink)',
            }}
          />
        ) : null}
        {atMs !== null ? <ReferenceLine x={atMs} stroke="var(--ink)" strokeDasharray="3 3" /> : null}
      </AreaChart>
    </ResponsiveContainer>
  );
}
