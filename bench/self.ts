import { appendFileSync, existsSync, mkdirSync, readFileSync } from 'node:fs';
import { dirname } from 'node:path';
import { findConditions } from '../src/core/measure/conditions.ts';
import { METRICS, type Metrics } from '../src/core/measure/metrics.ts';
import { CapturedPage } from '../src/core/page/captured-page.ts';
import { readPageAssets } from '../src/core/page/page-assets.ts';
import { AT_EACH_LOOK, LOOKS, pairsWanted } from '../src/core/trial/looks.ts';
import { roundOrder } from '../src/core/trial/order.ts';
import type { Pair } from '../src/core/trial/pair.ts';
import { judge, type TrialResult } from '../src/core/trial/verdict.ts';
import { applyPlan } from '../src/core/treat/apply.ts';
import { sceneOf } from '../src/core/treat/scene.ts';
import { runTrial } from '../src/engine/trial/run-trial.ts';
import { NOTHING_BESIDES } from '../tests/engine/made-checks.ts';
import { demoCapture } from './measuring.ts';
import type { Finding } from './report.ts';

/** So many are wanted in all. They take two hours: what was held is kept, and a later call goes on from there. */
const WANTED = 40;
const AT_ONCE = Number(process.env['WISTREL_SELF_TRIALS'] ?? WANTED);
const RESAMPLED = 200;

/** What a trial of a page against itself called, though there is no difference. */
interface Called {
  pairs: number;
  paint: boolean;
  speedIndex: boolean;
  worse: boolean;
}

/** A page against itself, many times: how often a difference is called where there is none. */
export async function selfBench(): Promise<Finding> {
  const kept = readKept();
  const further = Math.min(AT_ONCE, WANTED - kept.length);
  const { capture, bodies } = await demoCapture();
  const page = readPageAssets(new CapturedPage(capture, bodies), []);
  const same = applyPlan(sceneOf(page, null), { wistrelPlan: 1, page: capture.url, rules: [] });
  for (let trial = 0; trial < further; trial++) {
    const { result, arms } = await runTrial({
      capture,
      bodies,
      state: null,
      yardstick: null,
      asIs: same,
      isAsIs: true,
      treated: same,
      parts: null,
      answers: [],
      conditions: findConditions('home-laptop')!,
      rehearsal: null,
      billed: null,
      pairs: 'until clear',
      bothDevices: false,
      visit: 'first',
      returnVisits: false,
      taps: false,
      beside: [],
      pageName: 'Home',
    });
    const loads = arms.flatMap(({ metrics }) => metrics);
    keep({ date: new Date().toISOString().slice(0, 10), called: calledIn(result), loads });
    console.log(
      `trial ${kept.length + trial + 1} of ${WANTED}: ${result.verdict}, ${result.speedIndex.verdict}, ${result.paint.pairs} pairs`,
    );
  }
  return findingOf(readKept());
}

function findingOf(kept: readonly Kept[]): Finding {
  const loads = kept.flatMap((one) => one.loads);
  const dates = [...new Set(kept.map(({ date }) => date))].join(', ');
  return {
    title: 'A page against itself',
    about: `Both arms the demo home page as is, under home-laptop, as many pairs as a trial takes: ${kept.length} trials held (${dates}), and ${RESAMPLED} put together anew from their ${loads.length} loads at random. At most 5 % may call a difference of the paint or of Speed Index.`,
    columns: [
      '',
      'trials',
      'pairs each',
      'paint called',
      'Speed Index called',
      'either',
      'another metric called worse',
    ],
    rows: [
      rowOf(
        'held',
        kept.map(({ called }) => called),
      ),
      rowOf('put together anew', resample(loads)),
    ],
  };
}

/** Trials of loads drawn at random: none of them knows which arm it was of. */
function resample(loads: readonly Metrics[]): Called[] {
  if (loads.length < 2 * LOOKS.at(-1)!) return [];
  const drawn = roundOrder(
    loads.map((_load, index) => String(index)),
    1,
  );
  return Array.from({ length: RESAMPLED }, (_, trial) => {
    const order = drawn(trial).map((id) => loads[Number(id)]!);
    const pairs: Pair[] = [];
    for (let wanted; (wanted = pairsWanted('until clear', pairs)) > pairs.length && order.length > 1;)
      while (pairs.length < wanted && order.length > 1)
        pairs.push({ asIs: order.pop()!, treated: order.pop()! });
    return calledIn(
      judge(pairs, NOTHING_BESIDES, { pageName: 'Home', isAsIs: true, visit: 'first' }, AT_EACH_LOOK),
    );
  });
}

function calledIn({ paint, speedIndex, worse }: TrialResult): Called {
  const says = (verdict: string) => verdict === 'earlier' || verdict === 'later';
  return {
    pairs: paint.pairs,
    paint: says(paint.verdict),
    speedIndex: says(speedIndex.verdict),
    worse: worse.length > 0,
  };
}

function rowOf(name: string, trials: readonly Called[]): (string | number)[] {
  const of = (says: (one: Called) => boolean) => trials.filter(says).length;
  const pairs = trials.reduce((sum, one) => sum + one.pairs, 0);
  return [
    name,
    trials.length,
    trials.length ? (pairs / trials.length).toFixed(1) : '–',
    of((one) => one.paint),
    of((one) => one.speedIndex),
    of((one) => one.paint || one.speedIndex),
    of((one) => one.worse),
  ];
}

/** A trial that was held: a line of the file each. Taken away by hand when a trial is judged otherwise than then. */
interface Kept {
  date: string;
  called: Called;
  loads: Metrics[];
}

const FILE = 'bench/kept/self.jsonl';

function readKept(): Kept[] {
  if (!existsSync(FILE)) return [];
  const lines = readFileSync(FILE, 'utf8').trim().split('\n');
  return lines.map((line) => {
    const { figures, ...trial } = JSON.parse(line) as Omit<Kept, 'loads'> & { figures: (number | null)[][] };
    const loads = figures.map(
      (load) => Object.fromEntries(METRICS.map(({ key }, at) => [key, load[at]])) as unknown as Metrics,
    );
    return { ...trial, loads };
  });
}

function keep({ loads, ...trial }: Kept): void {
  mkdirSync(dirname(FILE), { recursive: true });
  const figures = loads.map((load) => METRICS.map(({ key }) => load[key]));
  const rounded = (_key: string, value: unknown) =>
    typeof value === 'number' ? Math.round(value * 1e4) / 1e4 : value;
  appendFileSync(FILE, `${JSON.stringify({ ...trial, figures }, rounded)}\n`);
}
