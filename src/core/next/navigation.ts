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

/** One way of each arm: nothing asked for ahead, and what the plan asks for ahead. */
export interface NavigationPair {
  without: NavigationFigures;
  ahead: NavigationFigures;
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
}

/** As many ways of each arm are gone: two more than an interval needs. */
export const NAVIGATION_PAIRS = 8;

/** What ways to a next page come to. */
export function judgeNavigation(pairs: NavigationPair[]): NavigationResult {
  const compared = (key: keyof NavigationFigures) =>
    comparePairs(
      pairs.flatMap(({ without, ahead }) => {
        const [a, b] = [without[key], ahead[key]];
        return a === null || b === null ? [] : [b - a];
      }),
    );
  const middle = (arm: keyof NavigationPair) => median(pairs.flatMap((one) => one[arm].paintMs ?? []));
  return {
    pairs,
    withoutMs: middle('without'),
    aheadMs: middle('ahead'),
    paint: compared('paintMs'),
    largest: compared('largestMs'),
    ownPaint: compared('ownPaintMs'),
    ownLargest: compared('ownLargestMs'),
  };
}
