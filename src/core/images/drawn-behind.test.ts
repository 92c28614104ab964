import { expect, it } from 'vitest';
import { drawnBehind } from './drawn-behind.ts';

const FILE = { width: 1_600, height: 800 };

it.each([
  ['cover', { width: 400, height: 100 }, 400],
  ['cover', { width: 400, height: 600 }, 1_200],
  ['contain', { width: 400, height: 100 }, 200],
  ['auto', { width: 400, height: 100 }, 1_600],
  ['auto auto', { width: 400, height: 100 }, 1_600],
  ['50% auto', { width: 400, height: 100 }, 200],
  ['120px', { width: 400, height: 100 }, 120],
  ['auto 100%', { width: 400, height: 100 }, 200],
  ['calc(100% - 4px)', { width: 400, height: 100 }, 1_600],
  ['cover', { width: 0, height: 0 }, 0],
])('of the size “%s” in a box %o it is %d px wide', (size, box, width) => {
  expect(drawnBehind(size, box, FILE)).toBe(width);
});
