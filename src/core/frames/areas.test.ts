import { describe, expect, it } from 'vitest';
import { areasOf, maskCells, shareOf } from './areas.ts';
import { distance, type Picture } from './completeness.ts';

/** Two cells side by side, each of one grey. */
const picture = (left: number, right: number): Picture => {
  const rgb = new Uint8Array(20 * 10 * 3);
  for (let y = 0; y < 10; y++)
    for (let x = 0; x < 20; x++) rgb.fill(x < 10 ? left : right, (y * 20 + x) * 3, (y * 20 + x) * 3 + 3);
  return { width: 20, height: 10, rgb };
};

describe('areasOf', () => {
  it('says when each part became final; a part that stayed white never changed', () => {
    const areas = areasOf(
      [picture(100, 255), picture(50, 255), picture(50, 250)],
      [400, 900, 1_500],
      4_000,
      0,
    );
    expect(areas).toMatchObject({ columns: 2, rows: 1, finalMs: [900, 1_500], moving: [false, false] });
  });

  it('finds what keeps moving up to the end, and not what only loads in steps', () => {
    const blinking = [0, 1, 0, 1, 0, 1].map((on) => picture(80, on ? 0 : 200));
    const times = [500, 900, 1_300, 1_700, 2_100, 2_500];
    expect(areasOf(blinking, times, 3_000, 0).moving).toEqual([false, true]);
    expect(areasOf(blinking, times, 6_000, 0).moving).toEqual([false, false]);
    expect(areasOf(blinking.slice(0, 3), times, 1_500, 0).moving).toEqual([false, false]);
  });

  it('does not take for moving what a picture that has only just come was drawn in', () => {
    const steps = [200, 160, 120, 80, 40].map((grey) => picture(80, grey));
    const times = [500, 1_000, 1_500, 2_000, 2_500];
    expect(areasOf(steps, times, 3_000, 2_400).moving).toEqual([false, false]);
    expect(areasOf(steps, times, 3_000, 900).moving).toEqual([false, true]);
  });

  it('is nothing without frames', () => {
    expect(areasOf([], [], 1_000, 0).finalMs).toEqual([]);
  });
});

it('masks cells so that they count no more', () => {
  const cells = [false, true];
  const [a, b] = [picture(10, 0), picture(10, 200)].map((one) => maskCells(one, cells, 2));
  expect(distance(a!, b!)).toBe(0);
  expect(shareOf(cells)).toBe(0.5);
  // Of a picture as it is decoded, too, the original stays as it was.
  const decoded = { ...picture(10, 200), rgb: Buffer.from(picture(10, 200).rgb) };
  maskCells(decoded, cells, 2);
  expect(distance(decoded, picture(10, 200))).toBe(0);
});
