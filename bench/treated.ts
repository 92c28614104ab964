import { findConditions, type Conditions } from '../src/core/measure/conditions.ts';
import { headlineOfSpreads } from '../src/core/measure/headline.ts';
import { CapturedPage } from '../src/core/page/captured-page.ts';
import { readPageAssets } from '../src/core/page/page-assets.ts';
import { mapPage } from '../src/core/path/map-page.ts';
import type { Rehearsal } from '../src/core/rehearse/rehearsal.ts';
import { recommendPlan } from '../src/core/treat/recommend.ts';
import { sceneOf } from '../src/core/treat/scene.ts';
import { AS_IS, TREATED } from '../src/core/trial/arms.ts';
import { billWords } from '../src/core/words/bill.ts';
import { inTheWay } from '../src/core/words/what-is-left.ts';
import type { FoldResult } from '../src/engine/fold/fold-result.ts';
import { carryOut, type Order, type ResultOf } from '../src/engine/jobs/orders.ts';
import { benchPages, type BenchPage } from './pages.ts';
import type { Finding } from './report.ts';

const CONDITIONS = ['slow-phone', 'home-laptop'].map((id) => findConditions(id)!);
const RUNS = 3;
const PAIRS = 6;
/** How near to its floor a treated page is to come. */
const NEAR = 1.15;

const carry = <O extends Order>(order: O): Promise<ResultOf<O['kind']>> => carryOut(order, () => undefined);

/** Each page's recommended plan, rehearsed and tried: how near to its floor it brings the page, and what breaks. */
export async function treatedBench(): Promise<Finding> {
  const rows: Finding['rows'] = [];
  for (const page of benchPages()) {
    const { fold } = await carry({ kind: 'fold', pageName: page.name, ...page, state: null });
    // Under other conditions most pages get the same plan, which is rehearsed once.
    const rehearsals = new Map<string, Rehearsal>();
    for (const conditions of CONDITIONS) {
      const row = await treatedRow(page, conditions, fold, rehearsals);
      console.log(row.join(' | '));
      rows.push(row);
    }
  }
  return {
    title: 'Treated against the floor',
    about: `The recommended plan, rehearsed, then a trial of ${PAIRS} pairs; times are of the headline. To reach: treated at most ${NEAR} times the floor, and nothing broken. Where a page does not get there, what its treated paint waits for longest besides the way to the server.`,
    columns: [
      'page',
      'conditions',
      'as is',
      'treated',
      'floor',
      'times the floor',
      'the trial says',
      'rehearsed',
      'in the way',
    ],
    rows,
  };
}

async function treatedRow(
  { name, capture, bodies }: BenchPage,
  conditions: Conditions,
  fold: FoldResult,
  rehearsals: Map<string, Rehearsal>,
): Promise<(string | number)[]> {
  const page = { pageName: name, capture, bodies, state: null };
  const { measurement } = await carry({
    kind: 'replay',
    ...page,
    conditions,
    runs: RUNS,
    returnVisits: false,
    yardstick: null,
  });
  const run = measurement.runs[measurement.medianRun]!;
  const assets = readPageAssets(new CapturedPage(capture, bodies), run.requests);
  const headline = headlineOfSpreads(measurement.spreads);
  const { floor } = mapPage({
    assets,
    run,
    runs: measurement.runs,
    conditions,
    fold,
    headline,
    earliestMs: null,
  });
  const scene = sceneOf(assets, fold);
  const recommended = recommendPlan(scene);
  const key = JSON.stringify(recommended.rules);
  const replayed = { ...page, requests: run.requests, fold };
  const rehearsal =
    rehearsals.get(key) ??
    (await carry({ kind: 'rehearse', ...replayed, plan: recommended, checks: [] })).rehearsal;
  rehearsals.set(key, rehearsal);
  const { trial } = await carry({
    kind: 'trial',
    ...replayed,
    yardstick: measurement.yardstick,
    plan: rehearsal.plan,
    rehearsal: { ...rehearsal, exceptions: [], gaveUp: false },
    conditions,
    pairs: PAIRS,
  });
  const of = (arm: string) =>
    trial.arms.find((one) => one.id === arm)!.spreads[trial.result.headline].median ?? NaN;
  const times = of(TREATED) / floor!.atMs;
  const excepted = rehearsal.exceptions.map((one) => one.ruleId).join(', ');
  return [
    name,
    conditions.id,
    Math.round(of(AS_IS)),
    Math.round(of(TREATED)),
    Math.round(floor!.atMs),
    times.toFixed(2),
    trial.result.verdict,
    `${rehearsal.held} orders held${excepted ? `; excepted or weakened: ${excepted}` : ''}`,
    times > NEAR && trial.left
      ? inTheWay(trial.left)
          .map((one) => `${billWords(one).label} ${Math.round(one.treatedMs)} ms`)
          .join('; ')
      : '',
  ];
}
