import { cpus } from 'node:os';
import type { Browser } from 'puppeteer-core';
import type { Yardstick } from '../../core/measure/yardstick.ts';

const TRIES = 7;
const TRY_MS = 60;

/**
 * Runs in the page: arithmetic, text and objects in the mix of ordinary page scripts, for a fixed time.
 *
 * @returns rounds a millisecond
 */
function benchmark(forMs: number): number {
  const words = ['ferry', 'island', 'harbour', 'sailing', 'timetable', 'gale'];
  let rounds = 0;
  let kept = 0;
  const start = performance.now();
  while (performance.now() - start < forMs) {
    for (let i = 0; i < 20; i++) {
      const record = { id: rounds, name: words[rounds % words.length]!, tags: [i, kept & 7] };
      const text = `${record.name}-${record.id}`.toUpperCase();
      kept = (kept * 31 + text.length * text.charCodeAt(2) + record.tags.length) % 1_000_003;
      rounds++;
    }
  }
  (globalThis as { __kept?: number }).__kept = kept;
  return rounds / (performance.now() - start) / 10;
}

/** What the machine is: another processor, number of cores or browser needs a new yardstick. */
export async function machineOf(browser: Browser): Promise<string> {
  const processors = cpus();
  return `${processors[0]?.model.trim() ?? 'unknown processor'} × ${processors.length}, ${await browser.version()}`;
}

/** Says how fast this machine is; the known yardstick serves as long as the machine is the same. */
export async function takeYardstick(browser: Browser, known: Yardstick | null): Promise<Yardstick> {
  const machine = await machineOf(browser);
  if (known?.machine === machine) return known;
  const page = await browser.newPage();
  try {
    await page.evaluate('globalThis.__name ??= (f) => f');
    let score = 0;
    for (let run = 0; run < TRIES; run++) score = Math.max(score, await page.evaluate(benchmark, TRY_MS));
    return { score, machine, takenAt: new Date().toISOString() };
  } finally {
    await page.close();
  }
}
