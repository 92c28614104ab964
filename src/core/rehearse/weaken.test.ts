import { describe, expect, it } from 'vitest';
import { madePage } from '../../../tests/engine/made-capture.ts';
import { readPageAssets } from '../page/page-assets.ts';
import { applyPlan } from '../treat/apply.ts';
import type { Plan, PlanRule } from '../treat/plan.ts';
import { recommendPlan } from '../treat/recommend.ts';
import { sceneOf } from '../treat/scene.ts';
import type { Scene } from '../treat/treatment.ts';
import { weaken } from './weaken.ts';

const PAGE = 'https://quay.test/';
const MEASURES = '<script src="chart.js" defer></script>';

function sceneFor(html: string): Scene {
  const page = readPageAssets(madePage(html, { 'a.css': 'p{}', 'chart.js': 'p.offsetWidth' }), []);
  const fold = [{ url: `${PAGE}a.css`, css: 'p{}', keptRules: 1, rules: 2, foldBytes: 3 }];
  return { ...sceneOf(page, null), fold, foldUsable: true };
}

function weakened(scene: Scene, treatment: string): PlanRule {
  const rule: PlanRule = {
    id: 'r1',
    on: true,
    kind: 'stylesheet',
    match: { url: `${PAGE}a.css` },
    scope: 'page',
    treatment,
    reason: '',
    risk: 'low',
  };
  const plan: Plan = { wistrelPlan: 1, page: PAGE, rules: [rule] };
  return weaken(scene, plan, rule, 'As treated, the chart is narrow.').rules[0]!;
}

describe('a sheet that showed a fault', () => {
  it('stays late where scripts can be made to wait for it, and is as authored after that', () => {
    const scene = sceneFor(
      `<html><head><link rel="stylesheet" href="a.css"></head><body><p></p>${MEASURES}</body></html>`,
    );
    const first = weakened(scene, 'fold-css-late');
    expect(first).toMatchObject({
      treatment: 'fold-css-held',
      reason: 'Rehearsed as “fold CSS + late”: As treated, the chart is narrow.',
    });
    expect(weakened(scene, 'fold-css-held').treatment).toBe('as-authored');
  });

  it('is as authored where no script waits, or the page ends within something', () => {
    const none = sceneFor(
      '<html><head><link rel="stylesheet" href="a.css"></head><body><p></p></body></html>',
    );
    expect(weakened(none, 'fold-css-late').treatment).toBe('as-authored');
    const open = sceneFor(`<link rel="stylesheet" href="a.css">${MEASURES}<p>Quay<!-- open`);
    expect(weakened(open, 'fold-css-late').treatment).toBe('as-authored');
  });
});

describe('a script that showed a fault', () => {
  it('takes along what cannot be carried out without it, which says so', () => {
    const page = madePage(
      '<script src="lib.js"></script><script src="other.js"></script><script src="app.js"></script>',
      { 'lib.js': 'window.lib = {}', 'other.js': 'window.other = 1', 'app.js': 'lib.start = 1' },
    );
    const scene = sceneOf(readPageAssets(page, []), null);
    const plan = recommendPlan(scene);
    expect(plan.rules.map(({ treatment }) => treatment)).toEqual(['defer', 'defer', 'defer']);
    const weaker = weaken(scene, plan, plan.rules[2]!, 'As treated, it is late.');
    expect(weaker.rules.map(({ treatment }) => treatment)).toEqual(['as-authored', 'defer', 'as-authored']);
    expect(weaker.rules[0]!.reason).toBe(
      'It cannot go on as app.js stays: Line 1 of app.js reads “lib” while the page is parsed.',
    );
    expect(applyPlan(scene, weaker).notApplied).toEqual([]);
  });
});
