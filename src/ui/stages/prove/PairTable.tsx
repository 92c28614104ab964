'use client';
import { HEADLINE_NAMES, type HeadlineKey } from '@/core/measure/headline';
import { capital } from '@/core/path/words';
import { AS_IS } from '@/core/trial/arms';
import { armName } from '@/core/words/arms';
import type { ProveView } from '@/usecases/prove-view';
import { figure, signed } from '../../figures';

/** Each pair by itself, in the order it was run. */
export function PairTable({ data }: { data: ProveView }) {
  const [asIs, treated] = data.arms;
  return (
    <div className="sheet">
      <table className="plain">
        <thead>
          <tr>
            <th>Pair</th>
            <th>First</th>
            <th className="number">{capital(HEADLINE_NAMES[data.result.headline])} as is</th>
            <th className="number">treated</th>
            <th className="number">Difference</th>
            <th className="number">Speed Index as is</th>
            <th className="number">treated</th>
            <th className="number">Difference</th>
          </tr>
        </thead>
        <tbody>
          {asIs!.metrics.map((run, index) => {
            const other = treated!.metrics[index]!;
            const cells = (key: HeadlineKey | 'speedIndexMs') => {
              const [a, b] = [run[key], other[key]];
              return (
                <>
                  <td className="number">{figure({ unit: 'ms' }, a)}</td>
                  <td className="number">{figure({ unit: 'ms' }, b)}</td>
                  <td className="number">{a === null || b === null ? '–' : signed({ unit: 'ms' }, b - a)}</td>
                </>
              );
            };
            return (
              <tr key={index}>
                <td>{index + 1}</td>
                <td>{armName(data.order[index]?.[0] ?? AS_IS)}</td>
                {cells(data.result.headline)}
                {cells('speedIndexMs')}
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}
