import { METRICS, type MetricKey, type MetricSpreads } from '../measure/metrics.ts';
import { count, ms } from '../path/words.ts';
import type { FieldDevice, FieldFigure } from './field-figures.ts';

/** Visitors' percentiles of one metric, the lowest first. */
export interface FieldMetric {
  metric: MetricKey;
  percentiles: { percentile: number; value: number }[];
}

/** Visitors' figures beside the lab's. */
export interface FieldComparison {
  device: FieldDevice;
  metrics: FieldMetric[];
  /** Whether what is measured here is what visitors see, in a sentence. */
  sentence: string;
  resembles: boolean;
}

/** What is held against visitors first: network and device show in the first content. */
const TELLING: readonly MetricKey[] = [
  'firstContentfulPaintMs',
  'firstPaintMs',
  'largestContentfulPaintMs',
  'timeToFirstByteMs',
];

/**
 * Sets a page's visitors beside its measurement. Figures of the conditions' own device class are taken, those
 * of all devices where there are none.
 *
 * @param figures of this page only
 * @returns null when there are none that fit
 */
export function compareWithField(
  figures: readonly FieldFigure[],
  agent: 'phone' | 'desktop',
  lab: MetricSpreads,
): FieldComparison | null {
  const device = ([agent, 'all'] as const).find((one) => figures.some((figure) => figure.device === one));
  if (!device) return null;
  const own = figures.filter((figure) => figure.device === device);
  const metrics = METRICS.flatMap(({ key }): FieldMetric[] => {
    const percentiles = own
      .filter((figure) => figure.metric === key)
      .map(({ percentile, value }) => ({ percentile, value }))
      .sort((a, b) => a.percentile - b.percentile);
    return percentiles.length ? [{ metric: key, percentiles }] : [];
  });
  return { device, metrics, ...resemblance(metrics, own, device, lab) };
}

function resemblance(
  metrics: readonly FieldMetric[],
  figures: readonly FieldFigure[],
  device: FieldDevice,
  lab: MetricSpreads,
): Pick<FieldComparison, 'sentence' | 'resembles'> {
  const key = TELLING.find(
    (one) => lab[one].median !== null && metrics.some((metric) => metric.metric === one),
  );
  if (!key)
    return { resembles: true, sentence: 'Visitors’ figures are of metrics that say nothing of conditions.' };
  const here = lab[key].median!;
  const name = METRICS.find((one) => one.key === key)!.label;
  const { percentiles } = metrics.find((metric) => metric.metric === key)!;
  const who = whoSays(
    figures.filter((figure) => figure.metric === key),
    device,
  );
  const [first, last] = [percentiles[0]!, percentiles.at(-1)!];
  if (here > last.value)
    return {
      resembles: false,
      sentence: `These conditions are harder than what visitors have: ${name.toLowerCase()} is ${ms(here)} here, and ${last.percentile} % of visits had it by ${ms(last.value)} (${who}).`,
    };
  if (here < first.value)
    return {
      resembles: false,
      sentence: `These conditions are easier than what visitors have: ${name.toLowerCase()} is ${ms(here)} here, and only ${first.percentile} % of visits had it by ${ms(first.value)} (${who}).`,
    };
  const above = percentiles.find((one) => one.value >= here)!;
  const below = percentiles.findLast((one) => one.value <= here)!;
  return {
    resembles: true,
    sentence:
      above.percentile <= below.percentile
        ? `${name} here, ${ms(here)}, is the visitors’ ${ordinal(below.percentile)} percentile (${who}).`
        : `${name} here, ${ms(here)}, lies between the visitors’ ${ordinal(below.percentile)} and ${ordinal(above.percentile)} percentile (${who}).`,
  };
}

function whoSays(figures: readonly FieldFigure[], device: FieldDevice): string {
  const { period, visits } = figures[0]!;
  return [
    device === 'all' ? 'all devices' : device,
    ...(period ? [period] : []),
    ...(visits === null ? [] : [`${count(visits)} visits`]),
  ].join(', ');
}

/** "75th", "1st", "99.9th". */
function ordinal(value: number): string {
  const last = value % 100;
  const ending =
    Number.isInteger(value) && !(last > 10 && last < 14)
      ? (['th', 'st', 'nd', 'rd'][value % 10] ?? 'th')
      : 'th';
  return `${value}${ending}`;
}
