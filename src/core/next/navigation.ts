import { median } from '../measure/metrics.ts';
import { comparePairs, type PairedDifference } from '../trial/statistics.ts';

/** What one way from a page to its next one showed; times of the next page are from the press on its link, ms. */
export interface NavigationFigures {
  /** First contentful paint of the next page. */
  paintMs: number | null;
  largestMs: number | null;
  /** First contentful paint of the page that was left, from its own navigation start. */
  ownPaintMs: number | null;
  ownLargestMs: number | null;
}

/** Whether the next page was gone to with its own plan as well, or why not. */
export type NextPlan =
  | { state: 'tried' }
  | { state: 'none' }
  /** Both plans make another file of the same one. */
  | { state: 'differs'; url: string };

/** One way of each arm: nothing asked for ahead, what the plan asks for ahead, and that with the next page treated as well. */
export interface NavigationPair {
  without: NavigationFigures;
  ahead: NavigationFigures;
  /** Null where the next page has no plan that could be used. */
  both: NavigationFigures | null;
}

export interface NavigationResult {
  pairs: NavigationPair[];
  /** Medians of the next page's first contentful paint. */
  withoutMs: number | null;
  aheadMs: number | null;
  paint: PairedDifference;
  largest: PairedDifference;
  /** What it costs the page that is left. */
  ownPaint: PairedDifference;
  ownLargest: PairedDifference;
  /** With the next page's own plan besides, held against nothing of either; null where it has none that could be used. */
  both: { paintMs: number | null; paint: PairedDifference; largest: PairedDifference } | null;
  nextPlan: NextPlan;
}

/** As many ways of each arm are gone: two more than an interval needs. */
export const NAVIGATION_PAIRS = 8;

/** What ways to a next page come to. */
export function judgeNavigation(
  pairs: NavigationPair[],
  nextPlan: NextPlan = { state: 'none' },
): NavigationResult {
  const compared = (arm: 'ahead' | 'both', key: keyof NavigationFigures) =>
    comparePairs(
      pairs.flatMap((pair) => {
        const [a, b] = [pair.without[key], pair[arm]?.[key] ?? null];
        return a === null || b === null ? [] : [b - a];
      }),
    );
  const middle = (arm: keyof NavigationPair) => median(pairs.flatMap((one) => one[arm]?.paintMs ?? []));
  return {
    pairs,
    withoutMs: middle('without'),
    aheadMs: middle('ahead'),
    paint: compared('ahead', 'paintMs'),
    largest: compared('ahead', 'largestMs'),
    ownPaint: compared('ahead', 'ownPaintMs'),
    ownLargest: compared('ahead', 'ownLargestMs'),
    both: pairs.some(({ both }) => both)
      ? {
          paintMs: middle('both'),
          paint: compared('both', 'paintMs'),
          largest: compared('both', 'largestMs'),
        }
      : null,
    nextPlan,
  };
}
