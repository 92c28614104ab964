import { expect, it } from 'vitest';
import {
  FULL_SPEED,
  readingsAgree,
  shortfallWords,
  slowdownRate,
  speedOf,
  yardsticksDiffer,
  yardstickWords,
  type EarlierYardstick,
  type Yardstick,
} from './yardstick.ts';

const machine = (script: number, page = script, quiet = true): Yardstick => ({
  version: 2,
  script: FULL_SPEED.script * script,
  page: FULL_SPEED.page * page,
  machine: 'm',
  takenAt: '',
  quiet,
});
const earlier: EarlierYardstick = { version: 1, score: 594, machine: 'm', takenAt: '' };

it('slows a fast machine more and a slow one less, so that the page runs at the same speed on both', () => {
  expect(slowdownRate(5, machine(1))).toBe(5);
  expect(slowdownRate(5, machine(2))).toBe(10);
  expect(slowdownRate(5, machine(0.6))).toBe(3);
  expect(slowdownRate(1, machine(0.5))).toBe(1);
});

it('weighs scripts and layout alike', () => {
  expect(speedOf(machine(0.5, 2))).toBeCloseTo(1);
});

it('says what that is worth', () => {
  expect(yardstickWords(5, machine(1.2))).toBe(
    'This machine runs at 120 % of full speed, slowed 6 times for these conditions.',
  );
  expect(yardstickWords(1, machine(1))).toContain('not slowed');
  expect(yardstickWords(1, machine(0.5))).toContain('slower than these conditions ask for');
  expect(yardstickWords(5, machine(1, 1, false))).toContain('Others used it while this was read.');
});

it('tells the parts apart when they disagree by more than a quarter, and only then', () => {
  expect(yardstickWords(5, machine(0.6, 1))).toContain(
    'Scripts run at 60 %, style and layout at 100 % of it.',
  );
  expect(yardstickWords(5, machine(0.8, 1))).not.toContain('Scripts run at');
});

it('has a word for every figure of a machine below what the conditions ask for', () => {
  expect(shortfallWords(1, machine(0.8))).toContain('80 % of full speed');
  expect(shortfallWords(5, machine(0.8))).toBeNull();
  expect(shortfallWords(1, machine(0.97))).toBeNull();
});

it('takes two readings for one machine’s only when both parts agree', () => {
  expect(readingsAgree(machine(1), machine(0.92))).toBe(true);
  expect(readingsAgree(machine(1), machine(1, 0.8))).toBe(false);
});

it('does not compare figures of the earlier yardstick with those of this one', () => {
  expect(yardsticksDiffer(earlier, machine(1))).toContain('another yardstick');
  expect(yardsticksDiffer(machine(1), machine(2))).toBeNull();
  expect(slowdownRate(5, earlier)).toBe(14.85);
});
