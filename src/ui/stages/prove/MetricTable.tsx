'use client';
import { median, METRICS, type MetricKey, type Metrics } from '@/core/measure/metrics';
import { count } from '@/core/path/words';
import type { ProveView } from '@/usecases/prove-view';
import { figure, signed } from '../../figures';

/** Every metric of both arms side by side, with what got worse and what got better. */
export function MetricTable({ data: { arms, result, checks } }: { data: ProveView }) {
  const touched = checks.afterTouch;
  const [asIs, treated] = [arms[0]!, arms[1]!];
  return (
    <div className="sheet">
      <table className="plain">
        <thead>
          <tr>
            <th>Medians of {result.paint.pairs} pairs</th>
            <th className="number as-is">As is</th>
            <th className="number treated">Treated</th>
            <th className="number" style={{ whiteSpace: 'normal', width: 84 }}>
              Median of paired differences
            </th>
          </tr>
        </thead>
        <tbody>
          {METRICS.map((info) => {
            const a = asIs.spreads[info.key];
            const b = treated.spreads[info.key];
            return (
              <tr
                key={info.key}
                title={`as is ${figure(info, a.min)}–${figure(info, a.max)}, treated ${figure(info, b.min)}–${figure(info, b.max)}`}
              >
                <td style={{ whiteSpace: 'nowrap' }}>
                  {info.label}
                  {result.worse.some((one) => one.key === info.key) ? <b> worse</b> : null}
                  {result.better.some((one) => one.key === info.key) ? (
                    <span className="muted"> better</span>
                  ) : null}
                </td>
                <td className="number">{figure(info, a.median)}</td>
                <td className="number">{figure(info, b.median)}</td>
                <td className="number">
                  <b>
                    {a.median === null || b.median === null
                      ? '–'
                      : signed(info, pairedMedian(asIs.metrics, treated.metrics, info.key))}
                  </b>
                </td>
              </tr>
            );
          })}
          {touched ? (
            <tr title="One load of each arm was touched: this is no median, and nothing is concluded from it">
              <td style={{ whiteSpace: 'nowrap' }}>
                Blocking, first touch
                <div className="muted">of one load each</div>
              </td>
              <td className="number">{count(touched.asIs.blockingMs)}</td>
              <td className="number">{count(touched.treated.blockingMs)}</td>
              <td className="number">–</td>
            </tr>
          ) : null}
        </tbody>
      </table>
    </div>
  );
}

/** The median of the pairs' own differences: what the verdict is about, not the difference of the medians. */
function pairedMedian(asIs: readonly Metrics[], treated: readonly Metrics[], key: MetricKey): number | null {
  return median(
    asIs.flatMap((run, index) => {
      const a = run[key];
      const b = treated[index]?.[key];
      return a === null || b === null || b === undefined ? [] : [b - a];
    }),
  );
}
