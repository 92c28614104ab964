import { expect, it } from 'vitest';
import { axisTicks, frameAt, seconds, shownFrames } from './shown-frames.ts';

it('leaves out frames that would cover each other, never the first or the last', () => {
  const at = (...times: number[]) => times.map((atMs) => ({ atMs }));
  expect(shownFrames(at(0, 100, 120, 400, 500, 520), 90).map((frame) => frame.atMs)).toEqual([
    0, 100, 400, 520,
  ]);
  expect(shownFrames(at(0, 10), 90).map((frame) => frame.atMs)).toEqual([0]);
});

it('makes round ticks', () => {
  expect(axisTicks(3_600)).toEqual([0, 500, 1_000, 1_500, 2_000, 2_500, 3_000, 3_500]);
  expect(seconds(2_500)).toBe('2.5');
});

it('says which frame shows at a moment', () => {
  const frames = [{ atMs: 300 }, { atMs: 900 }];
  expect([100, 300, 899, 2_000].map((at) => frameAt(frames, at)?.atMs ?? null)).toEqual([
    null,
    300,
    300,
    900,
  ]);
});
