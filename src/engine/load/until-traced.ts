import { NoNavigation } from '../../core/measure/trace.ts';

/** A machine that is busy for a moment is no longer so by then. */
const MOST_LOADS = 3;

/**
 * Makes a load again whose trace was lost: on a busy machine a page's process may be too late to hand its own over, and a
 * trial of an hour must not break off for that.
 */
export async function untilTraced<T>(load: () => Promise<T>): Promise<T> {
  for (let loads = 1; ; loads++)
    try {
      return await load();
    } catch (error) {
      if (!(error instanceof NoNavigation) || loads === MOST_LOADS) throw error;
    }
}
