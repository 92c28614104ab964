import { expect, it } from 'vitest';
import type { Metrics } from '../measure/metrics.ts';
import type { Pair } from '../trial/pair.ts';
import { looksWords } from './looks.ts';

const pairs = (number: number, by: (at: number) => number): Pair[] =>
  Array.from({ length: number }, (_one, at) => {
    const metrics = (paint: number) =>
      ({ firstPaintMs: paint, firstContentfulPaintMs: paint, speedIndexMs: paint }) as Metrics;
    return { asIs: metrics(3_000), treated: metrics(3_000 + by(at)) };
  });
const earlier = () => -900;
const scattered = (at: number) => (at % 2 ? 900 : -900);

it('says how many pairs there are, and why no more', () => {
  expect(looksWords(6, pairs(6, earlier))).toBe('6 pairs were asked for.');
  expect(looksWords('until clear', pairs(8, earlier))).toContain('24 at most: after 8 nothing was.');
  // One more was taken for a pair without a Speed Index.
  const [first, ...others] = pairs(9, earlier);
  const restless = { ...first!, asIs: { ...first!.asIs, speedIndexMs: null } };
  expect(looksWords('until clear', [restless, ...others])).toContain('at most: after 9 nothing was.');
  expect(looksWords('until clear', pairs(16, earlier))).toContain(
    'after 8 and 12 something was still open, after 16 nothing was.',
  );
  expect(looksWords('until clear', pairs(24, scattered))).toContain(
    'after 8, 12 and 16 something was still open, and after 24 something still is.',
  );
});

it('does not say that all was clear where the time was over', () => {
  expect(looksWords('until clear', pairs(9, scattered))).toContain(
    'after 8 something was still open, and after 9 its time was over: something is open still.',
  );
});
