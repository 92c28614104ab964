import type { Conditions } from '../core/measure/conditions.ts';
import { medianRunIndex, summarise, type MetricSpreads } from '../core/measure/metrics.ts';
import type { RunObservation } from '../core/measure/run.ts';
import type { Capture } from '../core/measure/exchange.ts';
import type { LoadLimits } from './chromium/visit.ts';
import { timedLoad } from './load/timed-load.ts';
import { Replay } from './replay/replay-client.ts';

export interface MeasureRequest {
  capture: Capture;
  bodies: Map<string, Uint8Array>;
  conditions: Conditions;
  runs: number;
  limits?: LoadLimits;
  onProgress?: (step: string, done: number, of: number) => void;
  signal?: AbortSignal;
}

export interface Measurement {
  conditionsId: string;
  takenAt: string;
  runs: RunObservation[];
  spreads: MetricSpreads;
  medianRun: number;
}

/**
 * Replays a capture several times under conditions: one warm browser, a new context with an empty cache for
 * each run, the first run discarded.
 */
export async function measureCapture(request: MeasureRequest): Promise<Measurement> {
  const { capture, bodies, conditions, signal } = request;
  const say = request.onProgress ?? (() => undefined);
  const replay = await Replay.start({
    exchanges: capture.exchanges,
    bodies,
    arms: [{ name: 'as is', overrides: [] }],
    documentUrl: capture.documentUrl,
    serverTimes: true,
  });
  try {
    const chromium = await replay.launchBrowser();
    try {
      const runs: RunObservation[] = [];
      for (let run = 0; run <= request.runs; run++) {
        say(run === 0 ? 'Warming up the browser' : `Run ${run} of ${request.runs}`, run, request.runs + 1);
        const { observation } = await timedLoad({
          browser: chromium.browser,
          replay,
          arm: 'as is',
          url: capture.url,
          documentUrl: capture.documentUrl,
          conditions,
          windowMs: null,
          wantFinalPicture: false,
          ...(request.limits ? { limits: request.limits } : {}),
          ...(signal ? { signal } : {}),
        });
        if (run > 0) runs.push(observation);
      }
      const metrics = runs.map((run) => run.metrics);
      return {
        conditionsId: conditions.id,
        takenAt: new Date().toISOString(),
        runs,
        spreads: summarise(metrics),
        medianRun: medianRunIndex(metrics),
      };
    } finally {
      await chromium.close();
    }
  } finally {
    await replay.close();
  }
}
