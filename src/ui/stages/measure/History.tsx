'use client';
import { CartesianGrid, Line, LineChart, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { HEADLINE_NAMES } from '@/core/measure/headline';
import { capital, count, ms } from '@/core/path/words';
import type { MeasureView } from '@/usecases/measure-view';
import { when } from '../../figures';

/** The page's figures over time: what a change undid is seen here. */
export function History({ data }: { data: MeasureView }) {
  // Figures of another yardstick are not drawn into one line with these.
  const newest = data.history.at(-1)?.yardstickVersion;
  const history = data.history.filter((point) => point.yardstickVersion === newest);
  const others = data.history.length - history.length;
  const left = others
    ? ` ${others} ${others === 1 ? 'earlier measurement was' : 'earlier measurements were'} taken with another yardstick and ${others === 1 ? 'is' : 'are'} not drawn.`
    : '';
  if (history.length < 2)
    return (
      <p className="muted">
        Measured once under these conditions: a second measuring begins its history.{left}
      </p>
    );
  const points = history.map((point) => ({ ...point, at: Date.parse(point.takenAt) }));
  return (
    <div className="sheet" style={{ height: 200, padding: '10px 6px 0 0' }}>
      <ResponsiveContainer width="100%" height="100%">
        <LineChart data={points} margin={{ top: 4, right: 14, bottom: 2, left: 0 }}>
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
            dataKey={data.headline}
            name={capital(HEADLINE_NAMES[data.headline])}
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
    </div>
  );
}
