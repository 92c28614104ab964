import { describe, expect, it } from 'vitest';
import { decisionSentence } from '../words/own-decision.ts';
import { ownDecisions } from './decisions.ts';
import type { Plan, PlanRule } from './plan.ts';

const rule = (file: string, treatment: string, more: Partial<PlanRule> = {}): PlanRule => ({
  id: file,
  on: true,
  kind: 'script',
  match: { url: `https://quay.test/${file}?v=2` },
  scope: 'page',
  treatment,
  reason: '',
  risk: 'low',
  ...more,
});
const plan = (...rules: PlanRule[]): Plan => ({ wistrelPlan: 1, page: 'https://quay.test/', rules });

describe('a plan of one’s own', () => {
  it('differs from the recommended one where a rule does something else, however it is said', () => {
    const recommended = plan(
      rule('a.js', 'defer'),
      rule('b.js', 'delay', { on: false }),
      rule('c.js', 'defer'),
    );
    const own = plan(
      rule('a.js', 'delay', { why: 'The desk asks for it. ' }),
      rule('b.js', 'as-authored'),
      rule('c.js', 'defer', { on: false }),
      rule('new.js', 'defer'),
    );
    expect(ownDecisions(own, recommended).map(decisionSentence)).toEqual([
      'a.js: delay until interaction instead of defer. The desk asks for it.',
      'c.js: as authored instead of defer; no reason was given.',
      'new.js: defer instead of as authored; no reason was given.',
    ]);
  });

  it('is none where each rule does what is recommended', () => {
    const recommended = plan(rule('a.js', 'defer'));
    expect(ownDecisions(plan(rule('a.js', 'defer', { id: 'other' })), recommended)).toEqual([]);
  });
});
