import { expect, it } from 'vitest';
import { countedShifts, cumulativeShift } from './layout-shift.ts';

const at = (atMs: number, score: number) => ({ atMs, score });

it('counts what moves in the first half second, and what does not follow a tap', () => {
  const shifts = [at(120, 0.1), at(480, 0.05), at(2_000, 0.2), at(2_450, 0.2), at(2_600, 0.01)];
  expect(countedShifts(shifts).length).toBe(5);
  expect(countedShifts(shifts, [2_000]).map((one) => one.atMs)).toEqual([120, 480, 2_600]);
});

it('sums a session: gaps of a second, five seconds in all', () => {
  expect(cumulativeShift([])).toBe(0);
  expect(cumulativeShift([at(0, 0.1), at(900, 0.1), at(2_500, 0.15)])).toBeCloseTo(0.2);
  const every900 = Array.from({ length: 8 }, (_, index) => at(index * 900, 0.1));
  // The seventh comes 5.4 s after the first, and begins a session of its own.
  expect(cumulativeShift(every900)).toBeCloseTo(0.6);
});
