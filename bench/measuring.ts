import { findConditions } from '../src/core/measure/conditions.ts';
import { median } from '../src/core/measure/metrics.ts';
import { AS_IS } from '../src/core/trial/arms.ts';
import { AS_VISITOR } from '../src/core/measure/visit.ts';
import { capturePage, type CaptureResult } from '../src/engine/capture/capture-page.ts';
import { EVERY_HOST, makeCertificate } from '../src/engine/chromium/certificates.ts';
import { openVisit, goTo, LOAD_LIMITS } from '../src/engine/chromium/visit.ts';
import { slowCpu } from '../src/engine/chromium/emulate.ts';
import { measureCapture } from '../src/engine/lab/measure-capture.ts';
import { SKERRAVANE } from '../src/demo/site/names.ts';
import { hostNames, startDemoSite } from '../src/demo/site/server.ts';
import { whileReplayed } from './replayed.ts';
import type { Finding } from './report.ts';

const RUNS = 15;
const PAIRS = 10;
const slowPhone = findConditions('slow-phone')!;

/** A capture of the demo's home page, and how long it took. */
export async function demoCapture(): Promise<CaptureResult & { tookMs: number }> {
  const certificate = await makeCertificate(hostNames(SKERRAVANE));
  const site = await startDemoSite({ names: SKERRAVANE, certificate, httpsPort: 0, httpPort: 0 });
  const url = site.url('/');
  const started = performance.now();
  try {
    const taken = await capturePage({
      url,
      conditions: slowPhone,
      accepted: [{ host: EVERY_HOST, publicKeyHash: certificate.publicKeyHash }],
      visit: AS_VISITOR,
      ownClock: true,
    });
    return { ...taken, tookMs: performance.now() - started };
  } finally {
    await site.close();
  }
}

/** Spread of the figures over many runs, and what a run and a capture cost in time. */
export async function spreadBench(): Promise<Finding> {
  const taken = await demoCapture();
  const started = performance.now();
  const measurement = await measureCapture({
    ...taken,
    conditions: slowPhone,
    runs: RUNS,
    returnVisits: false,
    yardstick: null,
  });
  const perRun = (performance.now() - started) / (RUNS + 1 + measurement.quality.rejected.length);
  const row = (name: string, key: 'firstPaintMs' | 'speedIndexMs') => {
    const values = measurement.runs.flatMap((run) => run.metrics[key] ?? []);
    const middle = median(values)!;
    const spread = median(values.map((value) => Math.abs(value - middle)))!;
    return [
      name,
      Math.round(middle),
      Math.round(Math.min(...values)),
      Math.round(Math.max(...values)),
      `${Math.round(spread)} (${((100 * spread) / middle).toFixed(1)} %)`,
    ];
  };
  return {
    title: 'Spread and time',
    about: `${RUNS} runs of the demo home page under slow-phone; ${measurement.quality.rejected.length} rejected and made again. One run takes ${(perRun / 1000).toFixed(1)} s, a capture ${(taken.tookMs / 1000).toFixed(1)} s.`,
    columns: ['figure', 'median ms', 'least', 'greatest', 'median absolute deviation'],
    rows: [row('first paint', 'firstPaintMs'), row('Speed Index', 'speedIndexMs')],
  };
}

/** What our own frames and trace cost: first paint with them and without, in pairs. */
export async function observingBench(): Promise<Finding> {
  const taken = await demoCapture();
  const { capture } = taken;
  const differences: number[] = [];
  const plain: number[] = [];
  const arms = [{ name: AS_IS, overrides: [] }];
  const request = { ...taken, conditions: slowPhone, arms, yardstick: null };
  await whileReplayed(request, async ({ browser, replay, cpuRate, load }) => {
    const observed = async () => (await load(AS_IS)).metrics.firstPaintMs!;
    const unobserved = async () => {
      await replay.chooseArm(AS_IS);
      const visit = await openVisit(browser, slowPhone, {
        clock: capture.clock,
        state: null,
        prepare: (session) => slowCpu(session, cpuRate),
      });
      try {
        await goTo(visit, capture.url, LOAD_LIMITS);
        return Number(await visit.page.evaluate(`performance.getEntriesByName('first-paint')[0]?.startTime`));
      } finally {
        await visit.close();
      }
    };
    for (let pair = 0; pair < PAIRS; pair++) {
      const first = pair % 2 === 0 ? await observed() : 0;
      const without = await unobserved();
      const withThem = first || (await observed());
      plain.push(without);
      differences.push(withThem - without);
    }
  });
  return {
    title: 'Cost of observing',
    about: `First paint of the demo home page under slow-phone with our trace and frames, less first paint without them: ${PAIRS} pairs.`,
    columns: ['median without, ms', 'median difference, ms', 'least', 'greatest'],
    rows: [
      [
        Math.round(median(plain)!),
        Math.round(median(differences)!),
        Math.round(Math.min(...differences)),
        Math.round(Math.max(...differences)),
      ],
    ],
  };
}
