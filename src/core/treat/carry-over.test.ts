import { expect, it } from 'vitest';
import { madePage } from '../../../tests/engine/made-capture.ts';
import { readPageAssets } from '../page/page-assets.ts';
import { applyPlan } from './apply.ts';
import { carriedOver } from './carry-over.ts';
import { matchText } from './plan.ts';
import { recommendPlan } from './recommend.ts';
import { sceneOf } from './scene.ts';

const sceneFor = (html: string, files: Record<string, string>) =>
  sceneOf(readPageAssets(madePage(html, files), []), null);

it('carries a plan over to another page: what that has too, by its name there, and only what is legal there', () => {
  const lib = 'var lib = { start: function () {} };';
  const here = sceneFor(
    '<script src="/a/lib.4f2a91bc.js"></script><script src="/a/own.js"></script><script src="/a/only-here.js"></script>',
    {
      'a/lib.4f2a91bc.js': lib,
      'a/own.js': 'document.title = "Quay";',
      'a/only-here.js': 'window.here = 1;',
    },
  );
  const plan = recommendPlan(here);
  expect(plan.rules.map((rule) => rule.treatment)).toEqual(['defer', 'defer', 'defer']);
  const there = sceneFor(
    '<script src="/a/lib.90ce77d1.js"></script><script>lib.start(); document.write("<p>Tide</p>");</script><script src="/a/own.js"></script>',
    { 'a/lib.90ce77d1.js': lib, 'a/own.js': 'document.title = "Quay";' },
  );
  const carried = carriedOver(plan, 'https://quay.test/tides', there);
  expect(carried.plan.page).toBe('https://quay.test/tides');
  expect(carried.plan.rules.map((rule) => matchText(rule.match))).toEqual([
    'https://quay.test/a/lib.90ce77d1.js',
    'https://quay.test/a/own.js',
  ]);
  expect(carried.absent).toEqual(['https://quay.test/a/only-here.js']);
  // There an inline script needs the library at its place.
  const [refused, ...others] = applyPlan(there, carried.plan).notApplied;
  expect(others).toEqual([]);
  expect(refused!.ruleId).toBe(carried.plan.rules[0]!.id);
});
