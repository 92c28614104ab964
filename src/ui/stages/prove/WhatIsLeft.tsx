import { count } from '@/core/path/words';
import { LEAST_LEFT_MS } from '@/core/trial/what-is-left';
import type { ProveView } from '@/usecases/prove-view';

/** What the treated paint still waits for, held against as is, and what can be done about each. */
export function WhatIsLeft({ data: { leftTold } }: { data: ProveView }) {
  if (!leftTold) return null;
  const long = ({ asIsMs, treatedMs }: { asIsMs: number; treatedMs: number }) =>
    Math.max(asIsMs, treatedMs) >= LEAST_LEFT_MS;
  const shown = leftTold.lines.filter(long);
  const short = leftTold.lines.filter((one) => !long(one));
  const sum = (arm: 'asIsMs' | 'treatedMs') => count(short.reduce((total, one) => total + one[arm], 0));
  return (
    <section aria-labelledby="left">
      <h2 id="left" style={{ fontSize: 15 }}>
        What is left
      </h2>
      <p>{leftTold.sentence}</p>
      <div className="sheet">
        <table className="plain">
          <thead>
            <tr>
              <th>The drawn pair’s paint waits for</th>
              <th className="number">As is, ms</th>
              <th className="number">Treated, ms</th>
              <th>What can be done</th>
            </tr>
          </thead>
          <tbody>
            {shown.map((line) => (
              <tr key={line.label + line.why}>
                <td title={line.why}>{line.label}</td>
                <td className="number">{line.asIsMs < 1 ? '–' : count(line.asIsMs)}</td>
                <td className="number">{line.treatedMs < 1 ? '–' : <b>{count(line.treatedMs)}</b>}</td>
                <td>{line.todo}</td>
              </tr>
            ))}
            {short.length ? (
              <tr>
                <td className="muted">
                  {short.length} shorter {short.length === 1 ? 'line' : 'lines'}
                </td>
                <td className="number">{sum('asIsMs')}</td>
                <td className="number">{sum('treatedMs')}</td>
                <td />
              </tr>
            ) : null}
            <tr>
              <td>All</td>
              <td className="number">{count(leftTold.asIsMs)}</td>
              <td className="number">
                <b>{count(leftTold.treatedMs)}</b>
              </td>
              <td>{leftTold.floorMs === null ? '' : `floor ${count(leftTold.floorMs)}`}</td>
            </tr>
          </tbody>
        </table>
      </div>
    </section>
  );
}
