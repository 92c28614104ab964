import { expect, it } from 'vitest';
import { comesLater } from './moments.ts';
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

it('tells what is in the document later than as authored, once, at the moment that it is missed longest', () => {
  const authored = {
    ready: ['p|Tide', 'div.chart|'],
    load: ['p|Tide', 'div.chart|', 'li|Berth 1', 'li|Berth 2'],
  };
  const treated = { ready: ['p|Tide'], load: ['p|Tide', 'li|Berth 1'] };
  expect(comesLater(authored, treated, rest('p|Tide', 'div.chart|', 'li|Berth 1', 'li|Berth 2'))).toEqual([
    'Later with the plan: div.chart, li “Berth 2”. As authored, that is there once the page has loaded.',
  ]);
  expect(comesLater(authored, { ...authored, ready: ['p|Tide'] }, rest('p|Tide', 'div.chart|'))).toEqual([
    'Later with the plan: div.chart. As authored, that is there once the document is ready.',
  ]);
});

it('says nothing of what is there as soon, of what never comes, and of a moment that did not come', () => {
  const authored = { ready: ['p|Tide'], load: ['p|Tide', 'li|Berth 1'] };
  expect(comesLater(authored, authored, rest('p|Tide', 'li|Berth 1'))).toEqual([]);
  expect(comesLater(authored, { ready: [], load: ['p|Tide'] }, rest('p|Tide'))).toEqual([
    'Later with the plan: p “Tide”. As authored, that is there once the document is ready.',
  ]);
  expect(comesLater(authored, { ready: null, load: null }, rest('p|Tide'))).toEqual([]);
});
