import { describe, expect, it } from 'vitest';
import type { Metrics } from '../measure/metrics.ts';
import { AT_EACH_LOOK, isClear, LOOKS, pairsWanted } from './looks.ts';
import type { Pair } from './pair.ts';
import { comparePairs } from './statistics.ts';

const metrics = (paint: number, over: Partial<Metrics> = {}) =>
  ({ firstPaintMs: paint, firstContentfulPaintMs: paint, speedIndexMs: paint + 100, ...over }) as Metrics;

/** A pair that differs by so much; what its as-is load takes varies from pair to pair. */
const differing = (by: number, at = 0, over: Partial<Metrics> = {}): Pair => ({
  asIs: metrics(3_000 + at),
  treated: metrics(3_000 + at + by, over),
});

const times = (number: number, by: (at: number) => number, over: Partial<Metrics> = {}) =>
  Array.from({ length: number }, (_one, at) => differing(by(at), at, over));

/** xorshift32. */
function coin(seed: number) {
  let state = seed;
  return () => {
    state ^= state << 13;
    state ^= state >>> 17;
    state ^= state << 5;
    return (state >>> 0) / 2 ** 32;
  };
}

describe('a number of pairs that was planned', () => {
  const rested = differing(-1_650);
  const restless = { ...rested, treated: { ...rested.treated, speedIndexMs: null } };

  it('is one more for each pair without a Speed Index, in either arm, until as many as planned have one', () => {
    expect(pairsWanted(6, [])).toBe(6);
    expect(pairsWanted(6, Array(6).fill(rested))).toBe(6);
    expect(pairsWanted(6, [...Array(5).fill(rested), restless])).toBe(7);
    const other = { ...rested, asIs: { ...rested.asIs, speedIndexMs: null } };
    expect(pairsWanted(6, [...Array(5).fill(rested), restless, other])).toBe(8);
  });

  it('stays as planned where too many lack one: the page itself never rests', () => {
    expect(pairsWanted(6, Array(6).fill(restless))).toBe(6);
  });
});

describe('pairs until nothing is open', () => {
  /** With how many a trial ends whose pairs come one after the other. */
  const endsAfter = (pairs: readonly Pair[]) => {
    let taken = 0;
    while (pairsWanted('until clear', pairs.slice(0, taken)) > taken) taken++;
    return taken;
  };

  it('are eight where the page is plainly earlier, or plainly later', () => {
    expect(endsAfter(times(24, (at) => -1_650 + at))).toBe(8);
    expect(endsAfter(times(24, (at) => 400 + at))).toBe(8);
  });

  it('are eight where it surely differs by less than 2 %', () => {
    expect(endsAfter(times(24, (at) => (at % 2 ? 30 : -30)))).toBe(8);
  });

  it('are more where one of eight speaks against the others, and twenty-four at most', () => {
    expect(endsAfter(times(24, (at) => (at === 3 ? 100 : -400 - at)))).toBe(12);
    expect(endsAfter(times(30, (at) => (at % 2 ? 900 : -900)))).toBe(24);
  });

  it('are more where another metric seems worse, which eight cannot tell of a dozen metrics', () => {
    const later = { loadMs: 5_000 };
    const pairs = times(24, (at) => -1_650 + at, later).map(({ asIs, treated }, at) => ({
      asIs: { ...asIs, loadMs: 4_500 - at },
      treated,
    }));
    expect(endsAfter(pairs)).toBe(12);
  });

  it('are looked at after one more for each without a Speed Index; where none rests, for the paint alone', () => {
    const pairs = times(24, (at) => -1_650 + at);
    const restless = (one: Pair) => ({ ...one, treated: { ...one.treated, speedIndexMs: null } });
    expect(endsAfter(pairs.map((one, at) => (at === 2 ? restless(one) : one)))).toBe(9);
    expect(endsAfter(pairs.map(restless))).toBe(8);
  });
});

it('chance alone calls the headline or Speed Index in at most 5 % of trials, though they are looked at four times', () => {
  const toss = coin(2_463_534_242);
  const trials = 3_000;
  let called = 0;
  for (let trial = 0; trial < trials; trial++) {
    // Two metrics that have nothing to do with each other are called by chance most often.
    const differences = [0, 1].map(() =>
      Array.from({ length: LOOKS.at(-1)! }, () => (toss() < 0.5 ? -1 : 1) * (100 + 900 * toss())),
    );
    const says = (of: number[], look: number) =>
      comparePairs(of.slice(0, look), AT_EACH_LOOK.headlines).verdict !== 'no clear difference';
    if (differences.some((of) => LOOKS.some((look) => says(of, look)))) called++;
  }
  expect(called / trials).toBeLessThanOrEqual(0.05);
  // A boundary that calls nothing would hold too.
  expect(called / trials).toBeGreaterThan(0.02);
});

it('is clear though a metric seems worse, once there are pairs enough to be sure of one', () => {
  const pairs = times(12, (at) => -1_650 + at, { loadMs: 5_000 }).map(({ asIs, treated }, at) => ({
    asIs: { ...asIs, loadMs: 4_500 - at },
    treated,
  }));
  expect(isClear(pairs)).toBe(true);
  expect(isClear(pairs.slice(0, 8))).toBe(false);
});
