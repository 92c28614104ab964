import { describe, expect, it } from 'vitest';
import { madePage } from '../../../tests/engine/made-capture.ts';
import { readPageAssets } from '../page/page-assets.ts';
import type { Plan, PlanRule } from '../treat/plan.ts';
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
