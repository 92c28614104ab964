import type { Conditions } from '../../core/measure/conditions.ts';
import type { Bodies, Capture } from '../../core/measure/exchange.ts';
import { headlineOf } from '../../core/measure/headline.ts';
import { medianRunIndex, summarise, type MetricSpreads } from '../../core/measure/metrics.ts';
import type { RunObservation } from '../../core/measure/run.ts';
import { paintHeldOf, type PaintHeld } from '../../core/path/held.ts';
import { mapMeasured, type MeasuredCapture } from '../../core/path/map-measured.ts';
import type { VisitState } from '../../core/measure/visit.ts';
import type { Yardstick } from '../../core/measure/yardstick.ts';
import { AS_IS } from '../../core/trial/arms.ts';
import type { LoadLimits } from '../chromium/visit.ts';
import { Lab } from './lab.ts';
import { runRounds, timedLoads } from './rounds.ts';

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
  /** What the paint waited for, in short; null where the page could not be mapped. */
  held: PaintHeld | null;
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
export function measureCapture(request: MeasureRequest): Promise<Measurement> {
  const { conditions } = request;
  const say = request.onProgress ?? (() => undefined);
  const steps = request.runs + 1;
  say('Measuring how fast this machine is', 0, steps);
  const arms = [{ name: AS_IS, overrides: [] }];
  return Lab.with({ ...request, arms }, async (lab) => {
    say('Warming up the browser', 0, steps);
    await lab.load(AS_IS, { windowMs: null });
    const { rounds, ...quality } = await runRounds({
      order: () => [AS_IS],
      wanted: () => request.runs,
      ...timedLoads(lab, { windowMs: null, wantReturnVisit: request.returnVisits }),
      onLoad(_arm, { round, madeAgain }) {
        const again = madeAgain ? `, ${madeAgain} made again` : '';
        say(`Run ${round + 1} of ${request.runs}${again}`, round + 1, steps);
      },
      ...(request.signal ? { signal: request.signal } : {}),
    });
    const visits = rounds.map((round) => round.get(AS_IS)!);
    const returning = visits.flatMap((one) => (one.returning ? [one.returning.observation] : []));
    const first = asSet(visits.map((one) => one.first.observation));
    return {
      conditionsId: conditions.id,
      takenAt: new Date().toISOString(),
      ...first,
      held: heldBy({ ...request, measurement: first }),
      returning: returning.length ? asSet(returning) : null,
      yardstick: lab.yardstick,
      quality: { ...quality, encodingDeviation: lab.replay.encodingDeviation },
    };
  });
}

/** A page that no map can be made of is measured all the same. */
function heldBy({ conditions, ...measured }: MeasuredCapture & { conditions: Conditions }): PaintHeld | null {
  try {
    return paintHeldOf(mapMeasured(measured, conditions).map.assets);
  } catch {
    return null;
  }
}

function asSet(runs: RunObservation[]): RunSet {
  const metrics = runs.map((run) => run.metrics);
  return { runs, spreads: summarise(metrics), medianRun: medianRunIndex(metrics, headlineOf(metrics)) };
}
