import { findConditions, type Conditions } from '../measure/conditions.ts';
import { HEADLINE_NAMES, type HeadlineKey } from '../measure/headline.ts';
import { median, type MetricKey } from '../measure/metrics.ts';
import { ms } from '../path/words.ts';
import type { Change } from './other-metrics.ts';
import type { Pair } from './pair.ts';
import type { PairedDifference } from './statistics.ts';
import type { Break } from './breaks.ts';

/**
 * What the same plan on the same bytes came to on the other kind of device: what is sent to phones is sent to laptops
 * too, so that a plan is proved only where it holds on both.
 */
export interface OtherDevice extends JudgedThere {
  conditions: Conditions;
  /** Medians of the headline. */
  asIsMs: number | null;
  treatedMs: number | null;
  /** Pairs had to be kept although the rule rejects them: others used the machine. */
  tooBusy: boolean;
}

/** What of a trial's judgement is told of the other device. */
interface JudgedThere {
  headline: HeadlineKey;
  paint: PairedDifference;
  speedIndex: PairedDifference;
  /** Why a verdict is withheld, where it is. */
  withheld: { paint: string | null; speedIndex: string | null };
  worse: Change[];
  breaks: Break[];
}

/** So many pairs there, where as many are taken here as it takes. */
export const OTHER_DEVICE_PAIRS = 8;

/** What a plan that was tried on a phone is tried under as well, and one of a laptop's. */
export function otherConditions({ agent }: Conditions): Conditions {
  return findConditions(agent === 'phone' ? 'home-laptop' : 'everyday-phone')!;
}

/** What a trial there came to. */
export function otherDeviceOf(
  conditions: Conditions,
  pairs: readonly Pair[],
  { headline, paint, speedIndex, withheld, worse, breaks }: JudgedThere,
  tooBusy: boolean,
): OtherDevice {
  const of = (arm: 'asIs' | 'treated') => median(pairs.flatMap((pair) => pair[arm][headline] ?? []));
  const judged = { headline, paint, speedIndex, withheld, worse, breaks };
  return { conditions, asIsMs: of('asIs'), treatedMs: of('treated'), tooBusy, ...judged };
}

/** Whether a plan may be called proved for what it came to there: not later, nothing broken, and known. */
export function holdsThere(there: OtherDevice): boolean {
  const { paint, withheld, breaks } = there;
  const known = paint.verdict === 'earlier' || paint.verdict === 'no clear difference';
  return known && withheld.paint === null && !isIndexLater(there) && breaks.length === 0;
}

function isIndexLater({ speedIndex, withheld }: OtherDevice): boolean {
  return withheld.speedIndex === null && speedIndex.verdict === 'later';
}

/** "a laptop (Home laptop)". */
export function deviceName({ agent, name }: Conditions): string {
  return `a ${agent === 'phone' ? 'phone' : 'laptop'} (${name})`;
}

/** They say what the one that is judged says. */
const OTHER_PAINTS = new Set<MetricKey>(['firstPaintMs', 'firstContentfulPaintMs']);

/** What it came to there, as the rest of a sentence that begins with "on a laptop (Home laptop)". */
export function otherDeviceWords(there: OtherDevice): string {
  const { headline, paint, speedIndex, withheld, worse, breaks } = there;
  const paints = headline === 'firstPaintMs' ? 'it paints' : 'it shows its first content';
  const said =
    withheld.paint !== null
      ? `nothing can be said of its ${HEADLINE_NAMES[headline]}: ${withheld.paint}`
      : paint.verdict === 'too few runs to say'
        ? 'there were too few runs to say'
        : paint.verdict === 'no clear difference'
          ? `${paints} with no clear difference`
          : `${paints} ${ms(Math.abs(paint.differenceMs))} ${paint.verdict}`;
  const more = [
    ...(isIndexLater(there) ? [`its Speed Index is ${ms(speedIndex.differenceMs)} later`] : []),
    ...worse.filter(({ key }) => !key || !OTHER_PAINTS.has(key)).map(({ words }) => words),
    ...breaks.map(({ words }) => words),
  ];
  const and = paint.verdict === 'earlier' ? ', but ' : ', ';
  return more.length ? said + and + more.join(', ') : said;
}
