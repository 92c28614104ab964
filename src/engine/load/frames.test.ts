import sharp from 'sharp';
import { expect, it } from 'vitest';
import { decodeFrames } from './frames.ts';

/** A JPEG as a trace holds it: one grey all over, or with its left half dark. */
async function shot(atMs: number, grey: number, over: { halfDark?: boolean; width?: number } = {}) {
  const { halfDark = false, width = 240 } = over;
  const base = sharp({
    create: { width, height: 150, channels: 3, background: { r: grey, g: grey, b: grey } },
  });
  const dark = { create: { width: width / 2, height: 150, channels: 3 as const, background: '#000' } };
  const image = halfDark ? base.composite([{ input: dark, left: 0, top: 0 }]) : base;
  return { atMs, base64: (await image.jpeg().toBuffer()).toString('base64') };
}

it('keeps the pictures that change something, with their times', async () => {
  const frames = await decodeFrames([
    await shot(20, 255),
    await shot(300, 255),
    await shot(700, 200, { halfDark: true }),
    await shot(750, 200, { halfDark: true }),
    await shot(900, 200),
  ]);
  const points = frames.completenessAgainst(frames.last);
  expect(points.map((point) => point.atMs)).toEqual([20, 700, 900]);
  expect(points[0]!.completeness).toBe(0);
  expect(points.at(-1)!.completeness).toBe(1);
  expect(frames.firstDrawnMs).toBe(700);
  expect(frames.completeFrom(points)).toBe(900);
  // White until 700 ms, then as complete as the dark half lets it be until 900 ms.
  const half = points[1]!.completeness;
  expect(frames.speedIndex(points, 2_000)).toBeCloseTo(700 + (1 - half) * 200, 0);
});

it('leaves out what was pictured before the viewport had its size', async () => {
  const frames = await decodeFrames([
    await shot(5, 90, { width: 200 }),
    await shot(40, 255),
    await shot(600, 120),
  ]);
  const points = frames.completenessAgainst(frames.last);
  expect(points.map((point) => point.atMs)).toEqual([40, 600]);
  expect(frames.speedIndex(points, 2_000)).toBeCloseTo(600, 0);
  expect(frames.firstDrawnMs).toBe(600);
});

it('of a load that showed nothing says nothing', async () => {
  const none = await decodeFrames([]);
  expect(none.last).toBeNull();
  expect(none.firstDrawnMs).toBeNull();
  expect(none.speedIndex(none.completenessAgainst(null), 1_000)).toBeNull();
});
