import { expect, it } from 'vitest';
import type { BillSegment } from '../path/bill.ts';
import type { Plan, PlanRule } from '../treat/plan.ts';
import { leftSentence, leftTodo } from '../words/what-is-left.ts';
import { whatIsLeft } from './what-is-left.ts';

const PAGE = 'https://quay.test/';
const segment = (
  code: BillSegment['code'],
  kind: BillSegment['kind'],
  startMs: number,
  endMs: number,
  url?: string,
): BillSegment => ({ code, kind, startMs, endMs, ...(url === undefined ? {} : { url }) });

const asIs = [
  segment('page-answering', 'server', 0, 400, PAGE),
  segment('arriving', 'bytes', 400, 1_400, `${PAGE}lib.js`),
  segment('script-ran', 'running', 1_400, 1_700, `${PAGE}heads.js`),
  segment('style', 'style', 1_700, 1_900),
];
const treated = [
  segment('page-answering', 'server', 0, 410, PAGE),
  segment('script-ran', 'running', 410, 760, `${PAGE}heads.js`),
  segment('style', 'style', 760, 800),
  segment('script-ran', 'running', 800, 830, `${PAGE}late.js`),
];
const left = whatIsLeft(asIs, treated, 500);

const rule = (name: string, treatment: string, reason: string): PlanRule => ({
  id: name,
  on: true,
  kind: 'script',
  match: { url: PAGE + name },
  scope: 'page',
  treatment,
  reason,
  risk: 'low',
});
const plan: Plan = {
  wistrelPlan: 1,
  page: PAGE,
  rules: [
    rule('heads.js', 'as-authored', 'It hides the page until it has run.'),
    rule('late.js', 'defer', 'Nothing reads it.'),
  ],
};

it('holds the treated bill against the as-is one, what is left first', () => {
  expect(left.lines.map(({ code, url, asIsMs, treatedMs }) => [code, url, asIsMs, treatedMs])).toEqual([
    ['page-answering', PAGE, 400, 410],
    ['script-ran', `${PAGE}heads.js`, 300, 350],
    ['style', undefined, 200, 40],
    ['script-ran', `${PAGE}late.js`, 0, 30],
    ['arriving', `${PAGE}lib.js`, 1_000, 0],
  ]);
  expect([left.asIsMs, left.treatedMs]).toEqual([1_900, 830]);
});

it('says in a sentence how far above the floor it is, and what it waits for longest', () => {
  expect(leftSentence(left, 'firstPaintMs')).toBe(
    'First paint is left at 830 ms, 330 ms above its floor; besides the way to the server it waits longest for running heads.js (350 ms) and style and layout (40 ms).',
  );
  expect(leftSentence({ ...left, floorMs: 825 }, 'firstPaintMs')).toContain('830 ms, which is its floor;');
  expect(leftSentence({ ...left, floorMs: null }, 'firstPaintMs')).toContain('left at 830 ms; besides');
  const only = { ...left, lines: left.lines.slice(0, 1) };
  expect(leftSentence(only, 'firstPaintMs')).toContain('floor; it waits longest for the server answering');
});

it('says of each line what is done, why nothing is, or that nothing can be', () => {
  expect(left.lines.map((line) => leftTodo(line, plan, PAGE))).toEqual([
    'the server, or the way to it: nothing in the page can change that',
    'It hides the page until it has run.',
    'the browser’s own work: less HTML and fewer rules make it shorter',
    'already: defer',
    'gone',
  ]);
});
