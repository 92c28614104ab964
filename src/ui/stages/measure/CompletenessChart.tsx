'use client';
import { Area, AreaChart, CartesianGrid, ReferenceLine, ResponsiveContainer, XAxis, YAxis } from 'recharts';
import type { MeasureView } from '@/usecases/measure-view';
import { axisTicks, seconds } from '../../parts/shown-frames';
import { LEFT } from './curve-margins';

/** How much of the final picture stands when. */
export function CompletenessChart({
  frames,
  paintMs,
  end,
  atMs,
  right,
}: {
  frames: MeasureView['frames'];
  paintMs: number | null;
  end: number;
  /** The moment that is looked at; null for none. */
  atMs: number | null;
  /** What stands right of it, px. */
  right: number;
}) {
  const points = [
    { atMs: 0, share: 0 },
    ...frames.map((frame) => ({ atMs: frame.atMs, share: frame.completeness * 100 })),
    { atMs: end, share: (frames.at(-1)?.completeness ?? 0) * 100 },
  ];
  return (
    <ResponsiveContainer width="100%" height="100%">
      <AreaChart data={points} margin={{ top: 6, right, bottom: 2, left: 0 }}>
        <CartesianGrid stroke="var(--line)" vertical={false} />
        <XAxis
          dataKey="atMs"
          type="number"
          domain={[0, end]}
          ticks={axisTicks(end, 5)}
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
        {paintMs !== null ? <ReferenceLine x={paintMs} stroke="var(--ink)" strokeWidth={2} /> : null}
        {atMs !== null ? <ReferenceLine x={atMs} stroke="var(--ink)" strokeDasharray="3 3" /> : null}
      </AreaChart>
    </ResponsiveContainer>
  );
}
