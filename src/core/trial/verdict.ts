import type { Metrics } from '../measure/metrics.ts';
import { ms } from '../path/words.ts';
import { comparePairs, type PairedDifference } from './statistics.ts';

/** One complete pair of runs. */
export interface Pair {
  asIs: Metrics;
  treated: Metrics;
}

/** What is compared besides time: it may withhold a verdict. */
export interface TrialChecks {
  /** Share of pixels by which the final pictures differ, 0 to 1; null when they could not be compared. */
  finalPictureDiffers: number | null;
  consoleErrors: { asIs: string[]; treated: string[] };
  /** Requests of one arm that the archive had no exact answer for and the plan does not explain. */
  unexplainedRequests: string[];
}

export interface TrialResult {
  firstPaint: PairedDifference;
  speedIndex: PairedDifference;
  /** Why a verdict is withheld, where it is. */
  withheld: { firstPaint: string | null; speedIndex: string | null };
  sentence: string;
}

/** Final pictures that differ by more than this share withhold the Speed Index verdict. */
export const PICTURE_LIMIT = 0.005;

/** Judges a trial's pairs and says in a sentence what came of it. */
export function judge(pairs: readonly Pair[], checks: TrialChecks, pageName: string): TrialResult {
  const differences = (key: 'firstPaintMs' | 'speedIndexMs') =>
    pairs.flatMap(({ asIs, treated }) => {
      const a = asIs[key];
      const b = treated[key];
      return a === null || b === null ? [] : [b - a];
    });
  const firstPaint = comparePairs(differences('firstPaintMs'));
  const speedIndex = comparePairs(differences('speedIndexMs'));
  const picture = checks.finalPictureDiffers;
  const without = pairs.length - speedIndex.pairs;
  const requests = checks.unexplainedRequests.length
    ? `${checks.unexplainedRequests.length} requests had no exact answer in one arm only`
    : null;
  const withheld = {
    firstPaint: requests,
    speedIndex:
      requests ??
      (picture === null
        ? 'the final pictures could not be compared'
        : picture > PICTURE_LIMIT
          ? `the final pictures differ by ${(picture * 100).toFixed(1)} %`
          : without > 0 && speedIndex.verdict === 'too few runs to say'
            ? `${without} of ${pairs.length} pairs ${without === 1 ? 'has' : 'have'} none, as the picture did not rest or more than a tenth of it keeps moving`
            : null),
  };
  return {
    firstPaint,
    speedIndex,
    withheld,
    sentence: sentenceOf(firstPaint, speedIndex, withheld, checks, pageName),
  };
}

function sentenceOf(
  paint: PairedDifference,
  index: PairedDifference,
  withheld: TrialResult['withheld'],
  checks: TrialChecks,
  pageName: string,
): string {
  if (paint.verdict === 'too few runs to say') {
    return `Too few runs to say: ${paint.pairs} complete ${paint.pairs === 1 ? 'pair' : 'pairs'}, six are the least.`;
  }
  const say = (difference: PairedDifference) =>
    difference.verdict === 'earlier' || difference.verdict === 'later'
      ? `${ms(Math.abs(difference.differenceMs))} ${difference.verdict}`
      : difference.verdict;
  const first = withheld.firstPaint
    ? `No verdict on first paint: ${withheld.firstPaint}.`
    : paint.verdict === 'no clear difference'
      ? `Treated, ${pageName} paints with no clear difference in ${paint.pairs} pairs.`
      : `Treated, ${pageName} paints ${say(paint)}, over ${paint.pairs} pairs.`;
  const second = withheld.speedIndex
    ? `No verdict on Speed Index: ${withheld.speedIndex}.`
    : `Speed Index: ${say(index)}.`;
  const added = checks.consoleErrors.treated.filter(
    (text) => !checks.consoleErrors.asIs.includes(text),
  ).length;
  const broke =
    added === 0
      ? 'No new console error.'
      : `${added} new console ${added === 1 ? 'error' : 'errors'}: look before you use it.`;
  return `${first} ${second} ${broke}`;
}
