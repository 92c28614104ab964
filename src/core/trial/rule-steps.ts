import type { MapAsset } from '../path/map.ts';
import { applyPlan } from '../treat/apply.ts';
import { activeRules, matchText, type Plan, type PlanRule } from '../treat/plan.ts';
import type { Scene } from '../treat/treatment.ts';

/** Rules that are put in together: one that matters by itself, or all that do not. */
export interface RuleStep {
  ruleIds: string[];
}

/** How long a paint waited for each address, or would be earlier without it, ms: what makes a rule a step by itself. */
export function waitsOf(
  assets: readonly Pick<MapAsset, 'url' | 'waitedMs' | 'gainMs'>[],
): Map<string, number> {
  return new Map(assets.map((one) => [one.url, Math.max(one.waitedMs, one.gainMs ?? 0)]));
}

/** More steps take longer than anybody waits for: each one is loaded as often as the page itself. */
const MOST_STEPS = 6;

/**
 * The steps in which a plan is put in, one after the other, so that each one's own gain can be measured: rules about
 * what the paint waited for one by one, in the plan's order, then all others together. What is legal only together
 * is one step.
 *
 * @param waitedMs how long the paint waited for an address, ms
 */
export function ruleSteps(scene: Scene, plan: Plan, waitedMs: (url: string) => number): RuleStep[] {
  // What next pages need is asked for when this one is there: it gains nothing here.
  const rules = activeRules(plan).filter((rule) => rule.kind !== 'next');
  const costly = rules
    .filter((rule) => waitFor(rule, waitedMs) >= 1)
    .sort((a, b) => waitFor(b, waitedMs) - waitFor(a, waitedMs))
    .slice(0, MOST_STEPS - 1);
  const alone = rules.filter((rule) => costly.includes(rule)).map((rule) => [rule]);
  const others = rules.filter((rule) => !costly.includes(rule));
  return legalTogether(scene, plan, [...alone, ...(others.length ? [others] : [])]).map((step) => ({
    ruleIds: step.map((rule) => rule.id),
  }));
}

function waitFor(rule: PlanRule, waitedMs: (url: string) => number): number {
  return rule.kind === 'script' || rule.kind === 'stylesheet' ? waitedMs(matchText(rule.match)) : 0;
}

/** A step that is not legal without a later one takes that one's rules in. */
function legalTogether(scene: Scene, plan: Plan, steps: PlanRule[][]): PlanRule[][] {
  const refusedAtLast = refusedIn(scene, plan);
  const left = steps.map((step) => [...step]);
  for (let at = 0; at + 1 < left.length;) {
    const first = left.slice(0, at + 1).flat();
    const missing = refusedIn(scene, { ...plan, rules: first }).some((id) => !refusedAtLast.includes(id));
    if (missing) left.splice(at, 2, [...left[at]!, ...left[at + 1]!]);
    else at++;
  }
  return left;
}

function refusedIn(scene: Scene, plan: Plan): string[] {
  return applyPlan(scene, plan).notApplied.map((one) => one.ruleId);
}

/** The plan after a step, with all steps before it. */
export function planAfter(plan: Plan, steps: readonly RuleStep[], index: number): Plan {
  const taken = new Set(steps.slice(0, index + 1).flatMap((step) => step.ruleIds));
  return { ...plan, rules: plan.rules.filter((rule) => taken.has(rule.id)) };
}
