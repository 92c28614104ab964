import type { CDPSession } from 'puppeteer-core';
import type { PageClock } from '../../core/measure/exchange.ts';
import { bundleOf } from './bundles.ts';

/** The clock of a capture: its seed and time are stored with it. */
export function newClock(): PageClock {
  return { seed: (Date.now() % 2 ** 31) + 1, startMs: Date.now() };
}

/** Sets the clock of a target, before it runs. Workers keep the real one. */
export async function applyClock(session: CDPSession, { seed, startMs }: PageClock): Promise<void> {
  await session.send('Page.enable');
  await session.send('Page.addScriptToEvaluateOnNewDocument', {
    source: `${bundleOf('own-world/clock.ts')}.setClock(${seed}, ${startMs});`,
    runImmediately: true,
  });
}
