import { findConditions } from '../src/core/measure/conditions.ts';
import { CapturedPage } from '../src/core/page/captured-page.ts';
import { readPageAssets } from '../src/core/page/page-assets.ts';
import { applyPlan } from '../src/core/treat/apply.ts';
import { sceneOf } from '../src/core/treat/scene.ts';
import { runTrial } from '../src/engine/trial/run-trial.ts';
import { demoCapture } from './measuring.ts';
import type { Finding } from './report.ts';

const TRIALS = Number(process.env['WISTREL_SELF_TRIALS'] ?? 40);
const PAIRS = 6;

/** A page against itself, many times: how often a difference is called where there is none. Takes an hour. */
export async function selfBench(): Promise<Finding> {
  const conditions = findConditions('home-laptop')!;
  const { capture, bodies } = await demoCapture();
  const page = readPageAssets(new CapturedPage(capture, bodies), []);
  const same = applyPlan(sceneOf(page, null), { wistrelPlan: 1, page: capture.url, rules: [] });
  const called = { paint: 0, speedIndex: 0, either: 0, worse: 0 };
  for (let trial = 0; trial < TRIALS; trial++) {
    const { result } = await runTrial({
      capture,
      bodies,
      state: null,
      yardstick: null,
      asIs: same,
      treated: same,
      conditions,
      rehearsal: null,
      billed: null,
      pairs: PAIRS,
      pageName: 'Home',
    });
    const says = (verdict: string) => verdict === 'earlier' || verdict === 'later';
    const [paint, index] = [says(result.verdict), says(result.speedIndex.verdict)];
    if (paint) called.paint++;
    if (index) called.speedIndex++;
    if (paint || index) called.either++;
    if (result.worse.length) called.worse++;
    console.log(`trial ${trial + 1} of ${TRIALS}: ${result.verdict}, ${result.speedIndex.verdict}`);
  }
  return {
    title: 'A page against itself',
    about: `${TRIALS} trials of ${PAIRS} pairs, both arms the demo home page as is, under home-laptop: at most 5 of 40 may call a difference.`,
    columns: ['trials', 'paint called', 'Speed Index called', 'either', 'another metric called worse'],
    rows: [[TRIALS, called.paint, called.speedIndex, called.either, called.worse]],
  };
}
