import { ms } from '../path/words.ts';

/** What a load's main thread was held up for once somebody touched the page: where delayed scripts run. */
export interface AfterTouch {
  /** What each task took beyond 50 ms, in all, ms. */
  blockingMs: number;
  /** The longest of them, whole, ms. */
  longestMs: number;
}

/** Less is not felt: what a task may take before it counts at all. */
const FELT_MS = 50;

/** @param tasks how long each took, ms: from 50 ms on */
export function afterTouchOf(tasks: readonly number[]): AfterTouch {
  return {
    blockingMs: tasks.reduce((sum, one) => sum + Math.max(0, one - FELT_MS), 0),
    longestMs: Math.max(0, ...tasks),
  };
}

/**
 * What a visitor's first touch costs where it costs more than as is; null where it does not. One load of each arm was
 * touched, so it is no figure to be held against others.
 */
export function afterTouchWords(asIs: AfterTouch, treated: AfterTouch): string | null {
  if (treated.blockingMs - asIs.blockingMs < FELT_MS) return null;
  const before = asIs.blockingMs < 1 ? 'not at all' : ms(asIs.blockingMs);
  return `The first touch sets off what waited for it: the main thread is then held up for about ${ms(treated.blockingMs)} in all, ${ms(treated.longestMs)} at a time at most (as is: ${before}).`;
}
