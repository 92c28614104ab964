import { median, type MetricKey } from '../measure/metrics.ts';
import type { Pair } from './pair.ts';

/** What a paired comparison says; differences are treated less as is, so earlier is negative. */
export interface PairedDifference {
  pairs: number;
  /** Median of the paired differences. */
  differenceMs: number;
  /** Ends of the interval; null with too few pairs for one. */
  low: number | null;
  high: number | null;
  verdict: Verdict;
}

export type Verdict = 'earlier' | 'later' | 'no clear difference' | 'too few runs to say';

/** One side of a 95 % interval. */
const TAIL = 0.025;

/** Pairs below which no interval exists: all signs alike are likelier by chance than its tail. Six for 95 %. */
export function leastPairs(tail = TAIL): number {
  return Math.ceil(-Math.log2(tail));
}

/** Differences within one frame are not called, whatever their interval. */
export const ONE_FRAME_MS = 17;

/**
 * Compares two arms by the Wilcoxon signed-rank interval of their paired differences (Hollander, Wolfe and
 * Chicken, section 3.3): the interval's ends are order statistics of the Walsh averages, exact for small samples.
 *
 * @param differences one for each complete pair, treated less as is, ms
 * @param tail how likely chance may be to go beyond one of the interval's ends
 */
export function comparePairs(differences: readonly number[], tail = TAIL): PairedDifference {
  const pairs = differences.length;
  const differenceMs = median(differences) ?? 0;
  if (pairs < leastPairs(tail)) {
    return { pairs, differenceMs, low: null, high: null, verdict: 'too few runs to say' };
  }
  const [low, high] = signedRankInterval(differences, tail);
  const clear = Math.abs(differenceMs) > ONE_FRAME_MS && (high < 0 || low > 0);
  const verdict = !clear ? 'no clear difference' : differenceMs < 0 ? 'earlier' : 'later';
  return { pairs, differenceMs, low, high, verdict };
}

/** A metric's differences of the pairs that have it in both arms, treated less as is. */
export function differencesOf(pairs: readonly Pair[], key: MetricKey): number[] {
  return pairs.flatMap(({ asIs, treated }) => {
    const [a, b] = [asIs[key], treated[key]];
    return typeof a === 'number' && typeof b === 'number' ? [b - a] : [];
  });
}

/** Confidence interval for the centre of the differences. @throws RangeError with fewer values than the tail needs */
export function signedRankInterval(values: readonly number[], tail = TAIL): [number, number] {
  const n = values.length;
  if (n < leastPairs(tail))
    throw new RangeError(`${leastPairs(tail)} values are the least for this interval.`);
  const walsh: number[] = [];
  for (let i = 0; i < n; i++) for (let j = i; j < n; j++) walsh.push((values[i]! + values[j]!) / 2);
  walsh.sort((a, b) => a - b);
  const rank = criticalRank(n, tail);
  return [walsh[rank]!, walsh[walsh.length - 1 - rank]!];
}

/** The greatest k with P(W < k) ≤ tail, W the signed-rank statistic of n values; found by counting. */
function criticalRank(n: number, tail: number): number {
  const sums = new Array<number>((n * (n + 1)) / 2 + 1).fill(0);
  sums[0] = 1;
  for (let rank = 1; rank <= n; rank++) {
    for (let sum = sums.length - 1; sum >= rank; sum--) sums[sum]! += sums[sum - rank]!;
  }
  const whole = 2 ** n;
  let below = 0;
  let k = 0;
  while ((below + sums[k]!) / whole <= tail) below += sums[k++]!;
  return k - 1;
}
