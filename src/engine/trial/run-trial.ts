import type { Bodies, Capture } from '../../core/measure/exchange.ts';
import type { Conditions } from '../../core/measure/conditions.ts';
import { median, summarise, type Metrics, type MetricSpreads } from '../../core/measure/metrics.ts';
import { rejectionOf } from '../../core/measure/quality.ts';
import type { Frame, RunObservation } from '../../core/measure/run.ts';
import type { VisitState } from '../../core/measure/visit.ts';
import { slowdownRate, type Yardstick } from '../../core/measure/yardstick.ts';
import { armOrder, MOST_MORE_PAIRS, pairsWanted } from '../../core/trial/order.ts';
import { broughtBy } from '../../core/path/brought-by.ts';
import { failedOnlyTreated, missingTreated } from '../../core/trial/requests.ts';
import { judge, type Pair, type TrialChecks, type TrialResult } from '../../core/trial/verdict.ts';
import type { TreatedPage } from '../../core/treat/apply.ts';
import type { LoadLimits } from '../chromium/visit.ts';
import { stopIfCancelled } from '../errors.ts';
import { comparePictures, drawDifference } from '../fold/pictures.ts';
import { timedLoad, type TimedLoad } from '../load/timed-load.ts';
import { repeatsPerRun } from '../load/repeats.ts';
import { takeYardstick } from '../load/yardstick.ts';
import { Replay } from '../replay/replay-client.ts';
import { overridesOf } from '../treat-page.ts';

export interface TrialRequest {
  capture: Capture;
  bodies: Bodies;
  state: VisitState | null;
  yardstick: Yardstick | null;
  /** The page with an empty plan: it takes the same way as the treated one. */
  asIs: TreatedPage;
  treated: TreatedPage;
  conditions: Conditions;
  pairs: number;
  pageName: string;
  seed?: number;
  limits?: LoadLimits;
  onProgress?: (step: string, done: number, of: number) => void;
  signal?: AbortSignal;
}

export interface TrialArm {
  name: 'as is' | 'treated';
  metrics: Metrics[];
  spreads: MetricSpreads;
  /** Those of the shown pair. */
  frames: Frame[];
  finalPicture: Uint8Array | null;
  consoleErrors: string[];
}

export interface Trial {
  takenAt: string;
  conditions: Conditions;
  arms: [TrialArm, TrialArm];
  /** Which pair's frames and curves are shown: the one whose difference is the median. */
  shownPair: number;
  result: TrialResult;
  checks: TrialChecks;
  pictureDifference: Uint8Array | null;
  windowMs: number;
  seed: number;
  order: ReturnType<typeof armOrder>;
  yardstick: Yardstick;
  /** Why pairs were made again, and whether some had to be kept although the rule rejects them. */
  quality: { rejected: string[]; tooBusy: boolean };
}

/** Longer than the slower arm takes to rest, so that both are watched for the same time. */
const WINDOW_MARGIN_MS = 500;

/**
 * Runs a trial: both arms once to warm up (discarded; they give the window's length and the final pictures),
 * then pairs, the order within each drawn at random.
 */
export async function runTrial(request: TrialRequest): Promise<Trial> {
  const { capture, conditions, signal } = request;
  const say = request.onProgress ?? (() => undefined);
  const seed = request.seed ?? Math.floor(Math.random() * 2 ** 31) + 1;
  const order = armOrder(request.pairs + MOST_MORE_PAIRS, seed);
  const replay = await Replay.start({
    capture,
    bodies: request.bodies,
    arms: [
      { name: 'as is', overrides: overridesOf(capture, request.asIs) },
      { name: 'treated', overrides: overridesOf(capture, request.treated) },
    ],
    conditions,
  });
  try {
    const chromium = await replay.launchBrowser();
    try {
      const yardstick = await takeYardstick(chromium.browser, request.yardstick, signal);
      const load = async (arm: 'as is' | 'treated', windowMs: number | null) => {
        const { first } = await timedLoad({
          browser: chromium.browser,
          replay,
          arm,
          url: capture.url,
          documentUrl: capture.documentUrl,
          conditions,
          cpuRate: slowdownRate(conditions.cpuSlowdown, yardstick),
          clock: capture.clock,
          state: request.state,
          windowMs,
          wantFinalPicture: windowMs === null,
          wantReturnVisit: false,
          ...(request.limits ? { limits: request.limits } : {}),
          ...(signal ? { signal } : {}),
        });
        return first;
      };
      const steps = request.pairs * 2 + 2;
      say('Warming up: as is', 0, steps);
      const warmAsIs = await load('as is', null);
      say('Warming up: treated', 1, steps);
      const warmTreated = await load('treated', null);
      const windowMs =
        Math.max(warmAsIs.observation.windowMs, warmTreated.observation.windowMs) + WINDOW_MARGIN_MS;

      const pairs: { asIs: TimedLoad; treated: TimedLoad }[] = [];
      const rejected: string[] = [];
      let tooBusy = false;
      while (pairs.length < pairsWanted(request.pairs, comparedPairs(pairs, windowMs))) {
        stopIfCancelled(signal);
        const index = pairs.length;
        const arms =
          order[index] === 'as-is-first' ? (['as is', 'treated'] as const) : (['treated', 'as is'] as const);
        const pair: Partial<Record<'as is' | 'treated', TimedLoad>> = {};
        for (const [turn, arm] of arms.entries()) {
          const again = rejected.length ? `, ${rejected.length} made again` : '';
          const step = Math.min(2 + index * 2 + turn, steps - 1);
          say(`Pair ${index + 1} of ${Math.max(index + 1, request.pairs)}${again}: ${arm}`, step, steps);
          pair[arm] = await load(arm, windowMs);
        }
        // A rejected run takes its pair with it; the rule sees the circumstances only.
        const why = arms.map((arm) => rejectionOf(pair[arm]!.observation.circumstances)).find(Boolean);
        if (why && rejected.length < request.pairs * repeatsPerRun()) rejected.push(why);
        else {
          tooBusy ||= why !== undefined;
          pairs.push({ asIs: pair['as is']!, treated: pair.treated! });
        }
      }
      const quality = { rejected, tooBusy };
      return await conclude(
        request,
        pairs,
        { warmAsIs, warmTreated },
        { windowMs, seed, order: order.slice(0, pairs.length), yardstick, quality },
      );
    } finally {
      await chromium.close();
    }
  } finally {
    await replay.close();
  }
}

/** Metrics of pairs of loads: completeness of both arms is taken against the as-is final picture of their pair. */
function comparedPairs(runs: readonly { asIs: TimedLoad; treated: TimedLoad }[], windowMs: number): Pair[] {
  return runs.map(({ asIs, treated }) => {
    const points = treated.frames.completenessAgainst(asIs.frames.last);
    // Without one of its own, for whatever reason, it has none against the other arm's final picture either.
    const own = treated.observation.metrics.speedIndexMs;
    const index = own === null || !points.length ? null : treated.frames.speedIndex(points, windowMs);
    return {
      asIs: asIs.observation.metrics,
      treated: { ...treated.observation.metrics, speedIndexMs: index },
    };
  });
}

async function conclude(
  request: TrialRequest,
  runs: readonly { asIs: TimedLoad; treated: TimedLoad }[],
  warm: { warmAsIs: TimedLoad; warmTreated: TimedLoad },
  setting: Pick<Trial, 'windowMs' | 'seed' | 'order' | 'yardstick' | 'quality'>,
): Promise<Trial> {
  const pairs = comparedPairs(runs, setting.windowMs);
  const [pictureAsIs, pictureTreated] = [
    warm.warmAsIs.observation.finalPicture,
    warm.warmTreated.observation.finalPicture,
  ];
  const both = pictureAsIs && pictureTreated ? ([pictureAsIs, pictureTreated] as const) : null;
  const loads = {
    asIs: [warm.warmAsIs, ...runs.map((run) => run.asIs)],
    treated: [warm.warmTreated, ...runs.map((run) => run.treated)],
  };
  const checks: TrialChecks = {
    finalPictureDiffers: both && (await comparePictures(...both)).share,
    consoleErrors: { asIs: errorsOf(loads.asIs), treated: errorsOf(loads.treated) },
    unexplainedRequests: unexplained(loads.asIs, loads.treated),
    failedRequests: failedOnlyTreated(askedIn(loads.asIs), askedIn(loads.treated)),
    // What only a touch brings about was asked for in one as-is load alone: too few to miss it by.
    missingRequests: missingTreated(
      askedIn(runs.map((run) => run.asIs)),
      askedIn(loads.treated),
      takenOutBy(request.treated, loads.asIs),
    ),
  };
  const result = judge(pairs, checks, request.pageName);
  const shownPair = medianPair(pairs, result.headline);
  const arm = (
    name: TrialArm['name'],
    key: 'asIs' | 'treated',
    finalPicture: Uint8Array | null,
  ): TrialArm => {
    const metrics = pairs.map((pair) => pair[key]);
    const shown = runs[shownPair];
    const load = shown?.[key];
    return {
      name,
      metrics,
      spreads: summarise(metrics),
      frames:
        load && shown ? load.frames.asFrames(load.frames.completenessAgainst(shown.asIs.frames.last)) : [],
      finalPicture,
      consoleErrors: checks.consoleErrors[key],
    };
  };
  return {
    takenAt: new Date().toISOString(),
    conditions: request.conditions,
    arms: [arm('as is', 'asIs', pictureAsIs), arm('treated', 'treated', pictureTreated)],
    shownPair,
    result,
    checks,
    pictureDifference: both && (await drawDifference(...both)),
    ...setting,
  };
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

/** What rules take out, with all that it made the page ask for. */
function takenOutBy({ takenOut }: TreatedPage, asIs: readonly TimedLoad[]): string[] {
  const requests = asIs.flatMap(({ observation }) => observation.requests);
  return [...new Set(takenOut.flatMap((url) => [url, ...broughtBy(requests, url)]))];
}

function askedIn(loads: readonly TimedLoad[]) {
  return loads.map(({ asked }) => asked);
}

function errorsOf(loads: readonly TimedLoad[]): string[] {
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
