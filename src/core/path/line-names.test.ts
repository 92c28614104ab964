import { expect, it } from 'vitest';
import { lineNames } from './line-names.ts';

it('calls lines by their words, and counts those that have the same', () => {
  const bill = ['parsing the page', 'running lib.js', 'parsing the page', 'paint', 'parsing the page'];
  expect(lineNames(bill.map((label) => ({ label })))).toEqual([
    'parsing the page',
    'running lib.js',
    'parsing the page (2)',
    'paint',
    'parsing the page (3)',
  ]);
});
