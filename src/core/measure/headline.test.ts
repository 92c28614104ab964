import { expect, it } from 'vitest';
import { emptyPaintWords, headlineOf, headlineOfArms, headlineOfSpreads } from './headline.ts';
import { medianRunIndex, summarise, type Metrics } from './metrics.ts';

const run = (firstPaintMs: number | null, firstContentfulPaintMs: number | null) =>
  ({ firstPaintMs, firstContentfulPaintMs }) as Metrics;

it('tells by first paint where it shows something, within a frame of the first content', () => {
  expect(headlineOf([run(900, 900), run(910, 926), run(905, 1_400)])).toBe('firstPaintMs');
});

it('tells by the first content where most first paints were empty', () => {
  const empty = [run(213, 1_446), run(220, 1_300), run(230, 230)];
  expect(headlineOf(empty)).toBe('firstContentfulPaintMs');
  expect(headlineOfSpreads(summarise(empty))).toBe('firstContentfulPaintMs');
  expect(emptyPaintWords('firstContentfulPaintMs', 213)).toContain('213 ms, shows nothing but a background');
  expect(emptyPaintWords('firstPaintMs', 213)).toBeNull();
});

it('gives both arms the same headline as soon as one of them paints empty', () => {
  expect(headlineOfArms([run(900, 900)], [run(300, 700)])).toBe('firstContentfulPaintMs');
  expect(headlineOfArms([run(900, 900)], [run(700, 700)])).toBe('firstPaintMs');
});

it('has nothing to go by where nothing was ever painted', () => {
  expect(headlineOf([run(null, null), run(400, null)])).toBe('firstPaintMs');
});

it('takes the median run by the headline', () => {
  const runs = [run(100, 900), run(200, 700), run(300, 800)];
  expect(medianRunIndex(runs, 'firstPaintMs')).toBe(1);
  expect(medianRunIndex(runs, 'firstContentfulPaintMs')).toBe(2);
});
