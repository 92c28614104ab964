import { headlineOfArms, type HeadlineKey } from '../measure/headline.ts';
import { median, type Metrics } from '../measure/metrics.ts';
import type { RuleStep } from './rule-steps.ts';
import { comparePairs, type PairedDifference } from './statistics.ts';
import { otherMetrics } from './other-metrics.ts';

/** What putting in a step's rules gained, beyond the steps before it. */
export interface StepGain extends RuleStep {
  /** Median headline with this step and all before it, ms; null where it never painted. */
  paintMs: number | null;
  /** Of rounds, this step less the one before it. */
  gained: PairedDifference;
  /** What this step makes worse beyond its noise, each in words. */
  worse: string[];
}

export interface RuleGains {
  headline: HeadlineKey;
  /** Median headline as is, ms. */
  asIsMs: number | null;
  steps: StepGain[];
}

/**
 * What each step gained. Steps are compared within rounds, in which every arm was loaded once, so that what the
 * machine does meanwhile falls on all of them alike.
 *
 * @param rounds of each round the metrics of the page as is and after every step, in their order
 */
export function ruleGains(steps: readonly RuleStep[], rounds: readonly (readonly Metrics[])[]): RuleGains {
  const arms = [0, ...steps.map((_step, index) => index + 1)].map((arm) =>
    rounds.map((round) => round[arm]!),
  );
  const headline = headlineOfArms(...arms);
  const paints = arms.map((arm) => arm.map((metrics) => metrics[headline]));
  const middle = (arm: number) => median(paints[arm]!.filter((one) => one !== null));
  return {
    headline,
    asIsMs: middle(0),
    steps: steps.map((step, index): StepGain => ({
      ...step,
      paintMs: middle(index + 1),
      gained: comparePairs(
        paints[index + 1]!.flatMap((paint, round) => {
          const before = paints[index]![round] ?? null;
          return paint === null || before === null ? [] : [paint - before];
        }),
      ),
      worse: otherMetrics(
        rounds.map((round) => ({ asIs: round[index]!, treated: round[index + 1]! })),
        headline,
      ).worse.map(({ words }) => words),
    })),
  };
}
