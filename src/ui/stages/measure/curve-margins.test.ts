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

  it.each([308, 352, 368, 500, 800, 1_100])(
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

it('shows a late picture beside the one before where a scroll bar takes its width', () => {
  const frames = [5, 2_810, 3_799].map((atMs) => ({ atMs }));
  const shown = framesByWidth(frames, 3_799 * 1.15, frameSize(PHONE).width);
  // Beside the table on a screen of 1280 px, less 16 px for the bar.
  expect(shown.filter(({ fromPx }) => fromPx === null || fromPx <= 352)).toHaveLength(3);
});
