import { setTimeout as sleep } from 'node:timers/promises';
import type { Browser } from 'puppeteer-core';
import type { Conditions } from '../../core/measure/conditions.ts';
import type { PageClock } from '../../core/measure/exchange.ts';
import type { RunCircumstances } from '../../core/measure/quality.ts';
import { percentile } from '../../core/measure/quality.ts';
import { readTrace, type TraceEvent } from '../../core/measure/trace.ts';
import { untilTraced } from '../load/until-traced.ts';
import type { VisitState } from '../../core/measure/visit.ts';
import type { NavigationFigures } from '../../core/next/navigation.ts';
import type { ArmId } from '../../core/trial/arms.ts';
import { slowCpu } from '../chromium/emulate.ts';
import { goTo, LOAD_LIMITS, openVisit, settled, type LoadLimits, type Visit } from '../chromium/visit.ts';
import { stopIfCancelled, Trouble } from '../errors.ts';
import { CpuMeter } from '../load/cpu-meter.ts';
import type { Replay } from '../replay/replay-client.ts';

export interface NavigationLoadOptions {
  browser: Browser;
  replay: Replay;
  arm: ArmId;
  url: string;
  documentUrl: string;
  next: { url: string; documentUrl: string; name: string };
  conditions: Conditions;
  cpuRate: number;
  clock: PageClock | null;
  state: VisitState | null;
  limits?: LoadLimits;
  signal?: AbortSignal;
}

/** What one way showed, and under what circumstances. */
export interface NavigationLoad extends NavigationFigures {
  circumstances: RunCircumstances;
}

/** So long a visitor looks at the first page before they go on, ms. */
const LOOKED_AT_MS = 2_000;
/** How long a finger or a button stays down, and the pointer rests before, ms. */
const HELD_MS = 80;
/** The last paint of the next page is waited for so long after its load, ms. */
const AFTER_LOAD_MS = 1_500;

const CATEGORIES = [
  '-*',
  'blink.user_timing',
  'devtools.timeline',
  'loading',
  'disabled-by-default-devtools.timeline',
];

/** Loads a page, looks at it, presses the link to the next one, and waits until that is there: in a context of its own. */
export function navigationLoad(options: NavigationLoadOptions): Promise<NavigationLoad> {
  return untilTraced(() => gone(options));
}

async function gone(options: NavigationLoadOptions): Promise<NavigationLoad> {
  stopIfCancelled(options.signal);
  const visit = await openVisit(options.browser, options.conditions, {
    clock: options.clock,
    state: options.state,
    prepare: (session) => slowCpu(session, options.cpuRate),
  });
  try {
    return await options.replay.whileRunning(visit.whileOpen(goOn(visit, options)));
  } finally {
    await visit.close();
  }
}

async function goOn(visit: Visit, options: NavigationLoadOptions): Promise<NavigationLoad> {
  const { replay, next, signal, conditions } = options;
  const limits = options.limits ?? LOAD_LIMITS;
  await replay.chooseArm(options.arm);
  await visit.page.tracing.start({ categories: CATEGORIES });
  const meter = new CpuMeter();
  await goTo(visit, replay.addressOf(options.url), { ...limits, afterLoadMs: 0 }, signal);
  await sleep(LOOKED_AT_MS);
  stopIfCancelled(signal);
  const there = arrival(visit, replay.addressOf(next.documentUrl), limits.loadMs);
  await press(visit, replay.addressOf(next.url), conditions.touch, next.name);
  if (!(await there))
    throw new Trouble(
      'measuring',
      `The link to ${next.name} was pressed, and its page did not come: a script may answer the press by itself. Nothing stored was changed.`,
    );
  await settled(visit, { ...limits, afterLoadMs: AFTER_LOAD_MS }, signal);
  const othersCpu = meter.othersShare();
  await slowCpu(visit.session, 1);
  const trace = await visit.page.tracing.stop();
  const { traceEvents } = JSON.parse(Buffer.from(trace ?? new Uint8Array()).toString('utf8')) as {
    traceEvents: TraceEvent[];
  };
  const { latenessMs } = await replay.report();
  const arrived = readTrace(traceEvents, replay.addressOf(next.documentUrl));
  const from = replay.addressOf(options.documentUrl);
  // Both are of one frame: what was painted after the press is the next page's.
  const leftMs = (arrived.navigationStartUs - readTrace(traceEvents, from).navigationStartUs) / 1000;
  const own = readTrace(traceEvents, from, leftMs);
  return {
    paintMs: arrived.firstContentfulPaintMs,
    largestMs: arrived.largestContentfulPaintMs,
    ownPaintMs: own.firstContentfulPaintMs,
    ownLargestMs: own.largestContentfulPaintMs,
    circumstances: { latenessMs: percentile(latenessMs, 0.95), othersCpu },
  };
}

/** Whether an address is gone to and has loaded within a time. What was prefetched is told of by the browser's own events alone. */
function arrival({ page, session }: Visit, url: string, limitMs: number): Promise<boolean> {
  return new Promise((resolve) => {
    const loaded = () => {
      if (bare(page.url()) === bare(url)) end(true);
    };
    const end = (came: boolean) => {
      clearTimeout(timer);
      session.off('Page.loadEventFired', loaded);
      resolve(came);
    };
    const timer = setTimeout(() => end(false), limitMs);
    session.on('Page.loadEventFired', loaded);
  });
}

function bare(url: string): string {
  return url.replace(/#.*$/, '');
}

/** Presses a link as a finger or a mouse does, where it can be reached; else as a script does. */
async function press({ page, inPage }: Visit, url: string, touch: boolean, name: string): Promise<void> {
  const at = await inPage.call('linkPoint', url);
  if (at === null)
    throw new Trouble(
      'measuring',
      `The page has no link to ${name} any more once it has loaded. Nothing stored was changed.`,
    );
  if (at === 'out of reach') await inPage.call('clickLink', url);
  else if (touch) {
    const finger = await page.touchscreen.touchStart(at.x, at.y);
    await sleep(HELD_MS);
    await finger.end();
  } else {
    await page.mouse.move(at.x, at.y);
    await sleep(HELD_MS);
    await page.mouse.down();
    await sleep(HELD_MS);
    await page.mouse.up();
  }
}
