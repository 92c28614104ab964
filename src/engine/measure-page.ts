import type { Conditions } from '../core/measure/conditions.ts';
import type { Bodies, Capture } from '../core/measure/exchange.ts';
import { headlineOf } from '../core/measure/headline.ts';
import { medianRunIndex, summarise, type MetricSpreads } from '../core/measure/metrics.ts';
import { rejectionOf } from '../core/measure/quality.ts';
import type { RunObservation } from '../core/measure/run.ts';
import type { VisitState } from '../core/measure/visit.ts';
import { slowdownRate, type Yardstick } from '../core/measure/yardstick.ts';
import type { LoadLimits } from './chromium/visit.ts';
import { timedLoad, type TimedVisits } from './load/timed-load.ts';
import { repeatsPerRun } from './load/repeats.ts';
import { takeYardstick } from './load/yardstick.ts';
import { Replay } from './replay/replay-client.ts';

export interface MeasureRequest {
  capture: Capture;
  bodies: Bodies;
  state: VisitState | null;
  conditions: Conditions;
  runs: number;
  returnVisits: boolean;
  /** What is known of this machine's speed; taken anew when the machine has changed. */
  yardstick: Yardstick | null;
  limits?: LoadLimits;
  onProgress?: (step: string, done: number, of: number) => void;
  signal?: AbortSignal;
}

/** Runs of one kind of visit, with what they come to. */
export interface RunSet {
  runs: RunObservation[];
  spreads: MetricSpreads;
  medianRun: number;
}

export interface Measurement extends RunSet {
  conditionsId: string;
  takenAt: string;
  /** Second loads with what the first ones cached; null when none were asked for. */
  returning: RunSet | null;
  yardstick: Yardstick;
  quality: RunQuality;
}

/** How far the runs can be trusted. */
export interface RunQuality {
  /** Why each rejected run was. */
  rejected: string[];
  /** True when runs had to be kept although the rule rejects them. */
  tooBusy: boolean;
  /** The greatest deviation of a replayed body from its captured size, as a share. */
  encodingDeviation: number;
}

/**
 * Replays a capture several times under conditions: one warm browser, a new context with an empty cache for
 * each run, the first run discarded, rejected runs made again.
 */
export async function measureCapture(request: MeasureRequest): Promise<Measurement> {
  const { capture, conditions, signal } = request;
  const say = request.onProgress ?? (() => undefined);
  const replay = await Replay.start({
    capture,
    bodies: request.bodies,
    arms: [{ name: 'as is', overrides: [] }],
    conditions,
  });
  try {
    const chromium = await replay.launchBrowser();
    try {
      say('Measuring how fast this machine is', 0, request.runs + 1);
      const yardstick = await takeYardstick(chromium.browser, request.yardstick, signal);
      const kept: TimedVisits[] = [];
      const rejected: string[] = [];
      let tooBusy = false;
      let warm = false;
      while (kept.length < request.runs) {
        const run = kept.length + 1;
        const again = rejected.length ? `, ${rejected.length} made again` : '';
        say(
          warm ? `Run ${run} of ${request.runs}${again}` : 'Warming up the browser',
          warm ? run : 0,
          request.runs + 1,
        );
        const visits = await timedLoad({
          browser: chromium.browser,
          replay,
          arm: 'as is',
          url: capture.url,
          documentUrl: capture.documentUrl,
          conditions,
          cpuRate: slowdownRate(conditions.cpuSlowdown, yardstick),
          clock: capture.clock,
          state: request.state,
          windowMs: null,
          wantFinalPicture: false,
          wantReturnVisit: warm && request.returnVisits,
          ...(request.limits ? { limits: request.limits } : {}),
          ...(signal ? { signal } : {}),
        });
        if (!warm) {
          warm = true;
          continue;
        }
        const why =
          rejectionOf(visits.first.observation.circumstances) ??
          (visits.returning && rejectionOf(visits.returning.observation.circumstances));
        if (why && rejected.length < request.runs * repeatsPerRun()) rejected.push(why);
        else {
          tooBusy ||= why !== null;
          kept.push(visits);
        }
      }
      const returning = kept.flatMap((one) => (one.returning ? [one.returning.observation] : []));
      return {
        conditionsId: conditions.id,
        takenAt: new Date().toISOString(),
        ...asSet(kept.map((one) => one.first.observation)),
        returning: returning.length ? asSet(returning) : null,
        yardstick,
        quality: { rejected, tooBusy, encodingDeviation: replay.encodingDeviation },
      };
    } finally {
      await chromium.close();
    }
  } finally {
    await replay.close();
  }
}

function asSet(runs: RunObservation[]): RunSet {
  const metrics = runs.map((run) => run.metrics);
  return { runs, spreads: summarise(metrics), medianRun: medianRunIndex(metrics, headlineOf(metrics)) };
}
