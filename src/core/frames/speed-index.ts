/** One point of the visual completeness curve; it holds until the next point. */
export interface CompletenessPoint {
  atMs: number;
  completeness: number;
}

/**
 * Speed Index: the area above the visual completeness curve, from navigation start to the end of the
 * window, ms. Completeness is 0 before the first point and steps at each.
 *
 * @returns null when nothing was ever drawn
 */
export function speedIndex(points: readonly CompletenessPoint[], windowMs: number): number | null {
  if (!points.some((point) => point.completeness > 0)) return null;
  const sorted = [...points].sort((a, b) => a.atMs - b.atMs);
  let area = 0;
  let at = 0;
  let missing = 1;
  for (const point of sorted) {
    const until = Math.min(Math.max(point.atMs, 0), windowMs);
    area += missing * (until - at);
    at = until;
    missing = 1 - point.completeness;
  }
  // A picture that never becomes the final one stays incomplete to the end of the window.
  if (missing > 0) area += missing * (windowMs - at);
  return area;
}

/** The earliest time from which the picture stays complete (at least `share`), or null. */
export function completeFrom(points: readonly CompletenessPoint[], share = 1): number | null {
  let from: number | null = null;
  for (const point of [...points].sort((a, b) => a.atMs - b.atMs)) {
    if (point.completeness >= share) from ??= point.atMs;
    else from = null;
  }
  return from;
}
