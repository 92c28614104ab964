import { emptyPaintWords, headlineOfSpreads } from '../core/measure/headline.ts';
import { shortfallWords } from '../core/measure/yardstick.ts';
import type { StoredMeasurement } from '../store/measurements.ts';

type Measured = Pick<StoredMeasurement, 'spreads' | 'conditions' | 'yardstick'>;

/** Said in the first sentence where the first paint shows nothing; null elsewhere. */
export function emptyPaintOf({ spreads }: Measured): string | null {
  return emptyPaintWords(headlineOfSpreads(spreads), spreads.firstPaintMs.median);
}

/** What is to be known with every figure of a measurement, in sentences: a slow machine, another yardstick. */
export function caveatsOf({ conditions, yardstick }: Measured): string[] {
  const words =
    yardstick.version === 1
      ? 'Taken with the yardstick of before, which slowed the processor by another measure: measure again to compare.'
      : shortfallWords(conditions.cpuSlowdown, yardstick);
  return words === null ? [] : [words];
}
