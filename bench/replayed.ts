import type { Browser } from 'puppeteer-core';
import type { Conditions } from '../src/core/measure/conditions.ts';
import type { Bodies, Capture } from '../src/core/measure/exchange.ts';
import { rejectionOf, REPEATS_PER_RUN } from '../src/core/measure/quality.ts';
import type { RunObservation } from '../src/core/measure/run.ts';
import { slowdownRate, type Yardstick } from '../src/core/measure/yardstick.ts';
import { LOAD_LIMITS, type PrepareTarget } from '../src/engine/chromium/visit.ts';
import { timedLoad } from '../src/engine/load/timed-load.ts';
import { takeYardstick } from '../src/engine/load/yardstick.ts';
import type { ArmFiles } from '../src/engine/replay/messages.ts';
import { Replay } from '../src/engine/replay/replay-client.ts';

export interface Replayed {
  browser: Browser;
  replay: Replay;
  /** By what factor the CPU is slowed under the conditions. */
  cpuRate: number;
  /** Loads an arm, traced and with frames; again where the rule rejects it. */
  load(arm: string, prepare?: PrepareTarget): Promise<RunObservation>;
}

export interface ReplayedRequest {
  capture: Capture;
  bodies: Bodies;
  conditions: Conditions;
  arms: ArmFiles[];
  /** What is known of the machine's speed already: figures that are compared were slowed alike. */
  yardstick: Yardstick | null;
}

/** Nobody looks at what comes late: a load is over soon after its load event. */
const LIMITS = { ...LOAD_LIMITS, quietMs: 200, afterLoadMs: 500 };

/** Replays a capture's arms under conditions for as long as `act` takes, the browser warmed up by two loads. */
export async function whileReplayed<T>(
  { capture, bodies, conditions, arms, yardstick }: ReplayedRequest,
  act: (replayed: Replayed) => Promise<T>,
): Promise<T> {
  const replay = await Replay.start({ capture, bodies, arms, conditions });
  try {
    const chromium = await replay.launchBrowser();
    try {
      const { browser } = chromium;
      const cpuRate = slowdownRate(conditions.cpuSlowdown, await takeYardstick(browser, yardstick));
      const load = async (arm: string, prepare?: PrepareTarget) => {
        const { first } = await timedLoad({
          browser,
          replay,
          arm,
          url: capture.url,
          documentUrl: capture.documentUrl,
          conditions,
          cpuRate,
          clock: capture.clock,
          state: null,
          windowMs: null,
          wantFinalPicture: false,
          wantReturnVisit: false,
          limits: LIMITS,
          ...(prepare ? { prepare } : {}),
        });
        return first.observation;
      };
      for (let warmUp = 0; warmUp < 2; warmUp++) await load(arms[0]!.name);
      return await act({
        browser,
        replay,
        cpuRate,
        async load(arm, prepare) {
          let observation = await load(arm, prepare);
          for (let again = 0; again < REPEATS_PER_RUN && rejectionOf(observation.circumstances); again++)
            observation = await load(arm, prepare);
          return observation;
        },
      });
    } finally {
      await chromium.close();
    }
  } finally {
    await replay.close();
  }
}
