import { headlineOfArms, type HeadlineKey } from '../measure/headline.ts';
import { summarise, type Metrics, type MetricSpreads } from '../measure/metrics.ts';
import type { ArmId } from './arms.ts';
import { LOOKS, tailsOf, type PairsWish } from './looks.ts';
import { comparePairs, leastPairs, type PairedDifference } from './statistics.ts';

/** An arm that is loaded in the rounds of a trial, beside the two that are judged. */
export interface ArmBeside {
  id: ArmId;
  /** Of each round, in their order. */
  metrics: Metrics[];
  spreads: MetricSpreads;
  /** Why rules of its plan were not carried out, each. */
  leftOut: string[];
}

/** Two arms of one trial held against each other: the second less the first. */
export interface ArmComparison {
  one: ArmId;
  other: ArmId;
  paint: PairedDifference;
}

/** What the arms of a trial come to against each other, where there are more than two. */
export interface MoreArms {
  headline: HeadlineKey;
  beside: ArmBeside[];
  /** Every two of them but the two that are judged, which have more said of them. */
  compared: ArmComparison[];
}

/** @param judged as is and treated. @returns null where no arm is beside them */
export function moreArmsOf(
  judged: readonly { id: ArmId; metrics: readonly Metrics[] }[],
  beside: readonly Omit<ArmBeside, 'spreads'>[],
  wish: PairsWish,
): MoreArms | null {
  if (beside.length === 0) return null;
  const all = [...judged, ...beside];
  const headline = headlineOfArms(...all.map((arm) => [...arm.metrics]));
  const tail = tailBeside(all.length, wish);
  const compared = all.flatMap((one, at) =>
    all.slice(at + 1).flatMap((other): ArmComparison[] => {
      if (judged.includes(one) && judged.includes(other)) return [];
      const differences = other.metrics.flatMap((metrics, round) => {
        const [a, b] = [one.metrics[round]?.[headline], metrics[headline]];
        return typeof a === 'number' && typeof b === 'number' ? [b - a] : [];
      });
      return [{ one: one.id, other: other.id, paint: comparePairs(differences, tail) }];
    }),
  );
  return {
    headline,
    beside: beside.map((arm) => ({ ...arm, spreads: summarise(arm.metrics) })),
    compared,
  };
}

/** The least rounds of a trial with arms beside: as many as anything can be said of them with, at one of its looks. */
export function leastRounds(besides: number, wish: PairsWish): number {
  if (besides === 0 || wish !== 'until clear') return 0;
  const least = leastPairs(tailBeside(2 + besides, wish));
  return LOOKS.find((look) => look >= least) ?? LOOKS.at(-1)!;
}

/** Of so many comparisons chance finds one sooner: each has its part of the tail (Bonferroni). */
function tailBeside(arms: number, wish: PairsWish): number {
  return tailsOf(wish).headlines / ((arms * (arms - 1)) / 2 - 1);
}
