import { ms } from '@/core/path/words';
import type { PairedDifference } from '@/core/trial/statistics';
import { signed } from '../../figures';

/** A time as a bar; the longest of its table takes so much of the cell that its figure stands beside it. */
export function GainBar({
  value,
  most,
  kind,
  words,
}: {
  value: number | null;
  most: number;
  kind: 'as-is' | 'treated';
  words?: string;
}) {
  if (value === null) return <>–</>;
  return (
    <span className="gain-bar">
      <i className={kind} style={{ width: `${((words ? 45 : 60) * value) / most}%` }} />
      {ms(value)}
      {words ? <span className="muted">{words}</span> : null}
    </span>
  );
}

/** The ends of a difference's interval; turned round where it is told as a gain. */
export function intervalWords({ low, high }: PairedDifference, gain: boolean): string | null {
  if (low === null || high === null) return null;
  const [from, to] = gain ? [-high, -low] : [low, high];
  return `${signed({ unit: 'ms' }, from)} to ${signed({ unit: 'ms' }, to)}`;
}
