'use client';
import { METRICS } from '@/core/measure/metrics';
import type { MeasureView } from '@/usecases/measure-view';
import { figure, signed, when } from '../../figures';
import { VisitorsStrip } from './VisitorsStrip';

/** Runs shown each by themselves at most; with more, their spread says as much. */
const MOST_RUNS = 5;

/** Every metric with median, spread and each run's own; return visits and the measurement before beside it. */
export function MetricsTable({ data }: { data: MeasureView }) {
  const { spreads } = data.measurement;
  const runs = data.runs.length <= MOST_RUNS ? data.runs : [];
  const { previous, returning, field } = data;
  return (
    <div className="sheet" style={{ overflowX: 'auto' }} tabIndex={0} role="region" aria-label="All metrics">
      <table className="plain metrics">
        <thead>
          <tr>
            <th>Metric</th>
            <th className="number">Median of {data.runs.length}</th>
            <th className="number">Min–max</th>
            {field ? <th>Visitors’ percentiles on it</th> : null}
            {returning ? <th className="number">Return visit</th> : null}
            {previous ? <th className="number">Before ({when(previous.takenAt)})</th> : null}
            {previous && !previous.apart ? <th className="number">Difference</th> : null}
            {runs.map((run, index) => (
              <th key={run.id} className="number">
                Run {index + 1}
                {index === data.measurement.medianRun ? ' (shown)' : ''}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {METRICS.map((info) => {
            const spread = spreads[info.key];
            const before = previous?.spreads[info.key]?.median ?? null;
            const visitors = field?.metrics.find((one) => one.metric === info.key);
            const unit = info.unit === 'ms' ? <span className="muted"> ms</span> : null;
            return (
              <tr key={info.key}>
                <td style={{ whiteSpace: 'nowrap' }}>{info.label}</td>
                <td className="number">
                  <b>{figure(info, spread.median)}</b>
                  {unit}
                </td>
                <td className="number muted">
                  {figure(info, spread.min)}–{figure(info, spread.max)}
                </td>
                {field ? (
                  <td style={{ padding: '0 8px' }}>
                    {visitors ? <VisitorsStrip info={info} spread={spread} field={visitors} /> : null}
                  </td>
                ) : null}
                {returning ? (
                  <td className="number">{figure(info, returning.spreads[info.key].median)}</td>
                ) : null}
                {previous ? <td className="number">{figure(info, before)}</td> : null}
                {previous && !previous.apart ? (
                  <td className="number">
                    {before === null || spread.median === null ? '–' : signed(info, spread.median - before)}
                  </td>
                ) : null}
                {runs.map((run, index) => (
                  <td key={run.id} className="number">
                    {figure(info, spread.runs[index])}
                  </td>
                ))}
              </tr>
            );
          })}
        </tbody>
      </table>
      {field ? (
        <p className="muted" style={{ margin: 0, padding: '6px 10px', fontSize: 12 }}>
          Visitors’ percentiles: thin lines, by when 50, 75 and 95 % of visits; the bar, the runs here from
          the least to the greatest; the thick line on it, their median.
        </p>
      ) : null}
    </div>
  );
}
