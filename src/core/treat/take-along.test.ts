import { expect, it } from 'vitest';
import type { PlanRule } from './plan.ts';
import { withChanges } from './take-along.ts';

const at = (name: string) => ({ url: `https://quay.test/${name}` });
const rule = (name: string, treatment: string, together: PlanRule['together'] = []): PlanRule => ({
  id: name,
  on: true,
  kind: 'script',
  match: at(name),
  scope: 'page',
  treatment,
  reason: '',
  risk: 'low',
  ...(together.length ? { together } : {}),
});
const told = (rules: readonly PlanRule[]) =>
  rules.map(({ id, treatment, together = [] }) => [
    id,
    treatment,
    together.map((one) =>
      'url' in one ? one.url.split('/').at(-1) : 'inline' in one ? one.inline : one.host,
    ),
  ]);

it('ends what another rule takes along, with what followed it', () => {
  const rules = [
    rule('a.js', 'defer', [{ inline: 'a()' }]),
    rule('b.js', 'defer', [{ inline: 'b()' }]),
    rule('c.js', 'defer'),
  ];
  const merged = { treatment: 'merged-defer', together: [{ inline: 'a()' }, at('b.js')] };
  expect(told(withChanges(rules, new Map([['a.js', merged]])))).toEqual([
    ['a.js', 'merged-defer', ['a()', 'b.js', 'b()']],
    ['b.js', 'as-authored', []],
    ['c.js', 'defer', []],
  ]);
  // Given to both at once, one of them takes the other along.
  const both = new Map([
    ['a.js', merged],
    ['b.js', { treatment: 'merged-defer', together: [{ inline: 'b()' }, at('a.js')] }],
  ]);
  expect(told(withChanges(rules, both)).slice(0, 2)).toEqual([
    ['a.js', 'merged-defer', ['a()', 'b.js', 'b()']],
    ['b.js', 'as-authored', []],
  ]);
});

it('leaves alone what does nothing by itself, is switched off, or is of another kind', () => {
  const rules = [
    rule('a.js', 'as-authored'),
    { ...rule('b.js', 'defer'), on: false },
    { ...rule('b.js', 'preload'), id: 'font', kind: 'font' as const },
  ];
  const changed = withChanges(rules, new Map([['a.js', { treatment: 'merged', together: [at('b.js')] }]]));
  expect(changed.slice(1)).toEqual(rules.slice(1));
  expect(withChanges(rules, new Map([['a.js', { on: false }]])).slice(1)).toEqual(rules.slice(1));
});
