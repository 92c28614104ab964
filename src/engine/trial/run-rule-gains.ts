import { AS_IS, type ArmId } from '../../core/trial/arms.ts';
import { roundOrder } from '../../core/trial/order.ts';
import { ruleGains, type RuleGains } from '../../core/trial/rule-gains.ts';
import { planAfter, type RuleStep } from '../../core/trial/rule-steps.ts';
import { applyPlan } from '../../core/treat/apply.ts';
import type { Plan } from '../../core/treat/plan.ts';
import type { Scene } from '../../core/treat/treatment.ts';
import type { Yardstick } from '../../core/measure/yardstick.ts';
import { Lab, type LabRequest } from '../lab/lab.ts';
import { runRounds, timedLoads } from '../lab/rounds.ts';
import { overridesOf } from '../replay/overrides.ts';

export interface RuleGainsRequest extends Omit<LabRequest, 'arms'> {
  scene: Scene;
  plan: Plan;
  steps: readonly RuleStep[];
  /** How often every arm is loaded. */
  rounds: number;
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
  const { scene, plan, steps, rounds: wanted, onProgress, ...rest } = request;
  const seed = request.seed ?? Math.floor(Math.random() * 2 ** 31) + 1;
  const { documentUrl } = request.capture;
  const plans = [{ ...plan, rules: [] }, ...steps.map((_step, index) => planAfter(plan, steps, index))];
  const ids = plans.map((_plan, index): ArmId => (index === 0 ? AS_IS : `step ${index}`));
  const arms = plans.map((one, index) => ({
    name: ids[index]!,
    overrides: overridesOf(documentUrl, applyPlan(scene, one)),
  }));
  const loads = wanted * arms.length;
  return Lab.with({ ...rest, arms }, async (lab) => {
    // The first load of a browser warms it up; both ends give the window.
    const ends = [
      await lab.load(ids[0]!, { windowMs: null }),
      await lab.load(ids.at(-1)!, { windowMs: null }),
    ];
    const windowMs = Math.max(...ends.map(({ first }) => first.observation.windowMs)) + WINDOW_MARGIN_MS;
    const { rounds, ...quality } = await runRounds({
      order: roundOrder(ids, seed),
      wanted: () => wanted,
      ...timedLoads(lab, { windowMs }),
      onLoad(arm, { round, turn, madeAgain }) {
        const again = madeAgain ? `, ${madeAgain} made again` : '';
        const done = Math.min(round * arms.length + turn, loads - 1);
        onProgress?.(
          `Round ${round + 1} of ${wanted}${again}: ${arm === AS_IS ? 'as is' : arm}`,
          done,
          loads,
        );
      },
      ...(request.signal ? { signal: request.signal } : {}),
    });
    const metrics = rounds.map((round) => ids.map((id) => round.get(id)!.first.observation.metrics));
    return {
      ...ruleGains(steps, metrics),
      takenAt: new Date().toISOString(),
      seed,
      yardstick: lab.yardstick,
      quality,
    };
  });
}
