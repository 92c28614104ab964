import { shownFrames } from '../../parts/shown-frames';

/** What stands left of the curve, px: frames above it are placed by the same. */
export const LEFT = 44;

/** Frames are as high at most, and as wide, px. */
const MOST = { width: 104, height: 90 };
/** What the time above a frame takes, px. */
const STAMP = 50;
const BETWEEN = 6;

/** How large a frame of a viewport is drawn, px. */
export function frameSize(viewport: { width: number; height: number }): { width: number; height: number } {
  const scale = Math.min(MOST.height / viewport.height, MOST.width / viewport.width);
  return { width: Math.round(viewport.width * scale), height: Math.round(viewport.height * scale) };
}

/** What stands right of the curve, px: the last frame begins where its curve ends. */
export const rightOf = (frameWidth: number) => Math.max(frameWidth, STAMP) + BETWEEN;

/** How far apart frames stand that do not cover each other, ms. @param chartPx how wide the chart is with what stands left and right of it */
function apartMs(endMs: number, frameWidth: number, chartPx: number): number {
  const plotPx = Math.max(60, chartPx - LEFT - rightOf(frameWidth));
  return (endMs * (Math.max(frameWidth, STAMP) + BETWEEN)) / plotPx;
}

/** Charts as wide have room for more frames, px: the widths of curve.css. The narrowest is as wide as any chart. */
const WIDTHS = [760, 480, 360, 350, 300] as const;

/** The frames that are shown in the widest chart, each with how wide a chart has to be for it; null for any. */
export function framesByWidth<F extends { atMs: number }>(
  frames: readonly F[],
  endMs: number,
  frameWidth: number,
): { frame: F; fromPx: number | null }[] {
  const sets: (readonly F[])[] = [];
  for (const width of WIDTHS)
    sets.push(shownFrames(sets.at(-1) ?? frames, apartMs(endMs, frameWidth, width)));
  return sets[0]!.map((frame) => {
    const narrowest = sets.findLastIndex((set) => set.includes(frame));
    return { frame, fromPx: narrowest === WIDTHS.length - 1 ? null : WIDTHS[narrowest]! };
  });
}
