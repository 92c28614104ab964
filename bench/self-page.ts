import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { findConditions, type Conditions } from '../src/core/measure/conditions.ts';
import type { RunSet } from '../src/engine/lab/measure-capture.ts';
import type { CaptureResult } from '../src/engine/capture/capture-page.ts';
import { CapturedPage } from '../src/core/page/captured-page.ts';
import { readPageAssets } from '../src/core/page/page-assets.ts';
import { mapPage } from '../src/core/path/map-page.ts';
import { seedDatabase } from '../src/demo/seed-database.ts';
import { carryOut, type Order, type ResultOf } from '../src/engine/jobs/orders.ts';
import { openDatabase } from '../src/store/database.ts';
import { startWistrel, type RunningDemo } from '../tests/e2e/application.ts';
import type { Finding } from './report.ts';

const SCREENS = {
  'page board': '/',
  Measure: '/pages/1/measure',
  Map: '/pages/1/map',
  'Fold CSS': '/pages/1/fold',
  Treat: '/pages/1/treat',
  Prove: '/pages/1/prove',
  'Hand off': '/pages/1/handoff',
};
/** How near to its floor a screen is to show its first content, by the conditions. */
const NEAR: Record<string, number> = { 'home-laptop': 1.3, 'slow-phone': 1.5 };
const MOST_SHIFT = 0.01;
const MOST_SCRIPT_KB = 230;
const RUNS = 3;

const carry = <O extends Order>(order: O): Promise<ResultOf<O['kind']>> => carryOut(order, () => undefined);

/** Our own screens, full of the demo, measured as any page is: how soon they show their content, and what they bring along. */
export async function selfPageBench(): Promise<Finding> {
  const data = mkdtempSync(join(tmpdir(), 'wistrel-self-page-'));
  const database = await openDatabase(data, 'the benchmark');
  await seedDatabase(database, 'https://www.skerravane.localhost:9443', `${'x'.repeat(43)}=`);
  await database.close();
  const application = await startWistrel('start', data);
  const rows: Finding['rows'] = [];
  try {
    for (const [name, path] of Object.entries(SCREENS)) {
      const captured = await capture(application, name, path);
      for (const id of Object.keys(NEAR)) {
        const row = await rowOf(name, captured, findConditions(id)!);
        console.log(row.join(' | '));
        rows.push(row);
      }
    }
  } finally {
    await application.stop();
    rmSync(data, { recursive: true, force: true });
  }
  return {
    title: 'Our own screens',
    about: `The application’s screens with the demo in them, captured and measured as any page (medians of ${RUNS} runs). To reach: first contentful paint at most ${NEAR['home-laptop']} times its floor under home-laptop and ${NEAR['slow-phone']} times under slow-phone, layout shift at most ${MOST_SHIFT}, at most ${MOST_SCRIPT_KB} KB of script that the document itself asks for: with it the screen can be used.`,
    columns: [
      'screen',
      'conditions',
      'first content, ms',
      'floor, ms',
      'times the floor',
      'layout shift',
      'script, KB',
      'holds',
    ],
    rows,
  };
}

async function capture(application: RunningDemo, pageName: string, path: string): Promise<CaptureResult> {
  const { port } = new URL(application.url);
  const token = new URL(application.address).searchParams.get('token')!;
  return carry({
    kind: 'capture',
    pageName,
    url: application.url + path,
    conditions: findConditions('home-laptop')!,
    accepted: [],
    visit: { headers: [], cookies: [{ name: `wistrel-${port}`, value: token }], steps: [] },
    ownClock: true,
  });
}

async function rowOf(
  pageName: string,
  { capture: taken, bodies, state }: CaptureResult,
  conditions: Conditions,
): Promise<(string | number)[]> {
  const { measurement } = await carry({
    kind: 'replay',
    pageName,
    capture: taken,
    bodies,
    state,
    conditions,
    runs: RUNS,
    returnVisits: false,
    yardstick: null,
  });
  const run = measurement.runs[measurement.medianRun]!;
  const { floor } = mapPage({
    assets: readPageAssets(new CapturedPage(taken, bodies), run.requests),
    run,
    runs: measurement.runs,
    conditions,
    fold: null,
    headline: 'firstContentfulPaintMs',
    earliestMs: null,
  });
  const content = medianOf(measurement, 'firstContentfulPaintMs');
  const shift = medianOf(measurement, 'cumulativeLayoutShift');
  // What a screen asks for once it works is not waited for.
  const own = new Set(
    taken.exchanges.flatMap(({ url, discovery: { by } }) => (/^(parser|preload)$/.test(by) ? [url] : [])),
  );
  const scripts = run.requests.filter(({ kind, url }) => kind === 'script' && own.has(url));
  const scriptKb = scripts.reduce((sum, { wireBytes }) => sum + wireBytes, 0) / 1000;
  const times = content / (floor?.atMs ?? NaN);
  const holds = times <= NEAR[conditions.id]! && shift <= MOST_SHIFT && scriptKb <= MOST_SCRIPT_KB;
  return [
    pageName,
    conditions.id,
    Math.round(content),
    Math.round(floor?.atMs ?? NaN),
    times.toFixed(2),
    shift.toFixed(3),
    Math.round(scriptKb),
    holds ? 'yes' : 'no',
  ];
}

function medianOf({ spreads }: RunSet, metric: keyof RunSet['spreads']): number {
  return spreads[metric].median ?? NaN;
}
