import { expect, it } from 'vitest';
import { compareSpecificity, specificityOf } from './specificity.ts';

// Selectors 4, section 17, and its examples.
it.each([
  ['*', [0, 0, 0]],
  ['LI', [0, 0, 1]],
  ['UL OL+LI', [0, 0, 3]],
  ['H1 + *[REL=up]', [0, 1, 1]],
  ['LI.RED.level', [0, 2, 1]],
  ['#x34y', [1, 0, 0]],
  ['#s12:not(FOO)', [1, 0, 1]],
  ['.foo :is(.bar, #baz)', [1, 1, 0]],
  [':where(#a) b', [0, 0, 1]],
  ['a:hover::before', [0, 1, 2]],
  ['p:first-line', [0, 0, 2]],
  ['li:nth-child(2n of .a)', [0, 2, 1]],
] as const)('%s', (selector, expected) => {
  expect(specificityOf(selector)).toEqual(expected);
});

it('tells the stronger', () => {
  expect(compareSpecificity([1, 0, 0], [0, 9, 9])).toBeGreaterThan(0);
  expect(compareSpecificity([0, 1, 0], [0, 1, 1])).toBeLessThan(0);
  expect(specificityOf('..a')).toBeNull();
});
