import { AS_IS, type ArmId } from '../../core/trial/arms.ts';
import { roundOrder } from '../../core/trial/order.ts';
import { ruleGains, type RuleGains } from '../../core/trial/rule-gains.ts';
import { planAfter, type RuleStep } from '../../core/trial/rule-steps.ts';
import { applyPlan } from '../../core/treat/apply.ts';
import type { Plan } from '../../core/treat/plan.ts';
import type { Scene } from '../../core/treat/treatment.ts';
import type { Metrics } from '../../core/measure/metrics.ts';
import type { Yardstick } from '../../core/measure/yardstick.ts';
import { Lab, type LabRequest } from '../lab/lab.ts';
import { runRounds, timedLoads, type Round } from '../lab/rounds.ts';
import { overridesOf } from '../replay/overrides.ts';

export interface RuleGainsRequest extends Omit<LabRequest, 'arms'> {
  scene: Scene;
  plan: Plan;
  steps: readonly RuleStep[];
  /** How often every arm is loaded. */
  rounds: number;
  /** What was taken before it was broken off: of each round the metrics of its arms, in their order. */
  before?: readonly (readonly Metrics[])[];
  /** Told of each round once it is taken. */
  onRound?: (metrics: Metrics[]) => void;
  seed?: number;
  onProgress?: (step: string, done: number, of: number) => void;
}

/** What each step of a plan gained, and how that was measured. */
export interface MeasuredRuleGains extends RuleGains {
  takenAt: string;
  seed: number;
  yardstick: Yardstick;
  quality: { rejected: string[]; tooBusy: boolean };
}

/** What lies between may rest later than both ends, and no paint is to be missed for that. */
const WINDOW_MARGIN_MS = 1_000;

/** Loads the page as it is and after every step, round by round, each once in a round, the order drawn at random. */
export function runRuleGains(request: RuleGainsRequest): Promise<MeasuredRuleGains> {
  const { scene, plan, steps, rounds: asked, before: all = [], onRound, onProgress, ...rest } = request;
  const seed = request.seed ?? Math.floor(Math.random() * 2 ** 31) + 1;
  const { documentUrl } = request.capture;
  const plans = [{ ...plan, rules: [] }, ...steps.map((_step, index) => planAfter(plan, steps, index))];
  const ids = plans.map((_plan, index): ArmId => (index === 0 ? AS_IS : `step ${index}`));
  const arms = plans.map((one, index) => ({
    name: ids[index]!,
    overrides: overridesOf(documentUrl, applyPlan(scene, one)),
  }));
  // Of another number of arms they are of other steps.
  const before = all.filter((round) => round.length === arms.length).slice(0, asked);
  const wanted = asked - before.length;
  const loads = asked * arms.length;
  return Lab.with({ ...rest, arms }, async (lab) => {
    // The first load of a browser warms it up; both ends give the window.
    const ends = [
      await lab.load(ids[0]!, { windowMs: null }),
      await lab.load(ids.at(-1)!, { windowMs: null }),
    ];
    const windowMs = Math.max(...ends.map(({ first }) => first.observation.windowMs)) + WINDOW_MARGIN_MS;
    const metricsOf = (round: Round) => ids.map((id) => round.get(id)!.first.observation.metrics);
    let told = 0;
    const { rounds, ...quality } = await runRounds({
      order: roundOrder(ids, seed),
      wanted(taken) {
        for (; told < taken.length; told++) onRound?.(metricsOf(taken[told]!));
        return wanted;
      },
      ...timedLoads(lab, { windowMs }),
      onLoad(arm, { round, turn, madeAgain }) {
        const again = madeAgain ? `, ${madeAgain} made again` : '';
        const number = before.length + round;
        const done = Math.min(number * arms.length + turn, loads - 1);
        onProgress?.(
          `Round ${number + 1} of ${asked}${again}: ${arm === AS_IS ? 'as is' : arm}`,
          done,
          loads,
        );
      },
      ...(request.signal ? { signal: request.signal } : {}),
    });
    return {
      ...ruleGains(steps, [...before, ...rounds.map(metricsOf)]),
      takenAt: new Date().toISOString(),
      seed,
      yardstick: lab.yardstick,
      quality,
    };
  });
}
