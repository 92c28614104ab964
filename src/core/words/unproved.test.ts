import { expect, it } from 'vitest';
import { unprovedWords } from './unproved.ts';

it('says why fold CSS is not used, where it is not', () => {
  const remarks = ['At 390×844 2.0 % of the pixels above the fold differ.'];
  expect(unprovedWords({ proved: false, remarks })).toEqual([
    'The fold CSS is not proved, so that nothing is recommended with it:',
    ...remarks,
  ]);
  expect(unprovedWords({ proved: true, remarks })).toEqual([]);
  expect(unprovedWords(null)).toEqual([]);
});
