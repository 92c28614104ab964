import { setTimeout as sleep } from 'node:timers/promises';
import type { CDPSession } from 'puppeteer-core';
import type { ArrivalOrder } from '../../core/rehearse/arrival.ts';
import type { Bodies, Capture } from '../../core/measure/exchange.ts';
import type { VisitState } from '../../core/measure/visit.ts';
import { launchChromium, type LaunchedBrowser } from '../chromium/launch.ts';
import {
  goTo,
  LOAD_LIMITS,
  openVisit,
  settled,
  type LoadLimits,
  type Visit,
  type VisitDevice,
} from '../chromium/visit.ts';
import { stopIfCancelled } from '../errors.ts';
import { Archive, type Override } from '../replay/archive.ts';
import { Gatekeeper } from './gatekeeper.ts';

/**
 * Unslowed, few pages take long; but one that is heavy to draw, loaded six times at once on two cores, takes half a
 * minute. A page that never rests is looked at all the same.
 */
const LIMITS: LoadLimits = {
  ...LOAD_LIMITS,
  loadMs: 60_000,
  quietMs: 250,
  afterLoadMs: 3_000,
  fromArchive: true,
};
const GATES_OPEN_WITHIN_MS = 10_000;

export interface StageRequest {
  capture: Capture;
  bodies: Bodies;
  state: VisitState | null;
  signal?: AbortSignal;
}

/** Who looks at a load: what is listened to from its beginning, and what is done once the page rests. */
export interface Watch<T> {
  prepare?: (session: CDPSession) => Promise<void>;
  /** Done before the first of what is held back arrives; never where nothing is. */
  early?: (visit: Visit) => Promise<void>;
  act: (visit: Visit, gates: Gatekeeper) => Promise<T>;
}

/** A captured page loaded unslowed, as often as wished, each time as new and in a given order of arrival. */
export class RehearsalStage {
  #chromium: LaunchedBrowser;

  private constructor(chromium: LaunchedBrowser) {
    this.#chromium = chromium;
  }

  static async open(): Promise<RehearsalStage> {
    // Nothing is reached: what is asked for is answered before it leaves.
    return new RehearsalStage(await launchChromium({ untimed: true, hostRules: [] }));
  }

  close(): Promise<void> {
    return this.#chromium.close();
  }

  /** Loads the page with overrides, and lets it be looked at once it rests. */
  async load<T>(
    { capture, bodies, state, signal }: StageRequest,
    overrides: readonly Override[],
    order: ArrivalOrder,
    device: VisitDevice,
    { prepare, early, act }: Watch<T>,
  ): Promise<T> {
    stopIfCancelled(signal);
    const archive = new Archive(capture.exchanges, bodies, overrides, capture.clock);
    const gates = new Gatekeeper(archive, order);
    const visit = await openVisit(this.#chromium.browser, device, {
      clock: capture.clock,
      state,
      prepare: async (session, isPage) => {
        if (isPage) await prepare?.(session);
        await gates.attach(session);
      },
    });
    if (early) gates.beforeRelease(() => early(visit));
    try {
      return await visit.whileOpen(
        (async () => {
          await goTo(visit, capture.url, LIMITS, signal);
          if (gates.holds) await rest(visit, gates);
          return act(visit, gates);
        })(),
      );
    } finally {
      gates.close();
      await visit.close();
    }
  }
}

/** Until nothing is held back any more and the network is quiet. @param firstMs what was just touched asks for something a moment later */
export async function rest(visit: Visit, gates: Gatekeeper, firstMs = LIMITS.quietMs): Promise<void> {
  await sleep(firstMs);
  for (const end = performance.now() + GATES_OPEN_WITHIN_MS; performance.now() < end; await sleep(30)) {
    await settled(visit, LIMITS);
    if (!gates.holds) return;
  }
}
