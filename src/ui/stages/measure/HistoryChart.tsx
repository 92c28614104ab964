'use client';
import { CartesianGrid, Line, LineChart, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { HEADLINE_NAMES } from '@/core/measure/headline';
import { capital, count, ms } from '@/core/path/words';
import type { MeasureView } from '@/usecases/measure-view';
import { when } from '../../figures';

/** The figures of each measurement, by when it was taken. */
export function HistoryChart({
  points,
  headline,
}: Pick<MeasureView, 'headline'> & { points: readonly (MeasureView['history'][number] & { at: number })[] }) {
  return (
    <ResponsiveContainer width="100%" height="100%">
      <LineChart data={[...points]} margin={{ top: 4, right: 14, bottom: 2, left: 0 }}>
        <CartesianGrid stroke="var(--line)" vertical={false} />
        <XAxis
          dataKey="at"
          type="number"
          scale="time"
          domain={['dataMin', 'dataMax']}
          tickFormatter={(at: number) => when(new Date(at).toISOString())}
          stroke="var(--muted)"
          fontSize={11}
          minTickGap={40}
        />
        <YAxis
          width={58}
          stroke="var(--muted)"
          fontSize={11}
          tickFormatter={(value: number) => count(value)}
        />
        <Tooltip
          isAnimationActive={false}
          labelFormatter={(at) => when(new Date(Number(at)).toISOString())}
          formatter={(value, name) => [ms(Number(value)), name]}
          contentStyle={{ background: 'var(--sheet)', border: '1px solid var(--line)', fontSize: 12 }}
        />
        <Line
          dataKey={headline}
          name={capital(HEADLINE_NAMES[headline])}
          stroke="var(--ink)"
          strokeWidth={2.5}
          isAnimationActive={false}
        />
        <Line
          dataKey="speedIndexMs"
          name="Speed Index"
          stroke="var(--ink)"
          strokeDasharray="5 4"
          isAnimationActive={false}
        />
        <Line
          dataKey="largestContentfulPaintMs"
          name="Largest contentful paint"
          stroke="var(--muted)"
          strokeDasharray="1 4"
          isAnimationActive={false}
        />
      </LineChart>
    </ResponsiveContainer>
  );
}
