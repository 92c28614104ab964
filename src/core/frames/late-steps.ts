/** A part of the time in which areas of the viewport became final. */
export interface LateStep {
  /** ms from navigation start. */
  fromMs: number;
  untilMs: number;
  /** Of the areas that became final at all, how many did so in it. */
  share: number;
}

const STEPS = 4;

/**
 * When areas of the viewport became final, in four steps of the same length from the first to the last; one where all did
 * at once, none where none did.
 *
 * @param finalMs of each area the moment it became final, ms from navigation start; 0 for one that never changed
 * @returns the steps, and of each area the number of its step; null for one that never changed
 */
export function lateSteps(finalMs: readonly number[]): { steps: LateStep[]; of: (number | null)[] } {
  const final = finalMs.filter((one) => one > 0);
  if (final.length === 0) return { steps: [], of: finalMs.map(() => null) };
  const [first, last] = [Math.min(...final), Math.max(...final)];
  const count = first === last ? 1 : STEPS;
  const length = (last - first) / count;
  const of = finalMs.map((at) =>
    at > 0 ? (length ? Math.min(count - 1, Math.floor((at - first) / length)) : 0) : null,
  );
  const steps = Array.from({ length: count }, (_, step) => ({
    fromMs: first + step * length,
    untilMs: first + (step + 1) * length,
    share: of.filter((one) => one === step).length / final.length,
  }));
  return { steps, of };
}
