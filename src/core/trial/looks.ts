import { headlineOfArms } from '../measure/headline.ts';
import { median } from '../measure/metrics.ts';
import type { Pair } from './pair.ts';
import {
  comparePairs,
  differencesOf,
  leastPairs,
  ONE_FRAME_MS,
  type PairedDifference,
} from './statistics.ts';
import { otherMetrics } from './other-metrics.ts';

/** So many pairs, or as many as it takes until nothing is open any more. */
export type PairsWish = number | 'until clear';

/** After so many pairs a trial without a fixed number is looked at; at the last it ends whatever it has shown. */
export const LOOKS = [8, 12, 16, 24] as const;

/** How likely chance may be to go beyond an interval's end, at one look and on one side. */
export interface Tails {
  /** Of the paint that is judged, and of Speed Index. */
  headlines: number;
  /** Of each other metric. */
  others: number;
}

/** With a number of pairs that was fixed beforehand: 95 % intervals. */
export const PLANNED: Tails = { headlines: 0.025, others: 0.025 };

/**
 * With looks. Under no difference the signs of the differences are coin tosses, so what chance does at four looks in a
 * row can be counted by tossing them: with these tails the headline or Speed Index is called at any look in at most
 * 5 % of trials (2.3 % each), and any of the dozen other metrics in at most 5 % (0.4 % each). docs/method.md has the
 * figures; looks.test.ts tosses the coins again.
 */
export const AT_EACH_LOOK: Tails = { headlines: 0.0045, others: 0.0008 };

export function tailsOf(wish: PairsWish): Tails {
  return wish === 'until clear' ? AT_EACH_LOOK : PLANNED;
}

/** A smaller share of the paint is no difference that would decide anything. */
const NO_DIFFERENCE_SHARE = 0.02;

/** So many pairs are taken beyond the planned ones, for those without a Speed Index. */
const MOST_MORE_PAIRS = 2;

/**
 * How many pairs a trial takes, as far as can be told from those it has. One more is taken for each without a Speed
 * Index (its picture did not rest in time), so that as many as planned have one; where more lack it than could be made
 * up for, no more are taken. None is dropped, so that first paint is judged by all.
 */
export function pairsWanted(wish: PairsWish, taken: readonly Pair[]): number {
  if (wish !== 'until clear') return withIndex(wish, taken);
  for (const look of LOOKS) {
    const wanted = withIndex(look, taken);
    if (taken.length < wanted || (taken.length === wanted && isClear(taken))) return wanted;
  }
  return taken.length;
}

/** How a trial's number of pairs came about. */
export interface PairsEnd {
  /** After how many it was looked at, and something was still open. */
  open: number[];
  /** Why no more were taken: so many were asked for, nothing was open, there are no more looks, or its time was over. */
  because: 'asked' | 'clear' | 'last look' | 'time';
}

export function pairsEnd(wish: PairsWish, pairs: readonly Pair[]): PairsEnd {
  if (wish !== 'until clear') return { open: [], because: 'asked' };
  const open = LOOKS.map((look) => withIndex(look, pairs)).filter((wanted) => wanted < pairs.length);
  return {
    open,
    because: isClear(pairs) ? 'clear' : pairs.length < LOOKS.at(-1)! ? 'time' : 'last look',
  };
}

/** The least number of pairs, from the planned one on, of which as many as planned have a Speed Index. */
function withIndex(planned: number, taken: readonly Pair[]): number {
  for (let wanted = planned; ; wanted++) {
    const without = taken
      .slice(0, wanted)
      .filter(({ asIs, treated }) => asIs.speedIndexMs === null || treated.speedIndexMs === null).length;
    if (without > MOST_MORE_PAIRS) return planned;
    if (planned + without <= wanted) return wanted;
  }
}

/**
 * Whether a look leaves nothing open: the headline and Speed Index are each called, or surely differ by less than
 * 2 % (or a frame). Where another metric of an earlier page seems worse, and there are too few pairs to be sure of any
 * of them, that is open as well: what a plan costs is not to be hidden by ending soon.
 */
export function isClear(pairs: readonly Pair[]): boolean {
  const headline = headlineOfArms(
    pairs.map(({ asIs }) => asIs),
    pairs.map(({ treated }) => treated),
  );
  const compared = ([headline, 'speedIndexMs'] as const).map((key) => ({
    difference: comparePairs(differencesOf(pairs, key), AT_EACH_LOOK.headlines),
    asIsMs: median(pairs.flatMap(({ asIs }) => asIs[key] ?? [])) ?? 0,
  }));
  if (compared.some(isOpen)) return false;
  const costsCanBeTold = pairs.length >= leastPairs(AT_EACH_LOOK.others);
  if (compared[0]!.difference.verdict !== 'earlier' || costsCanBeTold) return true;
  return otherMetrics(pairs, headline, PLANNED.others).worse.length === 0;
}

/** One without pairs enough stays without: more of them were asked for already. */
function isOpen({ difference, asIsMs }: { difference: PairedDifference; asIsMs: number }): boolean {
  const { verdict, low, high } = difference;
  if (verdict !== 'no clear difference' || low === null || high === null) return false;
  const least = Math.max(ONE_FRAME_MS, NO_DIFFERENCE_SHARE * asIsMs);
  return low < -least || high > least;
}
