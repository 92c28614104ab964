import { median, METRICS, type MetricInfo, type MetricKey } from '../measure/metrics.ts';
import type { HeadlineKey } from '../measure/headline.ts';
import { bytes, count, ms } from '../path/words.ts';
import { differencesOf, leastPairs, ONE_FRAME_MS, signedRankInterval } from './statistics.ts';
import type { Pair } from './pair.ts';

/** Something that is other treated, in words. */
export interface Change {
  /** The metric that tells it; none where no table of them does. */
  key?: MetricKey;
  /** "DOM ready comes 479 ms later". */
  words: string;
}

/** A metric that is other treated, beyond what noise explains. */
export interface MetricChange extends Change {
  key: MetricKey;
  /** Median of the paired differences, treated less as is. */
  difference: number;
}

export interface OtherMetrics {
  worse: MetricChange[];
  better: MetricChange[];
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

/**
 * Less of some may only come later, once a visitor does something, when the trial looks no longer; and the other of the
 * first paints says what the one that is judged says.
 */
const NO_GAIN_OF_ITS_OWN = new Set<MetricKey>([
  'requests',
  'wireBytes',
  'totalBlockingMs',
  'wholeLoadBlockingMs',
  'firstPaintMs',
  'firstContentfulPaintMs',
]);

/**
 * What got worse or better besides what is judged: the interval of the paired differences lies on one side of zero,
 * and their median is more than the least that matters and more than the as-is runs scatter by themselves (median
 * absolute deviation), so that looking at a dozen metrics does not find one by chance.
 *
 * @param tail how likely chance may be to go beyond one of the interval's ends
 */
export function otherMetrics(pairs: readonly Pair[], headline: HeadlineKey, tail?: number): OtherMetrics {
  const changes = METRICS.filter(({ key }) => {
    // An empty first paint says nothing, so it cannot get worse.
    if (key === 'firstPaintMs' && headline !== 'firstPaintMs') return false;
    return key !== headline && key !== 'speedIndexMs';
  }).flatMap((info) => changeOf(info, pairs, tail) ?? []);
  return {
    worse: changes.filter(({ difference }) => difference > 0),
    better: changes.filter(({ key, difference }) => difference < 0 && !NO_GAIN_OF_ITS_OWN.has(key)),
  };
}

function changeOf(info: MetricInfo, pairs: readonly Pair[], tail?: number): MetricChange | null {
  const { key, unit } = info;
  const differences = differencesOf(pairs, key);
  if (differences.length < leastPairs(tail)) return null;
  const difference = median(differences)!;
  const asIs = pairs.flatMap((pair) => pair.asIs[key] ?? []);
  const middle = median(asIs)!;
  const scatter = median(asIs.map((one) => Math.abs(one - middle)))!;
  const [low, high] = signedRankInterval(differences, tail);
  const least = unit === 'bytes' ? Math.max(LEAST.bytes, middle * LEAST_BYTES_SHARE) : LEAST[unit];
  if (low <= 0 && high >= 0) return null;
  if (Math.abs(difference) < least || Math.abs(difference) <= scatter) return null;
  return { key, difference, words: wordsFor(info, difference) };
}

function wordsFor({ key, label, unit }: MetricInfo, difference: number): string {
  if (unit === 'bytes') return `${label.toLowerCase()} grow by ${bytes(difference)}`;
  if (unit === 'count') return `${count(difference)} requests more are made`;
  if (key === 'wholeLoadBlockingMs') return `blocking over the whole load grows by ${ms(difference)}`;
  const [much, grows, comes] = [
    Math.abs(difference),
    difference > 0 ? 'grows' : 'shrinks',
    difference > 0 ? 'later' : 'earlier',
  ];
  if (unit === 'score') return `layout shift ${grows} by ${much.toFixed(3)}`;
  const name = key === 'domReadyMs' ? label : label.charAt(0).toLowerCase() + label.slice(1);
  if (key === 'totalBlockingMs') return `${name} grows by ${ms(much)}`;
  if (key === 'visuallyCompleteMs') return `the picture is complete ${ms(much)} ${comes}`;
  return `${name} comes ${ms(much)} ${comes}`;
}

/**
 * Total blocking time is counted from first contentful paint on, so it grows when a page paints earlier though the
 * main thread does no more. Where it and the blocking of the whole load go different ways, that is said.
 */
export function blockingApart(pairs: readonly Pair[]): string | null {
  const middle = (key: 'totalBlockingMs' | 'wholeLoadBlockingMs') => median(differencesOf(pairs, key)) ?? 0;
  const [after, whole] = [middle('totalBlockingMs'), middle('wholeLoadBlockingMs')];
  if (Math.abs(after) < ONE_FRAME_MS || Math.abs(whole) < ONE_FRAME_MS || after > 0 === whole > 0)
    return null;
  return after > 0
    ? `Total blocking time grows because it is counted from first contentful paint, which comes earlier: over the whole load the main thread blocks ${ms(-whole)} less.`
    : `Total blocking time shrinks because it is counted from first contentful paint, which comes later: over the whole load the main thread blocks ${ms(whole)} more.`;
}
