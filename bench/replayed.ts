import type { Browser } from 'puppeteer-core';
import type { Conditions } from '../src/core/measure/conditions.ts';
import type { Bodies, Capture } from '../src/core/measure/exchange.ts';
import { slowdownRate } from '../src/core/measure/yardstick.ts';
import { timedLoad } from '../src/engine/load/timed-load.ts';
import { takeYardstick } from '../src/engine/load/yardstick.ts';
import type { ArmFiles } from '../src/engine/replay/messages.ts';
import { Replay } from '../src/engine/replay/replay-client.ts';

export interface Replayed {
  browser: Browser;
  replay: Replay;
  /** By what factor the CPU is slowed under the conditions. */
  cpuRate: number;
  /** Loads an arm once, traced and with frames. @returns first paint, ms */
  firstPaint(arm: string): Promise<number | null>;
}

/** Replays a capture's arms under conditions for as long as `act` takes. */
export async function whileReplayed<T>(
  { capture, bodies }: { capture: Capture; bodies: Bodies },
  conditions: Conditions,
  arms: ArmFiles[],
  act: (replayed: Replayed) => Promise<T>,
): Promise<T> {
  const replay = await Replay.start({ capture, bodies, arms, conditions });
  try {
    const chromium = await replay.launchBrowser();
    try {
      const { browser } = chromium;
      const cpuRate = slowdownRate(conditions.cpuSlowdown, await takeYardstick(browser, null));
      return await act({
        browser,
        replay,
        cpuRate,
        async firstPaint(arm) {
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
          });
          return first.observation.metrics.firstPaintMs;
        },
      });
    } finally {
      await chromium.close();
    }
  } finally {
    await replay.close();
  }
}
