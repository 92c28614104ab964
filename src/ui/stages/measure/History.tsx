'use client';
import { lazy } from 'react';
import type { MeasureView } from '@/usecases/measure-view';
import { OnceThere } from '../../parts/Later';

const HistoryChart = lazy(() => import('./HistoryChart').then((one) => ({ default: one.HistoryChart })));

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
      <OnceThere>
        <HistoryChart points={points} headline={data.headline} />
      </OnceThere>
    </div>
  );
}
