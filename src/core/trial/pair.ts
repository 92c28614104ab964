import type { Metrics } from '../measure/metrics.ts';

/** One complete pair of runs. */
export interface Pair {
  asIs: Metrics;
  treated: Metrics;
}
