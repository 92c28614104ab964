import { describe, expect, it } from 'vitest';
import { decisionSentence } from '../words/own-decision.ts';
import { decisionsIn, decisionsMark, ownDecisions, withPageDecisions } from './decisions.ts';
import { effectOf, planFingerprint, type Plan, type PlanRule } from './plan.ts';

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

describe('decisions over the recommendation', () => {
  const first = plan(rule('a.js', 'defer'), rule('b.js', 'defer'), rule('site.css', 'as-authored'));
  /** The recommendation, once there is fold CSS and one script more. */
  const later = plan(
    rule('site.css', 'late', { id: 'r1' }),
    rule('a.js', 'delay', { id: 'r2' }),
    rule('b.js', 'async', { id: 'r3' }),
    rule('c.js', 'defer', { id: 'r4' }),
  );
  const effects = ({ rules }: Plan) => rules.map((one) => `${one.id} ${effectOf(one)}`);

  it('keeps only what was decided: all else follows what is recommended later', () => {
    const own = plan(
      rule('a.js', 'after-first-paint', { why: 'It draws the chart.' }),
      ...first.rules.slice(1),
    );
    const { rules } = decisionsIn(own, first, []);
    expect(rules).toEqual([own.rules[0]]);
    expect(effects(withPageDecisions(first, rules))).toEqual(effects(own));
    const now = withPageDecisions(later, rules);
    expect(effects(now)).toEqual(['r1 late', 'r2 after-first-paint', 'r3 async', 'r4 defer']);
    expect(now.rules[1]).toMatchObject({ why: 'It draws the chart.' });
  });

  it('takes what a plan leaves out for switched off, and gives back the plan that went in', () => {
    const file = plan(rule('a.js', 'defer'), rule('z.js', 'inline'));
    const { rules, knew } = decisionsIn(file, first, []);
    const now = withPageDecisions(first, rules);
    expect(planFingerprint(now)).toBe(planFingerprint(file));
    expect(knew).toHaveLength(3);
    // Nothing decided, nothing kept.
    expect(decisionsIn(first, first, []).rules).toEqual([]);
  });

  it('keeps what was decided before, though it has come to be what is recommended', () => {
    const before = [rule('b.js', 'async')];
    const shown = withPageDecisions(later, before);
    expect(decisionsIn(shown, later, before).rules.map(effectOf)).toEqual(['async']);
    expect(decisionsIn(shown, later, []).rules).toEqual([]);
  });

  it('lets what goes along with a decided rule have no treatment of its own, whatever is recommended for it', () => {
    const inline = { inline: 'lib.start();' };
    const along = rule('a.js', 'delay', { together: [inline] });
    const recommended = plan(rule('a.js', 'defer'), rule('x', 'inline-wait', { match: inline }));
    const now = withPageDecisions(recommended, [along]);
    expect(now.rules.map(effectOf)).toEqual(['delay', 'as-authored']);
    // And what is recommended takes nothing along any more that was decided otherwise.
    const back = withPageDecisions(plan(along), [rule('a.js', 'defer')]);
    expect(back.rules[0]!.together).toBeUndefined();
  });

  it('is marked by what it does, in whatever order', () => {
    const [a, b] = [rule('a.js', 'defer'), rule('b.js', 'delay')];
    expect(decisionsMark([a, b])).toBe(decisionsMark([{ ...b, reason: 'other' }, a]));
    expect(decisionsMark([a, b])).not.toBe(decisionsMark([a, { ...b, on: false }]));
  });
});
