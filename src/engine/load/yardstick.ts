import { cpus } from 'node:os';
import { setTimeout as sleep } from 'node:timers/promises';
import type { Browser } from 'puppeteer-core';
import { REJECT_WHEN } from '../../core/measure/quality.ts';
import { readingsAgree, YARDSTICK_VERSION, type Yardstick } from '../../core/measure/yardstick.ts';
import { InPage } from '../chromium/in-page.ts';
import { whileConnected } from '../chromium/while-connected.ts';
import { stopIfCancelled } from '../errors.ts';
import { CpuMeter } from './cpu-meter.ts';
import { repeatsPerRun } from './repeats.ts';

/** Tries of each part in one reading; the best counts, since nothing makes a try too fast. */
const TRIES = 8;
const TRY_MS = 80;
/** Tries before any counts: until then the browser's compiler is still at work on the benchmark itself. */
const WARM_UPS = 4;
/** So many readings at most, until two agree. */
const MOST_READINGS = 5;
/** How long a machine that others use is left alone before it is read again, and how often. */
const BUSY_WAIT_MS = 2_000;
const MOST_WAITS = 5;

interface Reading {
  script: number;
  page: number;
}

/** Tests that time nothing need no good reading. */
const isUntimed = () => repeatsPerRun() === 0;

/** What the machine is: another processor, number of cores or browser needs a new yardstick. */
export async function machineOf(browser: Browser): Promise<string> {
  const processors = cpus();
  return `${processors[0]?.model.trim() ?? 'unknown processor'} × ${processors.length}, ${await browser.version()}`;
}

/**
 * Says how fast this machine is. What is known of it serves as long as the machine is the same and one more
 * reading agrees, so that figures that are compared were slowed alike; else it is read until two readings agree.
 */
export async function takeYardstick(
  browser: Browser,
  known: Yardstick | null,
  signal?: AbortSignal,
): Promise<Yardstick> {
  const machine = await machineOf(browser);
  const page = await whileConnected(browser, browser.newPage());
  try {
    // Put in once: a function that is handed over anew for each try is compiled anew, and never gets to its full speed.
    const inPage = new InPage(await page.createCDPSession());
    for (let one = 0; one < WARM_UPS && !isUntimed(); one++) await inPage.call('scriptRounds', TRY_MS);
    const first = await quietReading(inPage, signal);
    if (known?.machine === machine && known.quiet && readingsAgree(known, first)) return known;
    const readings: (Reading & { quiet: boolean })[] = [first];
    let agreeing: typeof readings | undefined;
    const most = isUntimed() ? 1 : MOST_READINGS;
    while (!agreeing && readings.length < most) {
      const next = await quietReading(inPage, signal);
      const like = readings.find((one) => readingsAgree(one, next));
      if (like) agreeing = [like, next];
      readings.push(next);
    }
    const taken = agreeing ?? readings;
    return {
      version: YARDSTICK_VERSION,
      script: Math.max(...taken.map((one) => one.script)),
      page: Math.max(...taken.map((one) => one.page)),
      machine,
      takenAt: new Date().toISOString(),
      quiet: taken.every((one) => one.quiet),
    };
  } finally {
    await page.close();
  }
}

/** One reading while the machine is quiet, by the rule by which runs are rejected; where it never is, the last one. */
async function quietReading(inPage: InPage, signal?: AbortSignal): Promise<Reading & { quiet: boolean }> {
  for (let wait = 0; ; wait++) {
    stopIfCancelled(signal);
    const meter = new CpuMeter();
    let [script, layout] = [0, 0];
    for (let one = 0; one < (isUntimed() ? 1 : TRIES); one++) {
      script = Math.max(script, await inPage.call('scriptRounds', TRY_MS));
      layout = Math.max(layout, await inPage.call('pageRounds', TRY_MS));
    }
    const others = meter.othersShare();
    const quiet = others === null || others <= REJECT_WHEN.othersCpu;
    if (quiet || wait >= (isUntimed() ? 0 : MOST_WAITS)) return { script, page: layout, quiet };
    await sleep(BUSY_WAIT_MS);
  }
}
