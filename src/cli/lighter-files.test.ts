import { expect, it } from 'vitest';
import type { PlanRule } from '../core/treat/plan.ts';
import { usesLighterFiles } from './lighter-files.ts';

const uses = (kind: PlanRule['kind'], treatment: string, on = true) =>
  usesLighterFiles({
    wistrelPlan: 1,
    page: 'https://quay.test/',
    rules: [
      {
        id: 'r1',
        on,
        kind,
        match: { url: 'https://quay.test/chart' },
        scope: 'page',
        treatment,
        reason: '',
        risk: 'low',
      },
    ],
  });

it('makes them for plans with files written anew, and for embeds whose picture stands in their place', () => {
  expect(uses('image-file', 'lighter')).toBe(true);
  expect(uses('font-file', 'subset')).toBe(true);
  expect(uses('embed', 'on-press')).toBe(true);
  expect(uses('embed', 'on-press', false)).toBe(false);
  expect(uses('embed', 'late')).toBe(false);
  expect(uses('image', 'late')).toBe(false);
});
