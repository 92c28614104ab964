import { findConditions } from '../src/core/measure/conditions.ts';
import type { Metrics } from '../src/core/measure/metrics.ts';
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

const TRIALS = Number(process.env['WISTREL_SELF_TRIALS'] ?? 40);
const RESAMPLED = 200;

/** What trials of a page against itself called, though there is no difference. */
interface Called {
  trials: number;
  pairs: number;
  paint: number;
  speedIndex: number;
  either: number;
  worse: number;
}

/** A page against itself, many times: how often a difference is called where there is none. Takes two hours. */
export async function selfBench(): Promise<Finding> {
  const conditions = findConditions('home-laptop')!;
  const { capture, bodies } = await demoCapture();
  const page = readPageAssets(new CapturedPage(capture, bodies), []);
  const same = applyPlan(sceneOf(page, null), { wistrelPlan: 1, page: capture.url, rules: [] });
  const live = none();
  const loads: Metrics[] = [];
  for (let trial = 0; trial < TRIALS; trial++) {
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
      conditions,
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
    count(live, result);
    loads.push(...arms.flatMap(({ metrics }) => metrics));
    console.log(
      `trial ${trial + 1} of ${TRIALS}: ${result.verdict}, ${result.speedIndex.verdict}, ${result.paint.pairs} pairs`,
    );
  }
  const resampled = resample(loads);
  return {
    title: 'A page against itself',
    about: `Both arms the demo home page as is, under home-laptop, as many pairs as a trial takes: ${TRIALS} trials held, and ${resampled.trials} put together anew from their ${loads.length} loads at random. At most 5 % may call a difference.`,
    columns: [
      '',
      'trials',
      'pairs each',
      'paint called',
      'Speed Index called',
      'either',
      'another metric called worse',
    ],
    rows: [rowOf('held', live), rowOf('put together anew', resampled)],
  };
}

/** Trials of loads drawn at random: none of them knows which arm it was of. */
function resample(loads: readonly Metrics[]): Called {
  const called = none();
  const most = LOOKS.at(-1)!;
  if (loads.length < 2 * most) return called;
  const ids = loads.map((_load, index) => String(index));
  const drawn = roundOrder(ids, 1);
  for (let trial = 0; trial < RESAMPLED; trial++) {
    const order = drawn(trial).map((id) => loads[Number(id)]!);
    const pairs: Pair[] = [];
    for (let wanted; (wanted = pairsWanted('until clear', pairs)) > pairs.length && order.length > 1;)
      while (pairs.length < wanted && order.length > 1)
        pairs.push({ asIs: order.pop()!, treated: order.pop()! });
    count(
      called,
      judge(pairs, NOTHING_BESIDES, { pageName: 'Home', isAsIs: true, visit: 'first' }, AT_EACH_LOOK),
    );
  }
  return called;
}

const none = (): Called => ({ trials: 0, pairs: 0, paint: 0, speedIndex: 0, either: 0, worse: 0 });

function count(called: Called, { paint, speedIndex, worse }: TrialResult): void {
  const says = (verdict: string) => verdict === 'earlier' || verdict === 'later';
  const [first, second] = [says(paint.verdict), says(speedIndex.verdict)];
  called.trials++;
  called.pairs += paint.pairs;
  if (first) called.paint++;
  if (second) called.speedIndex++;
  if (first || second) called.either++;
  if (worse.length) called.worse++;
}

function rowOf(name: string, { trials, pairs, ...called }: Called): (string | number)[] {
  const each = trials ? (pairs / trials).toFixed(1) : '–';
  return [name, trials, each, called.paint, called.speedIndex, called.either, called.worse];
}
