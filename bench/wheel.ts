import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import puppeteer from 'puppeteer-core';
import { findChromium } from '../src/engine/chromium/launch.ts';
import { openDatabase } from '../src/store/database.ts';
import { startWistrel } from '../tests/e2e/application.ts';
import { LARGE, storeLargePage } from './large-page.ts';
import type { Finding } from './report.ts';

const EVENTS = 80;
/** In this time what an event set off has been drawn. */
const FRAMES_MS = 70;
/** Once the wheel has rested, everything is laid out and drawn as it will stay: by then it is done. */
const REST_MS = 350;
const GESTURES = 20;

/** Main-thread work of the Map stage for each wheel event over a page of 300 requests. */
export async function wheelBench(): Promise<Finding> {
  const data = mkdtempSync(join(tmpdir(), 'wistrel-bench-'));
  const database = await openDatabase(data, 'the benchmark');
  const pageId = await storeLargePage(database).finally(() => database.close());
  const application = await startWistrel('start', data);
  const browser = await puppeteer.launch({
    executablePath: findChromium(),
    headless: true,
    pipe: true,
    args: process.getuid?.() === 0 ? ['--no-sandbox'] : [],
    defaultViewport: { width: 1280, height: 800 },
  });
  try {
    const page = await browser.newPage();
    await page.goto(application.address);
    await page.goto(`${application.url}/pages/${pageId}/map?conditions=slow-phone`);
    await page.waitForSelector('.chart .bill');
    // Loading is not what is measured.
    await sleep(3_000);
    const rows = await page.$eval('h1.sentence', () => document.querySelectorAll('.chart .asset').length);
    const session = await page.createCDPSession();
    await session.send('Performance.enable', { timeDomain: 'timeTicks' });
    const busy = async () => {
      const { metrics } = await session.send('Performance.getMetrics');
      return 1_000 * metrics.find((metric) => metric.name === 'TaskDuration')!.value;
    };
    const box = (await (await page.$('.chart .bill'))!.boundingBox())!;
    const turn = (modifiers: number, event: number) =>
      session.send('Input.dispatchMouseEvent', {
        type: 'mouseWheel',
        x: box.x + box.width / 2,
        y: box.y + 100,
        deltaX: 0,
        deltaY: event % 8 < 4 ? 60 : -60,
        modifiers,
      });
    const kinds = [
      ['none: the asking alone', null],
      ['zoom (Ctrl)', 2],
      ['pan (Shift)', 8],
    ] as const;
    const found: Finding['rows'] = [];
    const tell = (name: string, took: number[]) => {
      took.sort((a, b) => a - b);
      const at = (share: number) => took[Math.floor(share * (took.length - 1))]!.toFixed(1);
      found.push([name, rows, at(0.5), at(0.95), at(1)]);
    };
    for (const [name, modifiers] of kinds) {
      const took: number[] = [];
      for (let event = 0; event < EVENTS; event++) {
        const before = await busy();
        if (modifiers !== null) await turn(modifiers, event);
        // Waited for here: to ask the page for its frames would be work of the page.
        await sleep(FRAMES_MS);
        took.push((await busy()) - before);
      }
      tell(name, took);
    }
    const resting: number[] = [];
    for (let gesture = 0; gesture < GESTURES; gesture++) {
      await turn(2, gesture);
      await sleep(FRAMES_MS);
      const before = await busy();
      await sleep(REST_MS);
      resting.push((await busy()) - before);
    }
    tell('once, when the wheel rests', resting);
    return {
      title: 'Wheel over the map',
      about: `A page of ${LARGE} requests: all main-thread work (handlers, style, layout, paint, and our own asking, which adds to it) from a wheel event until ${FRAMES_MS} ms later, ${EVENTS} events each. To reach: 95th percentile at most 8 ms. While the wheel turns the chart is stretched as a picture; it is laid out anew once, when the wheel rests (the last row, ${GESTURES} times).`,
      columns: ['wheel', 'rows drawn', 'median, ms', '95th percentile, ms', 'most, ms'],
      rows: found,
    };
  } finally {
    await browser.close();
    await application.stop();
    rmSync(data, { recursive: true, force: true });
  }
}
