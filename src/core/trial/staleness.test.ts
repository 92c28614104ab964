import { expect, it } from 'vitest';
import { BUILT_IN_CONDITIONS } from '../measure/conditions.ts';
import type { Plan, PlanRule } from '../treat/plan.ts';
import { checksTried, sameConditions, whyOnOneDevice, whyOtherBasis, type TrialBasis } from './staleness.ts';

const [slow, everyday] = BUILT_IN_CONDITIONS as [
  (typeof BUILT_IN_CONDITIONS)[number],
  (typeof BUILT_IN_CONDITIONS)[number],
];
const rule = (treatment: PlanRule['treatment']): PlanRule => ({
  id: 'r1',
  on: true,
  kind: 'stylesheet',
  match: { url: 'https://q.test/a.css' },
  scope: 'page',
  treatment,
  reason: '',
  risk: 'low',
});
const plan = (treatment: PlanRule['treatment']): Plan => ({
  wistrelPlan: 1,
  page: 'https://q.test/',
  rules: [rule(treatment)],
});
const basis = (over: Partial<TrialBasis> = {}): TrialBasis => ({
  captureId: 1,
  plan: plan('fold-css-late'),
  fold: 'abc used',
  conditions: slow,
  checks: [],
  ...over,
});

it('is out of date when one’s own checks are others; where nothing was done on the page they are not asked for', () => {
  const now = basis({ checks: ['press Menu, see Booking'] });
  expect(whyOtherBasis(basis(), now)).toEqual(['the checks of your own were changed']);
  expect(whyOtherBasis(basis({ checks: null }), now)).toEqual([]);
  const done = (own?: string) => ({ words: '', effect: '', undecided: null, ...(own ? { own } : {}) });
  const tried = (deeds: ReturnType<typeof done>[]) => checksTried({ held: 1, of: 1, faults: [], deeds });
  expect(tried([done('press Menu, see Booking'), done('press Menu, see Booking'), done()])).toEqual(
    now.checks,
  );
  expect([tried([done()]), tried([]), checksTried(null)]).toEqual([[], null, null]);
});

it('holds while nothing has changed, under whatever name the conditions go', () => {
  expect(whyOtherBasis(basis(), basis({ conditions: { ...slow, name: 'Tram' } }))).toEqual([]);
});

it('is out of date when page, plan, fold CSS or conditions are others', () => {
  expect(whyOtherBasis(basis(), basis({ captureId: 2 }))).toEqual(['the page was captured again']);
  expect(whyOtherBasis(basis(), basis({ plan: plan('late') }))).toEqual(['the plan was changed']);
  expect(whyOtherBasis(basis(), basis({ fold: 'def used' }))).toEqual(['the fold CSS is another one']);
  expect(whyOtherBasis(basis(), basis({ fold: 'abc not used' }))).toEqual(['the fold CSS is another one']);
  expect(whyOtherBasis(basis(), basis({ conditions: { ...slow, downKbps: 900 } }))).toEqual([
    'the conditions were changed',
  ]);
  expect(whyOtherBasis(basis({ conditions: null }), basis())[0]).toContain('earlier version');
});

it('does not ask after fold CSS that the plan does not use', () => {
  const late = { plan: plan('late') };
  expect(whyOtherBasis(basis(late), basis({ ...late, fold: 'def used' }))).toEqual([]);
});

it('knows conditions again whatever order their keys come in', () => {
  const turned = Object.fromEntries(Object.entries(slow).reverse()) as unknown as typeof slow;
  expect(sameConditions(slow, turned)).toBe(true);
  expect(sameConditions(slow, everyday)).toBe(false);
});

it('does not prove a plan where a version of before held it on one kind of device', () => {
  const alone = { otherDevice: null };
  expect(whyOnOneDevice({ result: { verdict: 'earlier' }, checks: alone })).toEqual([
    'an earlier version held it, on one kind of device only',
  ]);
  // What is not earlier is proved nowhere, and is not out of date for that.
  expect(whyOnOneDevice({ result: { verdict: 'no clear difference' }, checks: alone })).toEqual([]);
});
