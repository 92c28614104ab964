import type { Pair } from './pair.ts';
import { AS_IS, TREATED, type ArmId } from './arms.ts';
import type { VisitKind } from '../measure/visit.ts';
import { HEADLINE_NAMES, headlineOfArms, type HeadlineKey } from '../measure/headline.ts';
import { capital, ms } from '../path/words.ts';
import type { PageCheck } from '../checks/page-check.ts';
import { armName } from '../words/arms.ts';
import { thingsDone } from '../words/rehearsal.ts';
import { PLANNED, type Tails } from './looks.ts';
import {
  comparePairs,
  differencesOf,
  leastPairs,
  ONE_FRAME_MS,
  type PairedDifference,
} from './statistics.ts';
import { deviceName, holdsThere, otherDeviceWords, type OtherDevice } from './other-device.ts';
import { afterTouchWords, type AfterTouch } from './after-touch.ts';
import { firstPictureChange, type FirstPicture } from './first-picture.ts';
import { answeredLater, heldUpWords, laterWords, type TapCheck } from './tap-answers.ts';
import type { AtFault } from './at-fault.ts';
import { returnVisitWords, type ReturnVisits } from './return-visits.ts';
import { BREAK_KINDS, type Break, type BreakKind } from './breaks.ts';
import { blockingApart, otherMetrics, type Change } from './other-metrics.ts';

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
  /** Addresses that every treated load asks for twice, and no as-is one. */
  doubledRequests: string[];
  /** What loading the page with the plan in many orders of arrival has shown; null where that was not done. */
  rehearsal: RehearsalCheck | null;
  /** What it came to on the other kind of device; null where that was not tried. */
  otherDevice: OtherDevice | null;
  /** What a first touch came to in each arm; null where no load was touched. */
  afterTouch: Record<'asIs' | 'treated', AfterTouch> | null;
  /** What both arms show first and otherwise in the end; null where too few pairs tell it. */
  firstPicture: FirstPicture | null;
  /** Which rules the breaks come of, one for each way of breaking; none where nothing broke, or they were not looked for. */
  atFault: AtFault[];
  /** Taps on the page at rest, and how each arm answered them. */
  taps: TapCheck[];
  /** What it came to for who has been there before; null where that was not tried. */
  returning: ReturnVisits | null;
}

/** How many orders of arrival held of those there are, what is at fault, and what was done on the page as a visitor would. */
export interface RehearsalCheck {
  held: number;
  of: number;
  faults: string[];
  deeds: PageCheck[];
}

/** What a trial's words are about. */
export interface TrialNames {
  pageName: string;
  /** Whether the page was held against itself as it is; otherwise against another plan. */
  isAsIs: boolean;
  /** Which visit was timed. */
  visit: VisitKind;
}

/** What a trial comes to in a word. */
export type TrialVerdict =
  | 'earlier'
  | 'earlier, but it breaks'
  | 'earlier, but not on the other device'
  | 'later'
  | 'no clear difference'
  | 'too few runs to say'
  | 'withheld';

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
  worse: Change[];
  /** What else got better beyond its noise. */
  better: Change[];
  /** What broke: a new console error, a new failed request, a missing one. */
  breaks: Break[];
  /** What was tried that nothing can be said of: "on a phone, “Menu” tapped: it asks for …". */
  undecided: string[];
  /** How figures are to be read that seem to speak against each other. */
  notes: string[];
  /** What matters most, in one sentence. */
  sentence: string;
  /** What else is to be known, each in a sentence or two; the last says whether anything broke. */
  remarks: string[];
}

/** Final pictures that differ by more than this share withhold the Speed Index verdict. */
export const PICTURE_LIMIT = 0.005;

/**
 * Judges a trial's pairs and says in a sentence what came of it.
 *
 * @param tails by how its number of pairs was decided
 */
export function judge(
  pairs: readonly Pair[],
  checks: TrialChecks,
  named: TrialNames,
  tails: Tails = PLANNED,
): TrialResult {
  const [asIs, treated] = [pairs.map((pair) => pair.asIs), pairs.map((pair) => pair.treated)];
  const headline = headlineOfArms(asIs, treated);
  const paint = comparePairs(differencesOf(pairs, headline), tails.headlines);
  const speedIndex = comparePairs(differencesOf(pairs, 'speedIndexMs'), tails.headlines);
  const withheld = withheldOf(pairs.length, speedIndex, checks);
  const breaks = breaksOf(checks);
  const picture = firstPictureChange(checks.firstPicture);
  const others = otherMetrics(pairs, headline, tails.others);
  const judged: Judged = {
    verdict: verdictOf(paint, withheld.paint, breaks, checks.otherDevice),
    headline,
    emptyPaint: [
      { id: AS_IS, metrics: asIs },
      { id: TREATED, metrics: treated },
    ].flatMap(({ id, metrics }) => (headlineOfArms(metrics) === 'firstContentfulPaintMs' ? [id] : [])),
    paint,
    speedIndex,
    withheld,
    worse: picture?.kind === 'worse' ? [...others.worse, { words: picture.words }] : others.worse,
    better: picture?.kind === 'better' ? [...others.better, { words: picture.words }] : others.better,
    breaks,
    undecided: (checks.rehearsal?.deeds ?? []).flatMap(({ words, undecided }) =>
      undecided ? [`${words}: ${undecided}`] : [],
    ),
    notes: [
      blockingApart(pairs),
      checks.afterTouch && afterTouchWords(checks.afterTouch.asIs, checks.afterTouch.treated),
      heldUpWords(checks.taps),
      doubledWords(checks.doubledRequests),
    ].flatMap((note) => note ?? []),
  };
  const [sentence, ...remarks] = sentencesOf(judged, checks, named, tails);
  return { ...judged, sentence: sentence!, remarks };
}

/** All that is said of a trial. */
export function trialWords({ sentence, remarks }: TrialResult): string {
  return [sentence, ...remarks].join(' ');
}

type Judged = Omit<TrialResult, 'sentence' | 'remarks'>;

/** What can be let pass: "undecided" is what nothing can be said of, "other-device" what holds on one kind of device only. */
export const ALLOWANCES = [...BREAK_KINDS, 'undecided', 'other-device'] as const;
export type Allowance = (typeof ALLOWANCES)[number];

/** Whether the page paints earlier, and nothing broke or is undecided that is not allowed to. */
export function isProved(
  { result, checks: { otherDevice } }: { result: TrialResult; checks: Pick<TrialChecks, 'otherDevice'> },
  allowed: ReadonlySet<Allowance> = new Set(),
): boolean {
  const { paint, withheld, breaks, undecided } = result;
  return (
    paint.verdict === 'earlier' &&
    withheld.paint === null &&
    (otherDevice === null || holdsThere(otherDevice) || allowed.has('other-device')) &&
    breaks.every(({ kind }) => allowed.has(kind)) &&
    (undecided.length === 0 || allowed.has('undecided'))
  );
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
function breaksOf(checks: TrialChecks): Break[] {
  const { consoleErrors, failedRequests, missingRequests, rehearsal } = checks;
  const picture = firstPictureChange(checks.firstPicture);
  const added = consoleErrors.treated.filter((text) => !consoleErrors.asIs.includes(text)).length;
  const say = (kind: BreakKind, number: number, one: string, many: string): Break[] =>
    number === 0 ? [] : [{ kind, words: `${number} ${number === 1 ? one : many}` }];
  return [
    ...say('console', added, 'new console error', 'new console errors'),
    ...say(
      'failed-requests',
      failedRequests.length,
      'request that fails only treated',
      'requests that fail only treated',
    ),
    ...say(
      'missing-requests',
      missingRequests.length,
      'request that is no longer made',
      'requests that are no longer made',
    ),
    ...say(
      'rehearsal',
      rehearsal?.faults.length ?? 0,
      'fault that rehearsing found',
      'faults that rehearsing found',
    ),
    ...(picture?.kind === 'breaks' ? [{ kind: 'first-picture' as const, words: picture.words }] : []),
    ...answeredLater(checks.taps).map((tap) => ({ kind: 'late-answers' as const, words: laterWords(tap) })),
  ];
}

function verdictOf(
  paint: PairedDifference,
  withheld: string | null,
  breaks: readonly Break[],
  otherDevice: OtherDevice | null,
): TrialVerdict {
  if (paint.verdict === 'too few runs to say') return paint.verdict;
  if (withheld) return 'withheld';
  if (paint.verdict !== 'earlier') return paint.verdict;
  if (breaks.length) return 'earlier, but it breaks';
  return otherDevice && !holdsThere(otherDevice) ? 'earlier, but not on the other device' : paint.verdict;
}

/** The first says what matters most. */
function sentencesOf(
  judged: Judged,
  { rehearsal, otherDevice, returning }: TrialChecks,
  { pageName, isAsIs, visit }: TrialNames,
  tails: Tails,
): string[] {
  const { paint, speedIndex, withheld, breaks, headline, emptyPaint, better, notes } = judged;
  const broke = breaks.length
    ? `It breaks: ${listed(breaks.map(({ words }) => words))}. Look before you use it.`
    : '';
  if (paint.verdict === 'too few runs to say')
    return [
      `Too few runs to say: ${paint.pairs} complete ${paint.pairs === 1 ? 'pair' : 'pairs'}, ${leastPairs(tails.headlines)} are the least.`,
      broke,
    ].filter(Boolean);
  const shows = headline === 'firstPaintMs' ? 'paints' : 'shows its first content';
  const there = otherDevice && otherDeviceWords(otherDevice);
  const fails = otherDevice !== null && !holdsThere(otherDevice);
  const overPairs = `over ${paint.pairs} pairs${outcomeWords(judged, rehearsal, returning)}${fails ? `; on ${deviceName(otherDevice.conditions)} ${there}` : ''}`;
  const treated =
    visit === 'return'
      ? `On a return visit, ${pageName} ${isAsIs ? 'treated' : 'with this plan'}`
      : `${isAsIs ? 'Treated' : 'With this plan'}, ${pageName}`;
  const than = isAsIs ? '' : ' than with the other one';
  const first = withheld.paint
    ? `No verdict on ${HEADLINE_NAMES[headline]}: ${withheld.paint}.`
    : paint.verdict === 'no clear difference'
      ? `${treated} ${shows} with no clear difference${than && ' to the other one'}, ${overPairs}.`
      : `${treated} ${shows} ${said(paint)}${than}, ${overPairs}.`;
  const seen = paint.verdict === 'no clear difference' && !withheld.paint ? couldSee(paint) : '';
  const empty = emptyPaint.length
    ? `The first paint ${emptyPaint.length === 2 ? 'of both' : emptyPaint[0] === TREATED ? 'of the treated page' : armName(AS_IS, isAsIs)} shows nothing but a background, so first contentful paint is judged.`
    : '';
  const second = withheld.speedIndex
    ? `No verdict on Speed Index: ${withheld.speedIndex}.`
    : `Speed Index: ${said(speedIndex)}.`;
  const besides = better.length ? `Better besides: ${listed(better.map(({ words }) => words))}.` : '';
  const orders =
    rehearsal &&
    (rehearsal.held === rehearsal.of ? `${rehearsal.held}` : `${rehearsal.held} of ${rehearsal.of}`);
  const done = rehearsal?.deeds.filter((one) => one.undecided === null).length ?? 0;
  const rehearsed = rehearsal?.held
    ? `Rehearsed in ${orders} orders of arrival${done ? `, and with ${thingsDone(done)}` : ''}, it becomes what it is as authored.`
    : 'It was not rehearsed.';
  const again = returning?.paint.verdict === 'later' ? null : returning && returnVisitWords(returning);
  const last = broke || `No new console error, and no request fails or is missing. ${rehearsed}`;
  const alsoThere =
    there !== null && !fails
      ? `On ${deviceName(otherDevice!.conditions)}, with the same plan on the same bytes, ${there}, over ${otherDevice!.paint.pairs} pairs.`
      : '';
  const onReturn = again ? `${capital(again)}, over ${returning!.paint.pairs} pairs.` : '';
  return [first, seen, empty, second, besides, onReturn, alsoThere, ...notes, last].filter(Boolean);
}

/** Whether anything broke, and what got worse. */
function outcomeWords(
  { breaks, undecided, worse }: Judged,
  rehearsal: TrialChecks['rehearsal'],
  returning: ReturnVisits | null,
): string {
  const later = returning?.paint.verdict === 'later' ? (returnVisitWords(returning) ?? []) : [];
  const costs = listed([...worse.map((one) => one.words), ...[later].flat()]);
  if (breaks.length) return `, but it breaks${costs && ` and ${costs}`}`;
  const broke = !rehearsal?.held
    ? ''
    : undecided.length
      ? `, undecided whether anything broke in ${undecided.length} of ${rehearsal.deeds.length} things done on it`
      : ', and nothing broke';
  return `${broke}${costs && `, but ${costs}`}`;
}

/** What the plan asks for ahead and the page asks for all the same; null for nothing. */
function doubledWords(urls: readonly string[]): string | null {
  if (urls.length === 0) return null;
  return `Fetched twice: ${listed(urls)}. What the plan asks for ahead is not what the page then asks for: switch that rule off.`;
}

/** How small a difference would not have been missed: half the interval, and a frame at least. */
function couldSee({ low, high }: PairedDifference): string {
  if (low === null || high === null) return '';
  return `A difference of ${ms(Math.max(ONE_FRAME_MS, (high - low) / 2))} or more would have been seen.`;
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
