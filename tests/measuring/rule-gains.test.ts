import { expect, it } from 'vitest';
import { findConditions } from '../../src/core/measure/conditions.ts';
import { readPageAssets } from '../../src/core/page/page-assets.ts';
import { recommendPlan } from '../../src/core/treat/recommend.ts';
import { sceneOf } from '../../src/core/treat/scene.ts';
import { ruleSteps } from '../../src/core/trial/rule-steps.ts';
import { runRuleGains } from '../../src/engine/trial/run-rule-gains.ts';
import { madePage } from '../engine/made-capture.ts';

it('measures what each rule gains, put in one after the other', { retry: 2 }, async () => {
  const large = (name: string, length: number) => `var ${name} = "${name.repeat(length)}";`;
  const page = madePage(
    '<!DOCTYPE html><title>Quay</title><script src="large.js"></script><script src="small.js"></script><p>Quay</p>',
    { 'large.js': large('large', 300_000), 'small.js': large('small', 100) },
  );
  const { capture } = page;
  const scene = sceneOf(readPageAssets(page, []), null);
  const plan = recommendPlan(scene);
  const steps = ruleSteps(scene, plan, (url) => (url.endsWith('large.js') ? 900 : 0));
  expect(steps).toHaveLength(2);
  const gains = await runRuleGains({
    capture,
    bodies: new Map(capture.exchanges.map((one) => [one.bodyHash!, page.body(one.url)!] as const)),
    state: null,
    conditions: findConditions('home-laptop')!,
    yardstick: null,
    scene,
    plan,
    steps,
    rounds: 6,
  });
  const [first, second] = gains.steps;
  expect(first!.gained.verdict).toBe('earlier');
  expect(gains.asIsMs! - first!.paintMs!).toBeGreaterThan(100);
  // What is left is a request that the parser no longer waits for.
  expect(first!.gained.differenceMs).toBeLessThan(second!.gained.differenceMs * 2);
});
