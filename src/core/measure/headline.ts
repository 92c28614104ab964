import { median, type MetricSpreads, type Metrics } from './metrics.ts';

/** The paint that everything is told by: the first one, or the first with content where that one shows nothing. */
export type HeadlineKey = 'firstPaintMs' | 'firstContentfulPaintMs';

/** What the headline is called. */
export const HEADLINE_NAMES: Record<HeadlineKey, 'first paint' | 'first contentful paint'> = {
  firstPaintMs: 'first paint',
  firstContentfulPaintMs: 'first contentful paint',
};

type Paints = Pick<Metrics, HeadlineKey>;

/** A first content this much later was in another frame than the first paint, ms (one frame at 60 a second). */
const ANOTHER_FRAME_MS = 17;

/**
 * The headline of several runs. Where the first painted frame held no text, picture or canvas (Paint Timing,
 * "first contentful paint"), it showed nothing or nothing but a background, and says nothing of what visitors see.
 */
export function headlineOf(runs: readonly Paints[]): HeadlineKey {
  const later = runs.flatMap(({ firstPaintMs, firstContentfulPaintMs }) =>
    firstPaintMs === null || firstContentfulPaintMs === null ? [] : [firstContentfulPaintMs - firstPaintMs],
  );
  return (median(later) ?? 0) > ANOTHER_FRAME_MS ? 'firstContentfulPaintMs' : 'firstPaintMs';
}

/** The headline of two arms that are held against each other: one for both, so that like stands beside like. */
export function headlineOfArms(...arms: readonly (readonly Paints[])[]): HeadlineKey {
  return arms.some((runs) => headlineOf(runs) === 'firstContentfulPaintMs')
    ? 'firstContentfulPaintMs'
    : 'firstPaintMs';
}

/** The headline of runs that are kept as spreads. */
export function headlineOfSpreads(spreads: MetricSpreads): HeadlineKey {
  return headlineOf(paintsOf(spreads));
}

/** Each run's paints out of their spreads. */
export function paintsOf({ firstPaintMs, firstContentfulPaintMs }: MetricSpreads): Paints[] {
  return firstPaintMs.runs.map((paint, index) => ({
    firstPaintMs: paint,
    firstContentfulPaintMs: firstContentfulPaintMs.runs[index] ?? null,
  }));
}

/** Said in the first sentence wherever first paint is not the headline; null where it is. */
export function emptyPaintWords(headline: HeadlineKey, emptyPaintMs: number | null): string | null {
  return headline === 'firstPaintMs' || emptyPaintMs === null
    ? null
    : `The first paint, at ${Math.round(emptyPaintMs).toLocaleString('en-GB')} ms, shows nothing but a background.`;
}
