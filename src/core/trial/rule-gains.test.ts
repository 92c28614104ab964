import { describe, expect, it } from 'vitest';
import { madePage } from '../../../tests/engine/made-capture.ts';
import type { Metrics } from '../measure/metrics.ts';
import { readPageAssets } from '../page/page-assets.ts';
import { matchText } from '../treat/plan.ts';
import { recommendPlan } from '../treat/recommend.ts';
import { sceneOf } from '../treat/scene.ts';
import { ruleGainsSentence } from '../words/rule-gains.ts';
import { ruleGains } from './rule-gains.ts';
import { planAfter, ruleSteps } from './rule-steps.ts';

const names = (...files: string[]) => files.map((name) => `<script src="${name}.js"></script>`).join('');
const FILES = Object.fromEntries(
  ['a', 'b', 'c', 'd', 'e', 'f', 'g', 'h'].map((name) => [`${name}.js`, `var ${name} = 1;`]),
);
const sceneOfPage = (html: string) => sceneOf(readPageAssets(madePage(html, FILES), []), null);
const stepsOf = (html: string, waited: Record<string, number>) => {
  const scene = sceneOfPage(html);
  const plan = recommendPlan(scene);
  const steps = ruleSteps(scene, plan, (url) => waited[url.split('/').at(-1)!] ?? 0);
  const label = (id: string) =>
    matchText(plan.rules.find((rule) => rule.id === id)!.match)
      .split('/')
      .at(-1);
  return { plan, steps, labels: steps.map(({ ruleIds }) => ruleIds.map(label)) };
};

describe('the steps in which a plan is put in', () => {
  it('are what the paint waited for one by one, in the plan’s order, and all others at the end', () => {
    const { plan, steps, labels } = stepsOf(names('a', 'b', 'c', 'd'), { 'c.js': 90, 'a.js': 20 });
    expect(labels).toEqual([['a.js'], ['c.js'], ['b.js', 'd.js']]);
    expect(planAfter(plan, steps, 1).rules.map((rule) => rule.id)).toEqual([
      plan.rules[0]!.id,
      plan.rules[2]!.id,
    ]);
  });

  it('are six at most: what the paint waited for least goes with the others', () => {
    const waited = { 'a.js': 1, 'b.js': 7, 'c.js': 6, 'd.js': 5, 'e.js': 4, 'f.js': 3 };
    const { labels } = stepsOf(names('a', 'b', 'c', 'd', 'e', 'f', 'g'), waited);
    expect(labels).toEqual([['b.js'], ['c.js'], ['d.js'], ['e.js'], ['f.js'], ['a.js', 'g.js']]);
  });

  it('are taken together where one is not legal without the other', () => {
    const html = '<script src="a.js"></script><script>use(a)</script><script src="b.js"></script>';
    const { labels } = stepsOf(html, { 'a.js': 50, 'b.js': 20 });
    expect(labels).toEqual([['a.js', 'b.js', expect.stringContaining('use(a)')]]);
  });
});

describe('what each step gains', () => {
  const steps = [{ ruleIds: ['r1'] }, { ruleIds: ['r2', 'r3'] }];
  const round = (...paints: (number | null)[]) =>
    paints.map((paint) => ({ firstPaintMs: paint, firstContentfulPaintMs: paint }) as Metrics);

  it('is its difference to the step before it in the same round, whatever the machine does meanwhile', () => {
    // The machine is 400 ms slower from round to round, which no step is to be charged with.
    const rounds = [0, 1, 2, 3, 4, 5].map((slow) => {
      const at = slow * 400;
      return round(2_000 + at, 1_500 + at + slow, 1_498 + at + slow);
    });
    const gains = ruleGains(steps, rounds);
    expect(gains.steps.map(({ gained }) => [Math.round(gained.differenceMs), gained.verdict])).toEqual([
      [-497, 'earlier'],
      [-2, 'no clear difference'],
    ]);
    expect(ruleGainsSentence(gains)).toBe(
      'First paint goes from 3,000 ms to 2,501 ms: 1 of 2 steps surely brings it earlier.',
    );
  });

  it('says what a step makes worse beside what it gains', () => {
    const rounds = [0, 1, 2, 3, 4, 5].map((more) => [
      { ...round(2_000)[0]!, domReadyMs: 900 + more },
      { ...round(1_400)[0]!, domReadyMs: 1_300 + more },
      { ...round(1_399)[0]!, domReadyMs: 1_301 + more },
    ]);
    expect(ruleGains(steps, rounds).steps.map((one) => one.worse)).toEqual([
      ['DOM ready comes 400 ms later'],
      [],
    ]);
  });

  it('says so where a step makes it later, and where nothing was painted', () => {
    const worse = [0, 1, 2, 3, 4, 5].map((more) => round(1_000, 1_000 - more, 1_300 + more));
    expect(ruleGainsSentence(ruleGains(steps, worse))).toMatch(
      /none of 2 steps surely .* earlier, 1 later\.$/,
    );
    const blank = [0, 1, 2, 3, 4, 5].map(() => round(1_000, 900, null));
    expect(ruleGains(steps, blank).steps[1]!.gained.verdict).toBe('too few runs to say');
    expect(ruleGainsSentence(ruleGains(steps, blank))).toMatch(/nothing can be said\.$/);
  });
});
