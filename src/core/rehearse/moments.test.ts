import { expect, it } from 'vitest';
import { comesLater, laterWords, type PageMoments } from './moments.ts';
import type { Outcome } from './outcome.ts';

const rest = (...signed: string[]): Outcome => ({
  elements: signed.map((one) => {
    const [name, text] = one.split('|');
    return { name: name!, depth: 1, attributes: [], text: text ?? '', box: null };
  }),
  globals: [],
  errors: [],
  requests: [],
  facts: [],
  roles: [],
});

const told = (authored: PageMoments, treated: PageMoments, atRest: Outcome) =>
  laterWords(comesLater(authored, treated, atRest));

it('tells what is in the document later than as authored, once, at the moment that it is missed longest', () => {
  const authored = {
    ready: ['p|Tide', 'div.chart|'],
    load: ['p|Tide', 'div.chart|', 'li|Berth 1', 'li|Berth 2'],
  };
  const treated = { ready: ['p|Tide'], load: ['p|Tide', 'li|Berth 1'] };
  expect(told(authored, treated, rest('p|Tide', 'div.chart|', 'li|Berth 1', 'li|Berth 2'))).toEqual([
    'Later with the plan: div.chart, li “Berth 2”. As authored, that is there once the page has loaded.',
  ]);
  expect(told(authored, { ...authored, ready: ['p|Tide'] }, rest('p|Tide', 'div.chart|'))).toEqual([
    'Later with the plan: div.chart. As authored, that is there once the document is ready.',
  ]);
});

it('says nothing of what is there as soon, of what never comes, and of a moment that did not come', () => {
  const authored = { ready: ['p|Tide'], load: ['p|Tide', 'li|Berth 1'] };
  expect(told(authored, authored, rest('p|Tide', 'li|Berth 1'))).toEqual([]);
  expect(told(authored, { ready: [], load: ['p|Tide'] }, rest('p|Tide'))).toEqual([
    'Later with the plan: p “Tide”. As authored, that is there once the document is ready.',
  ]);
  expect(told(authored, { ready: null, load: null }, rest('p|Tide'))).toEqual([]);
});

it('tells what comes later on a phone and on a laptop once', () => {
  const chat = { moment: 'load' as const, elements: ['button.chat|?'] };
  expect(laterWords([{ moment: 'load', elements: ['p|Tide', 'button.chat|?'] }, chat])).toEqual([
    'Later with the plan: p “Tide”, button.chat “?”. As authored, that is there once the page has loaded.',
  ]);
  // What is missed on one of them until the page has loaded is not told as missed until it is ready.
  expect(laterWords([{ ...chat, moment: 'ready' }, chat])).toHaveLength(1);
});
