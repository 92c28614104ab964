import { expect, it } from 'vitest';
import { aboutTime } from './about-time.ts';

it('says about how long, no more exactly than it is known', () => {
  expect([2, 38, 54, 55, 89, 130, 3_600, 5_300, 5_400, 10_000].map(aboutTime)).toEqual([
    'about 5 s',
    'about 40 s',
    'about 55 s',
    'about 1 min',
    'about 1 min',
    'about 2 min',
    'about 60 min',
    'about 88 min',
    'about 2 h',
    'about 3 h',
  ]);
});
