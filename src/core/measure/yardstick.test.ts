import { expect, it } from 'vitest';
import { FULL_SPEED_SCORE, slowdownRate, yardstickWords, type Yardstick } from './yardstick.ts';

const machine = (speed: number): Yardstick => ({
  score: FULL_SPEED_SCORE * speed,
  machine: 'm',
  takenAt: '',
});

it('slows a fast machine more and a slow one less, so that the page runs at the same speed on both', () => {
  expect(slowdownRate(5, machine(1))).toBe(5);
  expect(slowdownRate(5, machine(2))).toBe(10);
  expect(slowdownRate(5, machine(0.6))).toBe(3);
  expect(slowdownRate(1, machine(0.5))).toBe(1);
});

it('says what that is worth', () => {
  expect(yardstickWords(5, machine(1.2))).toBe(
    'This machine runs at 120 % of full speed, slowed 6 times for these conditions.',
  );
  expect(yardstickWords(1, machine(1))).toContain('not slowed');
  expect(yardstickWords(1, machine(0.5))).toContain('slower than these conditions ask for');
});
