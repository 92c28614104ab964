/** The figures of one run. Times are ms from navigation start, sizes bytes. */
export interface Metrics {
  firstPaintMs: number | null;
  firstContentfulPaintMs: number | null;
  largestContentfulPaintMs: number | null;
  /** Null when nothing changed on screen, or when the page never rested. */
  speedIndexMs: number | null;
  /** From when on the picture stays the final one; null when it never does, or never rested. */
  visuallyCompleteMs: number | null;
  cumulativeLayoutShift: number;
  totalBlockingMs: number;
  /** What the main thread's long tasks took beyond 50 ms each, from navigation start to the end of the window. */
  wholeLoadBlockingMs: number;
  timeToFirstByteMs: number | null;
  domReadyMs: number | null;
  loadMs: number | null;
  requests: number;
  wireBytes: number;
}

export type MetricKey = keyof Metrics;

export interface MetricInfo {
  key: MetricKey;
  label: string;
  unit: 'ms' | 'bytes' | 'count' | 'score';
}

/** All metrics in the order they are shown. */
export const METRICS: readonly MetricInfo[] = [
  { key: 'firstPaintMs', label: 'First paint', unit: 'ms' },
  { key: 'firstContentfulPaintMs', label: 'First contentful paint', unit: 'ms' },
  { key: 'speedIndexMs', label: 'Speed Index', unit: 'ms' },
  { key: 'visuallyCompleteMs', label: 'Visually complete', unit: 'ms' },
  { key: 'largestContentfulPaintMs', label: 'Largest contentful paint', unit: 'ms' },
  { key: 'cumulativeLayoutShift', label: 'Layout shift', unit: 'score' },
  { key: 'totalBlockingMs', label: 'Total blocking time', unit: 'ms' },
  { key: 'wholeLoadBlockingMs', label: 'Blocking, whole load', unit: 'ms' },
  { key: 'timeToFirstByteMs', label: 'Time to first byte', unit: 'ms' },
  { key: 'domReadyMs', label: 'DOM ready', unit: 'ms' },
  { key: 'loadMs', label: 'Load', unit: 'ms' },
  { key: 'requests', label: 'Requests', unit: 'count' },
  { key: 'wireBytes', label: 'Wire bytes', unit: 'bytes' },
];

/** The middle value; the mean of the two middle ones for an even count. Null for an empty list. */
export function median(values: readonly number[]): number | null {
  if (values.length === 0) return null;
  const sorted = [...values].sort((a, b) => a - b);
  const middle = sorted.length >> 1;
  return sorted.length % 2 === 1 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2;
}

/** One metric over several runs; all null when no run has it. `runs` keeps each run's own figure. */
export interface Spread {
  median: number | null;
  min: number | null;
  max: number | null;
  runs: (number | null)[];
}

export type MetricSpreads = Record<MetricKey, Spread>;

/** Median, least and greatest of every metric over the runs. */
export function summarise(runs: readonly Metrics[]): MetricSpreads {
  const spreads = {} as MetricSpreads;
  for (const { key } of METRICS) {
    const each = runs.map((run) => run[key]);
    const known = each.filter((value): value is number => value !== null);
    spreads[key] = {
      median: median(known),
      min: known.length ? Math.min(...known) : null,
      max: known.length ? Math.max(...known) : null,
      runs: each,
    };
  }
  return spreads;
}

/** The index of the run whose figure is the median (the nearest to it, the earliest of equals). */
export function medianRunIndex(runs: readonly Metrics[], key: MetricKey): number {
  const middle = median(runs.map((run) => run[key]).filter((v): v is number => v !== null));
  if (middle === null) return 0;
  let best = 0;
  runs.forEach((run, index) => {
    const off = Math.abs((run[key] ?? Infinity) - middle);
    if (off < Math.abs((runs[best]![key] ?? Infinity) - middle)) best = index;
  });
  return best;
}
