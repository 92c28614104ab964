import { median, summarise, type Metrics } from '../../core/measure/metrics.ts';
import type { VisitKind } from '../../core/measure/visit.ts';
import type { RunObservation } from '../../core/measure/run.ts';
import { broughtBy } from '../../core/path/brought-by.ts';
import { faultsOf } from '../../core/rehearse/rehearsal.ts';
import { AS_IS, TREATED, type ArmId } from '../../core/trial/arms.ts';
import type { WhatIsLeft } from '../../core/trial/what-is-left.ts';
import { doubledTreated, failedOnlyTreated, missingTreated } from '../../core/trial/requests.ts';
import { tailsOf } from '../../core/trial/looks.ts';
import type { FoundDeed } from '../../core/checks/deed.ts';
import { firstPictureOf } from '../../core/trial/first-picture.ts';
import { moreArmsOf, type ArmBeside } from '../../core/trial/more-arms.ts';
import type { TapCheck } from '../../core/trial/tap-answers.ts';
import { returnVisitsOf } from '../../core/trial/return-visits.ts';
import { judge, type TrialChecks, type TrialResult } from '../../core/trial/verdict.ts';
import type { Pair } from '../../core/trial/pair.ts';
import type { TreatedPage } from '../../core/treat/apply.ts';
import { comparePictures, drawDifference } from '../fold/pictures.ts';
import type { Round } from '../lab/rounds.ts';
import type { TimedLoad } from '../load/timed-load.ts';
import { billsOfPair } from './bills.ts';
import type { PageBeside, Trial, TrialArm, TrialRequest } from './trial.ts';

/** A load of each arm, side by side. */
export interface LoadPair {
  asIs: TimedLoad;
  treated: TimedLoad;
}

/** Whether an arm shows pictures from other files: what they differ in is quality, and no frame of it is the other arm's last. */
export function showsOtherFiles({ files }: Pick<TreatedPage, 'files'>): boolean {
  return files.some(({ mimeType }) => mimeType.startsWith('image/'));
}

/** The picture that an arm is complete with: the one that the page as is ends in, but where it shows that from other files. */
function completeWith(load: TimedLoad, asIs: TimedLoad, page: Pick<TreatedPage, 'files'>) {
  return (showsOtherFiles(page) ? load : asIs).frames.last;
}

/** What the arms that are judged showed in a round. */
export function pairOf(round: Round, visit: VisitKind): LoadPair {
  return { asIs: timedOf(round, AS_IS, visit), treated: timedOf(round, TREATED, visit) };
}

/** The load of a round's arm that is timed. */
function timedOf(round: Round, arm: ArmId, visit: VisitKind): TimedLoad {
  const { first, returning } = round.get(arm)!;
  return visit === 'return' ? returning! : first;
}

/** Metrics of an arm beside them, and how complete its picture is against the as-is final one. */
export function metricsBeside(
  round: Round,
  { id, page }: PageBeside,
  visit: VisitKind,
  windowMs: number,
): Metrics {
  const load = timedOf(round, id, visit);
  const { frames, observation } = load;
  const points = frames.completenessAgainst(completeWith(load, timedOf(round, AS_IS, visit), page));
  const speedIndexMs = points.length ? frames.speedIndex(points, windowMs) : null;
  return { ...observation.metrics, speedIndexMs };
}

/** Metrics of both arms' second loads; none where only one visit was made. */
export function returningPair(round: Round): Pair[] {
  const of = (arm: ArmId) => round.get(arm)!.returning?.observation.metrics;
  const [asIs, treated] = [of(AS_IS), of(TREATED)];
  return asIs && treated ? [{ asIs, treated }] : [];
}

/** Metrics of a pair of loads: completeness of both arms is taken against the as-is final picture, but where a plan shows that from other files. */
export function comparedPair({ asIs, treated }: LoadPair, page: TreatedPage, windowMs: number): Pair {
  const points = treated.frames.completenessAgainst(completeWith(treated, asIs, page));
  // Without one of its own, for whatever reason, it has none against the other arm's final picture either.
  const own = treated.observation.metrics.speedIndexMs;
  const index = own === null || !points.length ? null : treated.frames.speedIndex(points, windowMs);
  return {
    asIs: asIs.observation.metrics,
    treated: { ...treated.observation.metrics, speedIndexMs: index },
  };
}

/** Pairs that were held under conditions, and what they were held with. */
export interface Held {
  runs: readonly LoadPair[];
  pairs: readonly Pair[];
  /** The second loads of some of them. */
  returning: readonly Pair[];
  /** What was tapped in both arms. */
  taps: TapCheck[];
  /** What can be done on the page as is. */
  possible: readonly FoundDeed[];
  /** Of each further arm its metrics of each round. */
  beside: Omit<ArmBeside, 'spreads'>[];
  /** The loads before the pairs, which rest and give the final pictures. */
  warm: LoadPair;
  setting: Pick<Trial, 'windowMs' | 'seed' | 'order' | 'yardstick' | 'quality'>;
}

/** Where final pictures are blurred before they are held to each other: where either shows an image from other files. */
function softOf({ warm: { asIs, treated } }: Held) {
  return [...asIs.lighter, ...treated.lighter];
}

function finalPictures({ warm: { asIs, treated } }: Held) {
  const [before, after] = [asIs.observation.finalPicture, treated.observation.finalPicture];
  return before && after ? ([before, after] as const) : null;
}

/** What is compared of them besides time. */
export async function checksOf(request: TrialRequest, held: Held): Promise<TrialChecks> {
  const { runs, warm } = held;
  const both = finalPictures(held);
  const loads = {
    asIs: [warm.asIs, ...runs.map((run) => run.asIs)],
    treated: [warm.treated, ...runs.map((run) => run.treated)],
  };
  return {
    finalPictureDiffers: both && (await comparePictures(...both, { soft: softOf(held) })).share,
    consoleErrors: { asIs: errorsOf(loads.asIs), treated: errorsOf(loads.treated) },
    unexplainedRequests: unexplained(loads.asIs, loads.treated),
    failedRequests: failedOnlyTreated(askedIn(loads.asIs), askedIn(loads.treated)),
    // What only a touch brings about was asked for in one as-is load alone: too few to miss it by.
    missingRequests: missingTreated(askedIn(runs.map((run) => run.asIs)), askedIn(loads.treated), [
      ...takenOutBy(request.treated, loads.asIs),
      ...newIn(request.asIs),
    ]),
    doubledRequests: doubledTreated(
      askedIn(runs.map((run) => run.asIs)),
      askedIn(runs.map((run) => run.treated)),
    ),
    rehearsal: request.rehearsal && {
      held: request.rehearsal.held,
      of: request.rehearsal.held + request.rehearsal.left.length,
      faults: faultsOf(request.rehearsal),
      deeds: request.rehearsal.deeds,
    },
    otherDevice: null,
    atFault: [],
    firstPicture: firstPictureOf(
      runs.map((run) => run.asIs.redrawn),
      runs.map((run) => run.treated.redrawn),
      tailsOf(request.pairs).others,
    ),
    taps: held.taps,
    returning: returnVisitsOf(held.returning),
    // The loads that are touched are first visits.
    afterTouch:
      request.visit === 'first' && warm.asIs.afterTouch && warm.treated.afterTouch
        ? { asIs: warm.asIs.afterTouch, treated: warm.treated.afterTouch }
        : null,
  };
}

/** Puts together what a trial came to. @param checks all that was compared besides time */
export async function concludeTrial(request: TrialRequest, held: Held, checks: TrialChecks): Promise<Trial> {
  const { runs, pairs, warm, setting } = held;
  const both = finalPictures(held);
  const result = judge(pairs, checks, request, tailsOf(request.pairs));
  const shownPair = medianPair(pairs, result.headline);
  const arm = (id: ArmId, key: 'asIs' | 'treated', finalPicture: Uint8Array | null): TrialArm => {
    const metrics = pairs.map((pair) => pair[key]);
    const shown = runs[shownPair];
    const load = shown?.[key];
    return {
      id,
      metrics,
      spreads: summarise(metrics),
      frames:
        load && shown
          ? load.frames.asFrames(
              load.frames.completenessAgainst(completeWith(load, shown.asIs, request[key])),
            )
          : [],
      finalPicture,
      consoleErrors: checks.consoleErrors[key],
    };
  };
  const shown = runs[shownPair];
  const observed = shown && { asIs: shown.asIs.observation, treated: shown.treated.observation };
  return {
    takenAt: new Date().toISOString(),
    conditions: request.conditions,
    visit: request.visit,
    arms: [
      arm(AS_IS, 'asIs', warm.asIs.observation.finalPicture),
      arm(TREATED, 'treated', warm.treated.observation.finalPicture),
    ],
    shownPair,
    wish: request.pairs,
    result,
    checks,
    moreArms: moreArmsOf(
      [
        { id: AS_IS, metrics: pairs.map((pair) => pair.asIs) },
        { id: TREATED, metrics: pairs.map((pair) => pair.treated) },
      ],
      held.beside,
      request.pairs,
    ),
    left: observed && request.billed ? leftOf(request.billed, observed, result.headline) : null,
    pictureDifference: both && (await drawDifference(...both, { soft: softOf(held) })),
    ...setting,
  };
}

/** What is left of the shown pair's paint; a bill that cannot be read must not cost a trial that was held. */
function leftOf(...asked: Parameters<typeof billsOfPair>): WhatIsLeft | null {
  try {
    return billsOfPair(...asked);
  } catch {
    return null;
  }
}

/** The pair whose difference is nearest to the median of all. */
function medianPair(pairs: readonly Pair[], headline: TrialResult['headline']): number {
  const differences = pairs.map(
    ({ asIs, treated }) => (treated[headline] ?? Infinity) - (asIs[headline] ?? 0),
  );
  const middle = median(differences.filter(Number.isFinite)) ?? 0;
  const off = differences.map((one) => Math.abs(one - middle));
  return off.indexOf(Math.min(...off));
}

/** Files that only the other plan needs are not missed. */
function newIn({ files }: TreatedPage): string[] {
  return files.flatMap(({ url, isNew }) => (isNew ? [url] : []));
}

/** What rules take out, with all that it made the page ask for. */
export function takenOutBy({ takenOut }: TreatedPage, asIs: readonly TimedLoad[]): string[] {
  const requests = asIs.flatMap(({ observation }) => observation.requests);
  return [...new Set(takenOut.flatMap((url) => [url, ...broughtBy(requests, url)]))];
}

export function askedIn(loads: readonly TimedLoad[]) {
  return loads.map(({ asked }) => asked);
}

export function errorsOf(loads: readonly TimedLoad[]): string[] {
  return [
    ...new Set(
      loads.flatMap(({ observation }) =>
        observation.console.filter((one) => one.level === 'error').map((one) => one.text),
      ),
    ),
  ];
}

/** Requests without an exact answer in one arm only. */
function unexplained(asIs: readonly TimedLoad[], treated: readonly TimedLoad[]): string[] {
  const notes = (loads: readonly TimedLoad[]) =>
    new Set(
      loads.flatMap(({ observation }: { observation: RunObservation }) =>
        observation.replayNotes.map((one) => one.url),
      ),
    );
  const [first, second] = [notes(asIs), notes(treated)];
  return [...new Set([...first, ...second])].filter((url) => first.has(url) !== second.has(url));
}
