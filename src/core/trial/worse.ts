import { median, METRICS, type MetricInfo, type MetricKey } from '../measure/metrics.ts';
import type { HeadlineKey } from '../measure/headline.ts';
import { bytes, count, ms } from '../path/words.ts';
import { LEAST_PAIRS, ONE_FRAME_MS, signedRankInterval } from './statistics.ts';
import type { Pair } from './pair.ts';

/** A metric that is worse treated, beyond what noise explains. */
export interface Worse {
  key: MetricKey;
  /** Median of the paired differences, treated less as is. */
  difference: number;
  /** "DOM ready comes 479 ms later". */
  words: string;
}

/** Less than this is worth no word: a frame, a visible shift, a packet, a few requests. */
const LEAST: Record<MetricInfo['unit'], number> = {
  ms: ONE_FRAME_MS,
  score: 0.005,
  bytes: 1_460,
  count: 3,
};

/** A smaller share of the bytes is what a treatment's own tags and files come to. */
const LEAST_BYTES_SHARE = 0.01;

/** These grow; other times come later. */
const GROWS = new Set<MetricKey>(['totalBlockingMs']);

/**
 * What got worse: the 95 % interval of the paired differences lies above zero, and their median is more than the
 * least that matters and more than the as-is runs scatter by themselves (median absolute deviation), so that
 * looking at a dozen metrics does not find one by chance.
 */
export function worseMetrics(pairs: readonly Pair[], headline: HeadlineKey): Worse[] {
  return METRICS.flatMap((info): Worse[] => {
    const { key } = info;
    // An empty first paint says nothing, so it cannot get worse.
    if (key === 'firstPaintMs' && headline !== 'firstPaintMs') return [];
    if (key === headline || key === 'speedIndexMs') return [];
    const both = pairs.flatMap(({ asIs, treated }) => {
      const [a, b] = [asIs[key], treated[key]];
      return typeof a === 'number' && typeof b === 'number' ? [{ a, b }] : [];
    });
    if (both.length < LEAST_PAIRS) return [];
    const differences = both.map(({ a, b }) => b - a);
    const difference = median(differences)!;
    const middle = median(both.map(({ a }) => a))!;
    const scatter = median(both.map(({ a }) => Math.abs(a - middle)))!;
    const [low] = signedRankInterval(differences);
    const least =
      info.unit === 'bytes' ? Math.max(LEAST.bytes, middle * LEAST_BYTES_SHARE) : LEAST[info.unit];
    if (low <= 0 || difference < least || difference <= scatter) return [];
    return [{ key, difference, words: wordsFor(info, difference) }];
  });
}

function wordsFor({ key, label, unit }: MetricInfo, difference: number): string {
  if (unit === 'bytes') return `${label.toLowerCase()} grow by ${bytes(difference)}`;
  if (unit === 'score') return `layout shift grows by ${difference.toFixed(3)}`;
  if (unit === 'count') return `${count(difference)} requests more are made`;
  if (key === 'wholeLoadBlockingMs') return `blocking over the whole load grows by ${ms(difference)}`;
  const name = key === 'domReadyMs' ? label : label.charAt(0).toLowerCase() + label.slice(1);
  if (key === 'visuallyCompleteMs') return `the picture is complete ${ms(difference)} later`;
  return GROWS.has(key) ? `${name} grows by ${ms(difference)}` : `${name} comes ${ms(difference)} later`;
}

/**
 * Total blocking time is counted from first contentful paint on, so it grows when a page paints earlier though the
 * main thread does no more. Where it and the blocking of the whole load go different ways, that is said.
 */
export function blockingApart(pairs: readonly Pair[]): string | null {
  const middle = (key: 'totalBlockingMs' | 'wholeLoadBlockingMs') =>
    median(
      pairs.flatMap(({ asIs, treated }) => {
        const [a, b] = [asIs[key], treated[key]];
        return typeof a === 'number' && typeof b === 'number' ? [b - a] : [];
      }),
    ) ?? 0;
  const [after, whole] = [middle('totalBlockingMs'), middle('wholeLoadBlockingMs')];
  if (Math.abs(after) < ONE_FRAME_MS || Math.abs(whole) < ONE_FRAME_MS || after > 0 === whole > 0)
    return null;
  return after > 0
    ? `Total blocking time grows because it is counted from first contentful paint, which comes earlier: over the whole load the main thread blocks ${ms(-whole)} less.`
    : `Total blocking time shrinks because it is counted from first contentful paint, which comes later: over the whole load the main thread blocks ${ms(whole)} more.`;
}
