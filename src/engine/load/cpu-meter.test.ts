import { expect, it } from 'vitest';
import { othersBetween } from './cpu-meter.ts';

const reading = (total: number, busy: number, ours: Record<number, number>) => ({
  total,
  busy,
  ours: new Map(Object.entries(ours).map(([pid, ticks]) => [Number(pid), ticks])),
});

it('takes what our own processes used from what was used at all', () => {
  const start = reading(1_000, 400, { 7: 100 });
  expect(othersBetween(start, reading(1_200, 500, { 7: 160, 8: 20 }))).toBe(0.1);
  expect(othersBetween(start, reading(1_000, 400, { 7: 100 }))).toBeNull();
});

it('does not count the past of one of ours that ended meanwhile as others’', () => {
  const start = reading(1_000, 400, { 7: 100, 9: 300 });
  expect(othersBetween(start, reading(1_200, 440, { 7: 130 }))).toBe(0.05);
});
