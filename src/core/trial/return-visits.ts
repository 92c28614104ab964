import { headlineOfArms, type HeadlineKey } from '../measure/headline.ts';
import { median } from '../measure/metrics.ts';
import { ms } from '../path/words.ts';
import type { Pair } from './pair.ts';
import { comparePairs, differencesOf, type PairedDifference } from './statistics.ts';

/** What a plan comes to for who has been there before: what stands in the page itself no cache keeps. */
export interface ReturnVisits {
  headline: HeadlineKey;
  /** Medians of the headline, ms. */
  asIsMs: number | null;
  treatedMs: number | null;
  paint: PairedDifference;
}

/** So many of a trial's pairs are gone back to: as few as an interval can be given for. */
export const RETURN_PAIRS = 6;

/** @param pairs the second loads of both arms, each with what the first one left in its cache */
export function returnVisitsOf(pairs: readonly Pair[]): ReturnVisits | null {
  if (pairs.length === 0) return null;
  const [asIs, treated] = [pairs.map((pair) => pair.asIs), pairs.map((pair) => pair.treated)];
  const headline = headlineOfArms(asIs, treated);
  const middle = (arm: typeof asIs) => median(arm.flatMap((metrics) => metrics[headline] ?? []));
  return {
    headline,
    asIsMs: middle(asIs),
    treatedMs: middle(treated),
    paint: comparePairs(differencesOf(pairs, headline)),
  };
}

/** "on a return visit it paints 120 ms later"; null where nothing can be said. */
export function returnVisitWords({ headline, paint }: ReturnVisits): string | null {
  if (paint.verdict === 'too few runs to say') return null;
  const shows = headline === 'firstPaintMs' ? 'it paints' : 'it shows its first content';
  return paint.verdict === 'no clear difference'
    ? `on a return visit ${shows} with no clear difference`
    : `on a return visit ${shows} ${ms(Math.abs(paint.differenceMs))} ${paint.verdict}`;
}
