'use client';
import { describeConditions } from '@/core/measure/conditions';
import { HEADLINE_NAMES } from '@/core/measure/headline';
import { capital, count } from '@/core/path/words';
import { deviceName, holdsThere } from '@/core/trial/other-device';
import type { ProveView } from '@/usecases/prove-view';
import { signed } from '../../figures';

/** What the same plan on the same bytes came to on the other kind of device. */
export function OtherDeviceTable({ data: { checks, result } }: { data: ProveView }) {
  const there = checks.otherDevice;
  if (!there)
    return (
      <p className="muted" style={{ margin: 0 }}>
        {result.paint.verdict === 'earlier'
          ? 'Not tried on the other kind of device.'
          : 'It is tried on the other kind of device once it is earlier on this one.'}
      </p>
    );
  const rows = [
    {
      name: capital(HEADLINE_NAMES[there.headline]),
      difference: there.paint,
      withheld: there.withheld.paint,
    },
    { name: 'Speed Index', difference: there.speedIndex, withheld: there.withheld.speedIndex },
  ];
  const words = [...there.worse, ...there.breaks].map((one) => one.words);
  return (
    <div className="sheet">
      <table className="plain">
        <thead>
          <tr>
            <th>On {deviceName(there.conditions)}</th>
            <th className="number">Difference</th>
            <th>{holdsThere(there) ? 'It holds there too' : 'It does not hold there'}</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(({ name, difference, withheld }, index) => (
            <tr key={name}>
              <td>
                {name}
                {index === 0 && there.asIsMs !== null && there.treatedMs !== null ? (
                  <div className="muted">
                    {count(there.asIsMs)} → {count(there.treatedMs)} ms
                  </div>
                ) : null}
              </td>
              <td className="number">
                {difference.low === null ? '–' : signed({ unit: 'ms' }, difference.differenceMs)}
              </td>
              <td>{withheld ? `withheld: ${withheld}` : difference.verdict}</td>
            </tr>
          ))}
          {words.map((one) => (
            <tr key={one}>
              <td colSpan={3}>Worse: {one}</td>
            </tr>
          ))}
          <tr>
            <td colSpan={3} className="muted">
              The same plan on the same bytes, {there.paint.pairs} pairs:{' '}
              {describeConditions(there.conditions)}
              {there.tooBusy
                ? '. The machine was too busy to trust these figures: end other programs and run the trial again.'
                : ''}
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  );
}
