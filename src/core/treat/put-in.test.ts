import { expect, it } from 'vitest';
import type { Change } from './compose.ts';
import type { PlanRule } from './plan.ts';
import { putIn } from './put-in.ts';

const change = (where: string, at: number | null, before: string, after: string): Change => ({
  ruleId: 'r1',
  title: `at ${where}`,
  where,
  at,
  before,
  after,
});
const RULE = { id: 'r1', reason: 'It holds paint.' } as PlanRule;
const file = (url: string, isNew: boolean) => ({ url, isNew, mimeType: 'text/css', content: 'p{}' });

it('lists what is put in by file: new ones first, then changed ones, the page last, from its top down', () => {
  const files = putIn(
    {
      url: 'https://quay.test/sail?x=1',
      baseUrl: 'https://quay.test/',
      bytes: 900,
      files: [
        file('https://quay.test/a.css', false),
        file('https://elsewhere.test/b.css', false),
        file('https://quay.test/wistrel/n.js', true),
      ],
      changes: [
        change('line 30 of the page', 30, '<script src="x.js"></script>', ''),
        change('https://quay.test/a.css', null, 'p{}', 'q{}'),
        change('line 4 of the page, early in the head', 4, '', '<link>'),
        change('line 12 of the page', 12, '<a>', '<b>'),
      ],
    },
    [RULE],
  );
  expect(files.map(({ name, what, changes }) => [name, what, changes.length])).toEqual([
    ['/wistrel/n.js', 'new', 0],
    ['/a.css', 'changed', 1],
    ['https://elsewhere.test/b.css', 'changed', 0],
    ['/sail?x=1', 'page', 3],
  ]);
  expect(files.at(-1)!.changes.map(({ at, wayBack }) => [at, wayBack])).toEqual([
    [4, 'Take it out again.'],
    [12, 'Put back what stood there.'],
    [30, 'Put it back.'],
  ]);
  expect(files[1]!.changes[0]!.reason).toBe('It holds paint.');
});

it('tells a change that was ticked off from another one that came in its place', () => {
  const keyOf = (after: string) =>
    putIn(
      {
        url: 'https://quay.test/',
        baseUrl: 'https://quay.test/',
        bytes: 9,
        files: [],
        changes: [change('line 1', 1, '<a>', after)],
      },
      [],
    )[0]!.changes[0]!.key;
  expect(keyOf('<b>')).toBe(keyOf('<b>'));
  expect(keyOf('<b>')).not.toBe(keyOf('<b defer>'));
});

it('keeps apart what is the same in two places of one sheet', () => {
  const twice = [1, 2].map(() =>
    change('https://quay.test/a.css', null, 'font-family:Keel', 'font-family:Keel,Fitted'),
  );
  const [sheet] = putIn(
    {
      url: 'https://quay.test/',
      baseUrl: 'https://quay.test/',
      bytes: 9,
      files: [file('https://quay.test/a.css', false)],
      changes: twice,
    },
    [],
  );
  expect(new Set(sheet!.changes.map((one) => one.key)).size).toBe(2);
});
