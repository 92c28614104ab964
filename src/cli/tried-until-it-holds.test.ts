import { expect, it } from 'vitest';
import { madePage } from '../../tests/engine/made-capture.ts';
import { readPageAssets } from '../core/page/page-assets.ts';
import type { Rehearsal } from '../core/rehearse/rehearsal.ts';
import type { Plan, PlanRule } from '../core/treat/plan.ts';
import { sceneOf } from '../core/treat/scene.ts';
import type { AtFault } from '../core/trial/at-fault.ts';
import type { Break } from '../core/trial/breaks.ts';
import { MOST_TRIED_AGAIN, triedUntilItHolds, type Rehearsed } from './tried-until-it-holds.ts';

const PAGE = 'https://quay.test/';
const scene = sceneOf(
  readPageAssets(
    madePage('<script src="menu.js"></script><script src="tide.js"></script><h1>Quay</h1>', {
      'menu.js': 'menu = 1',
      'tide.js': 'tide = 1',
    }),
    [],
  ),
  null,
);

const rule = (id: string): PlanRule => ({
  id,
  on: true,
  kind: 'script',
  match: { url: `${PAGE}${id}.js` },
  scope: 'page',
  treatment: 'delay',
  reason: '',
  risk: 'medium',
});
const FIRST: Plan = { wistrelPlan: 1, page: PAGE, rules: [rule('menu'), rule('tide')] };

const fault = (ruleId: string | null, over: Partial<AtFault> = {}): AtFault => ({
  kind: 'console',
  onOther: false,
  ruleId,
  goneWithout: true,
  ...over,
});

/** Trials that find these faults one after the other; what was done in between is written down. */
function trying(found: AtFault[][], allowed: string[] = []) {
  const held: Plan[] = [];
  const written: Plan[] = [];
  const rehearsed: Plan[] = [];
  const given: (Rehearsal | null)[] = [];
  const hold = (plan: Plan, rehearsal: Rehearsal | null) => {
    held.push(plan);
    given.push(rehearsal);
    const atFault = found[held.length - 1] ?? [];
    const breaks = atFault.map(({ kind }): Break => ({ kind, words: `a break of ${kind}` }));
    return Promise.resolve({ trial: { checks: { atFault, otherDevice: { breaks } }, result: { breaks } } });
  };
  const rehearse = (plan: Plan) => {
    rehearsed.push(plan);
    return Promise.resolve({ plan } as Rehearsal);
  };
  const onLess = (plan: Plan) => written.push(plan);
  const seen = { held, written, rehearsed, given };
  return { ...seen, over: { scene, allowed: new Set(allowed), hold, rehearse, onLess } };
}

const start: Rehearsed = { plan: FIRST, rehearsal: { plan: FIRST, gaveUp: true } as Rehearsal };
const treatments = (plan: Plan) => plan.rules.map(({ treatment }) => treatment);

it('leaves out what a trial shows to break the page, rehearses the rest and tries it again', async () => {
  const { held, written, rehearsed, given, over } = trying([[fault('menu')]]);
  const { plan, excepted } = await triedUntilItHolds(start, over);
  expect(held.map(treatments)).toEqual([
    ['delay', 'delay'],
    ['after-paint', 'delay'],
  ]);
  expect(excepted).toEqual(['Excepted, menu.js: In a trial with it: a break of console.']);
  expect(plan.rules[0]!.reason).toBe(
    'Tried as “delay until interaction”: In a trial with it: a break of console.',
  );
  // What is handed on is what was tried last.
  expect([rehearsed, written].map((plans) => plans.map(treatments))).toEqual([
    [['after-paint', 'delay']],
    [['after-paint', 'delay']],
  ]);
  // What rehearsing left out of the plan is no fault of the plan that is tried.
  expect(given[0]).toMatchObject({ exceptions: [], gaveUp: false });
});

it('has less done by a rule once, though it breaks the page in two ways', async () => {
  const { held, over } = trying([[fault('menu'), fault('menu', { kind: 'first-picture' })]]);
  const { plan, excepted } = await triedUntilItHolds(start, over);
  expect(treatments(held[1]!)).toEqual(['after-paint', 'delay']);
  expect(plan.rules[0]!.reason).toMatch(
    /a break of console\. In a trial with it: a break of first-picture\./,
  );
  expect(excepted).toHaveLength(2);
});

it('ends after so many, and says what still breaks', async () => {
  const always = Array.from({ length: 9 }, () => [fault('menu')]);
  const { held, over } = trying(always);
  const { plan, excepted } = await triedUntilItHolds(start, over);
  expect(held).toHaveLength(1 + MOST_TRIED_AGAIN);
  expect(plan).toBe(held.at(-1));
  expect(excepted.at(-1)).toMatch(/^A break of console: that comes of menu\.js/);
});

it('excepts nothing that may differ, nor without a rule found', async () => {
  const seen = [fault(null), fault('menu'), fault('tide', { kind: 'first-picture', onOther: true })];
  const { held, over } = trying([seen], ['console', 'other-device']);
  const { plan, excepted } = await triedUntilItHolds(start, over);
  expect(held).toHaveLength(1);
  expect(plan).toBe(FIRST);
  expect(excepted).toHaveLength(3);
});
