import type { Pair } from './pair.ts';
import { AS_IS, TREATED, type ArmId } from './arms.ts';
import { HEADLINE_NAMES, headlineOfArms, type HeadlineKey } from '../measure/headline.ts';
import { ms } from '../path/words.ts';
import { comparePairs, type PairedDifference } from './statistics.ts';
import { blockingApart, worseMetrics, type Worse } from './worse.ts';

/** What is compared besides time: it may withhold a verdict, or say that the treated page breaks. */
export interface TrialChecks {
  /** Share of pixels by which the final pictures differ, 0 to 1; null when they could not be compared. */
  finalPictureDiffers: number | null;
  consoleErrors: { asIs: string[]; treated: string[] };
  /** Requests of one arm that the archive had no exact answer for and the plan does not explain. */
  unexplainedRequests: string[];
  /** Requests that fail in the treated arm only. */
  failedRequests: string[];
  /** Requests that every as-is load makes and no treated one, though no rule takes them out. */
  missingRequests: string[];
  /** What loading the page with the plan in many orders of arrival has shown; null where that was not done. */
  rehearsal: { held: number; of: number; faults: string[] } | null;
}

/** What a trial comes to in a word. */
export type TrialVerdict =
  'earlier' | 'earlier, but it breaks' | 'later' | 'no clear difference' | 'too few runs to say' | 'withheld';

export interface TrialResult {
  verdict: TrialVerdict;
  /** The paint that is judged: the same for both arms. */
  headline: HeadlineKey;
  /** Arms whose first paint shows nothing but a background. */
  emptyPaint: ArmId[];
  paint: PairedDifference;
  speedIndex: PairedDifference;
  /** Why a verdict is withheld, where it is. */
  withheld: { paint: string | null; speedIndex: string | null };
  /** What got worse beyond its noise. */
  worse: Worse[];
  /** What broke, each in words: a new console error, a new failed request, a missing one. */
  breaks: string[];
  /** How figures are to be read that seem to speak against each other. */
  notes: string[];
  sentence: string;
}

/** Final pictures that differ by more than this share withhold the Speed Index verdict. */
export const PICTURE_LIMIT = 0.005;

/** Judges a trial's pairs and says in a sentence what came of it. */
export function judge(pairs: readonly Pair[], checks: TrialChecks, pageName: string): TrialResult {
  const [asIs, treated] = [pairs.map((pair) => pair.asIs), pairs.map((pair) => pair.treated)];
  const headline = headlineOfArms(asIs, treated);
  const differences = (key: HeadlineKey | 'speedIndexMs') =>
    pairs.flatMap(({ asIs, treated }) => {
      const a = asIs[key];
      const b = treated[key];
      return a === null || b === null ? [] : [b - a];
    });
  const paint = comparePairs(differences(headline));
  const speedIndex = comparePairs(differences('speedIndexMs'));
  const withheld = withheldOf(pairs.length, speedIndex, checks);
  const breaks = breaksOf(checks);
  const judged: Omit<TrialResult, 'sentence'> = {
    verdict: verdictOf(paint, withheld.paint, breaks),
    headline,
    emptyPaint: [
      { id: AS_IS, metrics: asIs },
      { id: TREATED, metrics: treated },
    ].flatMap(({ id, metrics }) => (headlineOfArms(metrics) === 'firstContentfulPaintMs' ? [id] : [])),
    paint,
    speedIndex,
    withheld,
    worse: worseMetrics(pairs, headline),
    breaks,
    notes: [blockingApart(pairs)].flatMap((note) => note ?? []),
  };
  return { ...judged, sentence: sentenceOf(judged, checks, pageName) };
}

function withheldOf(
  pairs: number,
  speedIndex: PairedDifference,
  { finalPictureDiffers: picture, unexplainedRequests }: TrialChecks,
): TrialResult['withheld'] {
  const requests = unexplainedRequests.length
    ? `${unexplainedRequests.length} ${unexplainedRequests.length === 1 ? 'request' : 'requests'} had no exact answer in one arm only`
    : null;
  const without = pairs - speedIndex.pairs;
  const ofIndex =
    picture === null
      ? 'the final pictures could not be compared'
      : picture > PICTURE_LIMIT
        ? `the final pictures differ by ${(picture * 100).toFixed(1)} %`
        : without > 0 && speedIndex.verdict === 'too few runs to say'
          ? `${without} of ${pairs} pairs ${without === 1 ? 'has' : 'have'} none, as the picture did not rest or more than a tenth of it keeps moving`
          : null;
  return { paint: requests, speedIndex: requests ?? ofIndex };
}

/** What the treated page does worse than slower: each is a reason not to use it. */
function breaksOf({ consoleErrors, failedRequests, missingRequests, rehearsal }: TrialChecks): string[] {
  const added = consoleErrors.treated.filter((text) => !consoleErrors.asIs.includes(text)).length;
  const say = (number: number, one: string, many: string) =>
    number === 0 ? [] : [`${number} ${number === 1 ? one : many}`];
  return [
    ...say(added, 'new console error', 'new console errors'),
    ...say(failedRequests.length, 'request that fails only treated', 'requests that fail only treated'),
    ...say(missingRequests.length, 'request that is no longer made', 'requests that are no longer made'),
    ...say(rehearsal?.faults.length ?? 0, 'fault that rehearsing found', 'faults that rehearsing found'),
  ];
}

function verdictOf(
  paint: PairedDifference,
  withheld: string | null,
  breaks: readonly string[],
): TrialVerdict {
  if (paint.verdict === 'too few runs to say') return paint.verdict;
  if (withheld) return 'withheld';
  return paint.verdict === 'earlier' && breaks.length ? 'earlier, but it breaks' : paint.verdict;
}

function sentenceOf(
  { paint, speedIndex, withheld, worse, breaks, headline, emptyPaint, notes }: Omit<TrialResult, 'sentence'>,
  { rehearsal }: TrialChecks,
  pageName: string,
): string {
  const broke = breaks.length ? `It breaks: ${listed(breaks)}. Look before you use it.` : '';
  if (paint.verdict === 'too few runs to say')
    return `Too few runs to say: ${paint.pairs} complete ${paint.pairs === 1 ? 'pair' : 'pairs'}, six are the least.${broke ? ` ${broke}` : ''}`;
  const shows = headline === 'firstPaintMs' ? 'paints' : 'shows its first content';
  const costs = worse.length ? `, but ${listed(worse.map((one) => one.words))}` : '';
  const overPairs = `over ${paint.pairs} pairs`;
  const first = withheld.paint
    ? `No verdict on ${HEADLINE_NAMES[headline]}: ${withheld.paint}.`
    : paint.verdict === 'no clear difference'
      ? `Treated, ${pageName} ${shows} with no clear difference, ${overPairs}${costs}.`
      : `Treated, ${pageName} ${shows} ${said(paint)}, ${overPairs}${breaks.length && paint.verdict === 'earlier' ? `, but it breaks${costs.replace(', but', ' and')}` : costs}.`;
  const empty = emptyPaint.length
    ? `The first paint ${emptyPaint.length === 2 ? 'of both' : emptyPaint[0] === TREATED ? 'of the treated page' : 'as is'} shows nothing but a background, so first contentful paint is judged.`
    : '';
  const second = withheld.speedIndex
    ? `No verdict on Speed Index: ${withheld.speedIndex}.`
    : `Speed Index: ${said(speedIndex)}.`;
  const orders =
    rehearsal &&
    (rehearsal.held === rehearsal.of ? `${rehearsal.held}` : `${rehearsal.held} of ${rehearsal.of}`);
  const rehearsed = rehearsal?.held
    ? `Rehearsed in ${orders} orders of arrival, it becomes what it is as authored.`
    : 'It was not rehearsed.';
  const last = broke || `No new console error, and no request fails or is missing. ${rehearsed}`;
  return [first, empty, second, ...notes, last].filter(Boolean).join(' ');
}

function said(difference: PairedDifference): string {
  return difference.verdict === 'earlier' || difference.verdict === 'later'
    ? `${ms(Math.abs(difference.differenceMs))} ${difference.verdict}`
    : difference.verdict;
}

/** "a", "a and b", "a, b and c". */
function listed(parts: readonly string[]): string {
  return parts.length < 2 ? (parts[0] ?? '') : `${parts.slice(0, -1).join(', ')} and ${parts.at(-1)}`;
}
