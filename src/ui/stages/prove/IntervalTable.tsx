'use client';
import { HEADLINE_NAMES } from '@/core/measure/headline';
import { capital, count } from '@/core/path/words';
import type { ProveView } from '@/usecases/prove-view';
import { signed } from '../../figures';

/** How sure the differences are, and what is said of each. */
export function IntervalTable({ data: { result, checks } }: { data: ProveView }) {
  const { returning } = checks;
  return (
    <div className="sheet">
      <table className="plain">
        <thead>
          <tr>
            <th>95 % interval of the differences</th>
            <th className="number">From</th>
            <th className="number">To</th>
            <th>Verdict</th>
          </tr>
        </thead>
        <tbody>
          <Interval
            name={capital(HEADLINE_NAMES[result.headline])}
            difference={result.paint}
            withheld={result.withheld.paint}
          />
          <Interval name="Speed Index" difference={result.speedIndex} withheld={result.withheld.speedIndex} />
          {returning ? (
            <Interval
              name={`${capital(HEADLINE_NAMES[returning.headline])}, return visit`}
              medians={returning}
              difference={returning.paint}
              withheld={null}
            />
          ) : null}
        </tbody>
      </table>
    </div>
  );
}

function Interval({
  name,
  medians,
  difference,
  withheld,
}: {
  name: string;
  /** Where no other table tells them. */
  medians?: { asIsMs: number | null; treatedMs: number | null };
  difference: ProveView['result']['paint'];
  withheld: string | null;
}) {
  return (
    <tr>
      <td>
        {name}
        {medians && medians.asIsMs !== null && medians.treatedMs !== null ? (
          <div className="muted">
            {count(medians.asIsMs)} → {count(medians.treatedMs)} ms, {difference.pairs} pairs
          </div>
        ) : null}
      </td>
      <td className="number">{difference.low === null ? '–' : signed({ unit: 'ms' }, difference.low)}</td>
      <td className="number">{difference.high === null ? '–' : signed({ unit: 'ms' }, difference.high)}</td>
      <td>{withheld ? `withheld: ${withheld}` : difference.verdict}</td>
    </tr>
  );
}
