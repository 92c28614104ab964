import { cpus } from 'node:os';
import { setTimeout as sleep } from 'node:timers/promises';
import type { Browser, Page } from 'puppeteer-core';
import { REJECT_WHEN } from '../../core/measure/quality.ts';
import { readingsAgree, YARDSTICK_VERSION, type Yardstick } from '../../core/measure/yardstick.ts';
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

/**
 * Runs in the page: arithmetic, text and objects in the mix of ordinary page scripts, and parsing a script that the
 * browser has not seen before. The clock is asked once a round: on some machines asking it is dear.
 *
 * @returns rounds a second
 */
function scriptRounds(forMs: number): number {
  const words = ['ferry', 'island', 'harbour', 'sailing', 'timetable', 'gale'];
  let source = '';
  for (let at = 0; at < 40; at++)
    source += `function f${at}(a,b){var c={id:a,name:"n${at}",list:[a,b,${at}]};if(a>b){return c.list.map(function(x){return x*2+${at};});}for(var i=0;i<b;i++){c.id+=i%3?i:-i;}return c.id+f${Math.max(0, at - 1)}.length;}\n`;
  let rounds = 0;
  let kept = 0;
  const start = performance.now();
  let now = start;
  while (now - start < forMs) {
    for (let i = 0; i < 2_000; i++) {
      const record = { id: rounds + i, name: words[(rounds + i) % words.length]!, tags: [i, kept & 7] };
      const text = `${record.name}-${record.id}`.toUpperCase();
      kept = (kept * 31 + text.length * text.charCodeAt(2) + record.tags.length) % 1_000_003;
    }
    kept += (new Function(`/*${rounds}*/${source}return f0(1,2);`) as () => number)();
    rounds++;
    now = performance.now();
  }
  // What is kept has to be able to matter, or the work might be left out.
  return kept === -1 ? 0 : (rounds * 1_000) / (now - start);
}

/**
 * Runs in the page: matches some hundred rules to some thousand elements and lays them out, again and again.
 *
 * @returns rounds a second
 */
function pageRounds(forMs: number): number {
  const style = document.createElement('style');
  let css = '.grid{display:flex;flex-wrap:wrap;width:900px}';
  for (let i = 0; i < 300; i++)
    css += `.g${i % 60} .i${i}{padding:${i % 5}px}.g${i % 60}>.i${i}:nth-child(odd) b{color:#${100 + i}}.on .i${i}{margin-left:${i % 4}px}`;
  style.textContent = css;
  document.head.append(style);
  const grid = document.createElement('div');
  grid.className = 'grid';
  for (let group = 0; group < 60; group++) {
    const section = document.createElement('section');
    section.className = `g${group}`;
    for (let at = 0; at < 16; at++) {
      const item = document.createElement('div');
      item.className = `i${(group * 16 + at) % 300}`;
      item.innerHTML = `<b>${group}</b> sailing <i>${at}</i>`;
      section.append(item);
    }
    grid.append(section);
  }
  document.body.append(grid);
  let kept = grid.offsetHeight;
  let rounds = 0;
  const start = performance.now();
  let now = start;
  while (now - start < forMs) {
    grid.classList.toggle('on');
    grid.style.width = `${700 + (rounds % 3) * 60}px`;
    kept += grid.offsetHeight;
    rounds++;
    now = performance.now();
  }
  grid.remove();
  style.remove();
  return kept === -1 ? 0 : (rounds * 1_000) / (now - start);
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
  const page = await browser.newPage();
  try {
    // Put in once: a function that is handed over anew for each try is compiled anew, and never gets to its full speed.
    await page.evaluate(
      `{ const __name = (f) => f; globalThis.yardstick = { script: ${scriptRounds.toString()}, page: ${pageRounds.toString()} }; }`,
    );
    for (let one = 0; one < WARM_UPS && !isUntimed(); one++)
      await page.evaluate(`yardstick.script(${TRY_MS})`);
    const first = await quietReading(page, signal);
    if (known?.machine === machine && known.quiet && readingsAgree(known, first)) return known;
    const readings: (Reading & { quiet: boolean })[] = [first];
    let agreeing: typeof readings | undefined;
    const most = isUntimed() ? 1 : MOST_READINGS;
    while (!agreeing && readings.length < most) {
      const next = await quietReading(page, signal);
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
async function quietReading(page: Page, signal?: AbortSignal): Promise<Reading & { quiet: boolean }> {
  for (let wait = 0; ; wait++) {
    stopIfCancelled(signal);
    const meter = new CpuMeter();
    let [script, layout] = [0, 0];
    for (let one = 0; one < (isUntimed() ? 1 : TRIES); one++) {
      script = Math.max(script, Number(await page.evaluate(`yardstick.script(${TRY_MS})`)));
      layout = Math.max(layout, Number(await page.evaluate(`yardstick.page(${TRY_MS})`)));
    }
    const others = meter.othersShare();
    const quiet = others === null || others <= REJECT_WHEN.othersCpu;
    if (quiet || wait >= (isUntimed() ? 0 : MOST_WAITS)) return { script, page: layout, quiet };
    await sleep(BUSY_WAIT_MS);
  }
}
