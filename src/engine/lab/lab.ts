import type { Conditions } from '../../core/measure/conditions.ts';
import type { Bodies, Capture } from '../../core/measure/exchange.ts';
import type { VisitState } from '../../core/measure/visit.ts';
import { slowdownRate, type Yardstick } from '../../core/measure/yardstick.ts';
import type { ArmId } from '../../core/trial/arms.ts';
import type { LaunchedBrowser } from '../chromium/launch.ts';
import type { LoadLimits } from '../chromium/visit.ts';
import { timedLoad, type TimedLoadOptions, type TimedVisits } from '../load/timed-load.ts';
import { takeYardstick } from '../load/yardstick.ts';
import type { ArmFiles } from '../replay/messages.ts';
import { Replay } from '../replay/replay-client.ts';

export interface LabRequest {
  capture: Capture;
  bodies: Bodies;
  state: VisitState | null;
  conditions: Conditions;
  /** What is served; each is chosen by its id. */
  arms: readonly ArmFiles[];
  /** What is known of this machine's speed; taken anew when the machine has changed. */
  yardstick: Yardstick | null;
  limits?: LoadLimits;
  signal?: AbortSignal;
}

/** What a load is made for, besides its arm. */
export type LoadWish = Pick<TimedLoadOptions, 'windowMs'> &
  Partial<Pick<TimedLoadOptions, 'wantFinalPicture' | 'wantReturnVisit' | 'prepare' | 'act'>>;

/**
 * Where arms are run: a captured page replayed under conditions to one warm browser, each load in a new context with
 * an empty cache. How the machine's speed is known and what each load needs is settled here, once.
 */
export class Lab {
  readonly replay: Replay;
  readonly yardstick: Yardstick;
  #request: LabRequest;
  #chromium: LaunchedBrowser;

  private constructor(request: LabRequest, replay: Replay, chromium: LaunchedBrowser, yardstick: Yardstick) {
    this.#request = request;
    this.replay = replay;
    this.#chromium = chromium;
    this.yardstick = yardstick;
  }

  /** Opens a lab for as long as `act` takes. */
  static async with<T>(request: LabRequest, act: (lab: Lab) => Promise<T>): Promise<T> {
    const { capture, bodies, conditions, arms } = request;
    const replay = await Replay.start({ capture, bodies, arms: [...arms], conditions });
    try {
      const chromium = await replay.launchBrowser();
      try {
        const yardstick = await takeYardstick(chromium.browser, request.yardstick, request.signal);
        return await act(new Lab(request, replay, chromium, yardstick));
      } finally {
        await chromium.close();
      }
    } finally {
      await replay.close();
    }
  }

  get browser(): LaunchedBrowser['browser'] {
    return this.#chromium.browser;
  }

  /** By what factor the CPU is slowed under the conditions. */
  get cpuRate(): number {
    return slowdownRate(this.#request.conditions.cpuSlowdown, this.yardstick);
  }

  /** Loads an arm once. */
  load(arm: ArmId, wish: LoadWish): Promise<TimedVisits> {
    const { capture, conditions, state, limits, signal } = this.#request;
    return timedLoad({
      browser: this.browser,
      replay: this.replay,
      arm,
      url: capture.url,
      documentUrl: capture.documentUrl,
      conditions,
      cpuRate: this.cpuRate,
      clock: capture.clock,
      state,
      wantFinalPicture: false,
      wantReturnVisit: false,
      ...wish,
      ...(limits ? { limits } : {}),
      ...(signal ? { signal } : {}),
    });
  }
}
