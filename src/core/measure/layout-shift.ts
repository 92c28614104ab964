/** One shift of the layout, as the browser told it. Times are ms from navigation start. */
export interface LayoutShift {
  atMs: number;
  /** Share of the viewport that moved times how far it moved (Layout Instability, section 2.2). */
  score: number;
}

/** A shift so soon after input is what the visitor asked for (Layout Instability, section 2.2, "hadRecentInput"). */
export const INPUT_EXCLUDES_MS = 500;
const SESSION_GAP_MS = 1_000;
const SESSION_LENGTH_MS = 5_000;

/**
 * The shifts that count. Chromium's own flag is not asked: emulating a device changes the viewport at every
 * navigation, and that makes it take half a second of shifts for the visitor's doing.
 *
 * @param causes when we pressed, tapped, hit a key, or changed the viewport after the navigation was committed, ms;
 *   scrolling and hovering are none
 */
export function countedShifts<S extends LayoutShift>(
  shifts: readonly S[],
  causes: readonly number[] = [],
): S[] {
  return shifts.filter(
    ({ atMs }) => !causes.some((causeMs) => atMs >= causeMs && atMs - causeMs < INPUT_EXCLUDES_MS),
  );
}

/**
 * Cumulative layout shift: shifts at most 1 s apart, a session at most 5 s long; the largest session's sum
 * (Layout Instability, "session windows").
 */
export function cumulativeShift(shifts: readonly LayoutShift[]): number {
  let best = 0;
  let sum = 0;
  let first = -Infinity;
  let last = -Infinity;
  for (const { atMs, score } of [...shifts].sort((a, b) => a.atMs - b.atMs)) {
    if (atMs - last > SESSION_GAP_MS || atMs - first > SESSION_LENGTH_MS) {
      sum = 0;
      first = atMs;
    }
    last = atMs;
    sum += score;
    best = Math.max(best, sum);
  }
  return best;
}
