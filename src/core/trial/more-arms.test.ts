import { expect, it } from 'vitest';
import type { Metrics } from '../measure/metrics.ts';
import { AS_IS, IDEAL, OTHER_PLAN, TREATED } from './arms.ts';
import { leastRounds, moreArmsOf } from './more-arms.ts';

const runs = (paint: number, count: number) =>
  Array.from({ length: count }, (_one, index) => {
    const paints = { firstPaintMs: paint + index, firstContentfulPaintMs: paint + index };
    return paints as Metrics;
  });

it('holds every two arms against each other but the two that are judged', () => {
  const judged = [
    { id: AS_IS, metrics: runs(2_000, 16) },
    { id: TREATED, metrics: runs(900, 16) },
  ];
  const beside = [
    { id: OTHER_PLAN, metrics: runs(1_200, 16), leftOut: [] },
    { id: IDEAL, metrics: runs(850, 16), leftOut: [] },
  ];
  const more = moreArmsOf(judged, beside, 'until clear')!;
  expect(
    more.compared.map(({ one, other, paint }) => [one, other, paint.differenceMs, paint.verdict]),
  ).toEqual([
    [AS_IS, OTHER_PLAN, -800, 'earlier'],
    [AS_IS, IDEAL, -1_150, 'earlier'],
    [TREATED, OTHER_PLAN, 300, 'later'],
    [TREATED, IDEAL, -50, 'earlier'],
    [OTHER_PLAN, IDEAL, -350, 'earlier'],
  ]);
  expect(more.beside[0]!.spreads.firstPaintMs.median).toBe(1_207.5);
  expect(moreArmsOf(judged, [], 6)).toBeNull();
});

it('takes as many rounds as so many comparisons need', () => {
  expect([0, 1, 2].map((besides) => leastRounds(besides, 'until clear'))).toEqual([0, 12, 12]);
  // Whoever asks for a number gets it, and is told where it is too few.
  expect(leastRounds(2, 6)).toBe(0);
  const arms = [AS_IS, TREATED].map((id) => ({ id, metrics: runs(900, 6) }));
  const { compared } = moreArmsOf(arms, [{ id: IDEAL, metrics: runs(700, 6), leftOut: [] }], 6)!;
  expect(compared.map(({ paint }) => paint.verdict)).toEqual(['too few runs to say', 'too few runs to say']);
});
