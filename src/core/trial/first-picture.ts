import { median } from '../measure/metrics.ts';
import { leastPairs, signedRankInterval } from './statistics.ts';

/** How much of what a page shows first it shows otherwise in the end, as shares of the screen, 0 to 1. */
export interface FirstPicture {
  /** Medians. */
  asIs: number;
  treated: number;
  /** Median of the paired differences, treated less as is. */
  difference: number;
  /** Whether chance explains it. */
  clear: boolean;
}

/** Less of the screen is worth no word: a line of text in another font. */
const LEAST = 0.05;
/** From here on visitors see another page first, which no gain makes up for. */
const BREAKS = 0.2;

/**
 * @param asIs of each pair, in their order
 * @param treated of each pair, in their order
 * @param tail how likely chance may be to go beyond one of the interval's ends
 */
export function firstPictureOf(
  asIs: readonly number[],
  treated: readonly number[],
  tail: number,
): FirstPicture | null {
  const differences = treated.map((one, index) => one - asIs[index]!);
  if (differences.length < leastPairs(tail)) return null;
  const [low, high] = signedRankInterval(differences, tail);
  return {
    asIs: median(asIs)!,
    treated: median(treated)!,
    difference: median(differences)!,
    clear: low > 0 || high < 0,
  };
}

/** What is to be said of it, and how grave it is; null for nothing. */
export function firstPictureChange(
  of: FirstPicture | null,
): { kind: 'breaks' | 'worse' | 'better'; words: string } | null {
  if (!of?.clear || Math.abs(of.difference) < LEAST) return null;
  const share = (part: number) => `${Math.round(part * 100)} %`;
  const more = of.difference > 0 ? 'more' : 'less';
  return {
    kind: of.difference >= BREAKS ? 'breaks' : of.difference > 0 ? 'worse' : 'better',
    words: `${more} of what it shows first is drawn otherwise in the end (${share(of.treated)} of the screen, as is ${share(of.asIs)})`,
  };
}
