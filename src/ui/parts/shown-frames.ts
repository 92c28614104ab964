/** Frames that can be drawn side by side on an axis without covering each other: the first, the last, and between them those with room. */
export function shownFrames<F extends { atMs: number }>(frames: readonly F[], widthMs: number): F[] {
  const shown: F[] = [];
  const last = frames.at(-1);
  for (const frame of frames) {
    const before = shown.at(-1);
    if (before && frame.atMs - before.atMs < widthMs) continue;
    if (last && frame !== last && last.atMs - frame.atMs < widthMs && shown.length > 0) continue;
    shown.push(frame);
  }
  return shown;
}

/** The frame that shows at a moment; null before the first. */
export function frameAt<F extends { atMs: number }>(frames: readonly F[], atMs: number): F | null {
  return frames.findLast((frame) => frame.atMs <= atMs + 0.5) ?? null;
}

/** Round steps for an axis of about `wanted` ticks. */
export function axisTicks(endMs: number, wanted = 8): number[] {
  const rough = endMs / wanted;
  const step =
    [50, 100, 200, 250, 500, 1_000, 2_000, 2_500, 5_000, 10_000, 20_000].find((one) => one >= rough) ??
    30_000;
  return Array.from({ length: Math.floor(endMs / step) + 1 }, (_, i) => i * step);
}

/** "0", "0.5", "2": seconds for an axis. */
export function seconds(atMs: number): string {
  return String(Math.round(atMs) / 1000);
}
