import { describe, expect, it } from 'vitest';
import { completeness, distance, type Picture } from './completeness.ts';
import { speedIndex } from './speed-index.ts';

/** A picture of one row; each letter is a pixel: w white, b black, g grey. */
const picture = (row: string): Picture => ({
  width: row.length,
  height: 1,
  rgb: Uint8Array.from([...row].flatMap((c) => Array<number>(3).fill(c === 'w' ? 255 : c === 'b' ? 0 : 128))),
});

describe('completeness', () => {
  it('grows with what is already as it will be', () => {
    expect(
      completeness([picture('wwww'), picture('bwww'), picture('bbww'), picture('bbbb')], picture('bbbb')),
    ).toEqual([0, 0.25, 0.5, 1]);
  });

  it('does not take a rearranged picture for a complete one', () => {
    expect(completeness([picture('wwww'), picture('wwbb')], picture('bbww'))).toEqual([0, 0]);
  });

  it('is 0 throughout when nothing was ever drawn', () => {
    expect(completeness([picture('ww'), picture('ww')], picture('ww'))).toEqual([0, 0]);
  });

  it('refuses pictures of different size', () => {
    expect(() => distance(picture('w'), picture('ww'))).toThrow(RangeError);
  });
});

describe('speedIndex', () => {
  it('is the area above the curve, by hand', () => {
    // 1000 ms at 0, then 500 ms at half: 1000 + 250.
    const points = [
      { atMs: 0, completeness: 0 },
      { atMs: 1_000, completeness: 0.5 },
      { atMs: 1_500, completeness: 1 },
    ];
    expect(speedIndex(points, 4_000)).toBe(1_250);
  });

  it('counts what is never complete to the end of the window', () => {
    expect(speedIndex([{ atMs: 1_000, completeness: 0.9 }], 3_000)).toBeCloseTo(1_000 + 0.1 * 2_000);
  });

  it('is never earlier than the first drawn frame', () => {
    expect(speedIndex([{ atMs: 730, completeness: 1 }], 5_000)).toBe(730);
  });

  it('is null when nothing was drawn', () => {
    expect(speedIndex([{ atMs: 0, completeness: 0 }], 5_000)).toBeNull();
  });
});
