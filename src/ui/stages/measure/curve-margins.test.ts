import { describe, expect, it } from 'vitest';
import { frameSize, framesByWidth, LEFT, rightOf } from './curve-margins.ts';

const PHONE = { width: 390, height: 844 };
const LAPTOP = { width: 1366, height: 768 };

it('draws a frame in its own shape, as large as there is room for', () => {
  for (const viewport of [PHONE, LAPTOP]) {
    const { width, height } = frameSize(viewport);
    expect(width / height).toBeCloseTo(viewport.width / viewport.height, 1);
    expect(width).toBeLessThanOrEqual(104);
    expect(height).toBeLessThanOrEqual(90);
  }
});

describe.each([
  ['a phone', PHONE],
  ['a laptop', LAPTOP],
])('frames of %s', (_name, viewport) => {
  const end = 4_400;
  const { width } = frameSize(viewport);
  const frames = Array.from({ length: 60 }, (_, index) => ({ atMs: index * 70 }));
  const inChart = (chart: number) =>
    framesByWidth(frames, end, width).flatMap(({ frame, fromPx }) =>
      fromPx === null || chart >= fromPx ? [frame] : [],
    );

  it.each([308, 345, 368, 500, 800, 1_100])(
    'stand side by side in a chart of %i px, none beyond its edge',
    (chart) => {
      const plot = chart - LEFT - rightOf(width);
      const left = (atMs: number) => LEFT + (plot * atMs) / end;
      const shown = inChart(chart);
      expect(shown.length).toBeGreaterThan(1);
      for (const [index, { atMs }] of shown.entries()) {
        const next = shown[index + 1];
        if (next) expect(left(next.atMs) - left(atMs)).toBeGreaterThanOrEqual(width + 6);
        else expect(left(atMs) + width).toBeLessThanOrEqual(chart);
      }
    },
  );

  it('are more where there is more room', () => {
    expect(inChart(800).length).toBeGreaterThan(inChart(308).length);
  });
});
