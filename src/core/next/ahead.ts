import { activeRules, type Plan, type PlanRule } from '../treat/plan.ts';

/** The rules of a plan that ask for something ahead of next pages: those switched on. */
export function aheadRules(plan: Plan): PlanRule[] {
  return activeRules(plan).filter((rule) => rule.kind === 'next');
}

/** A plan with all that is recommended to be asked for ahead switched on, where the user has switched on nothing of it. */
export function askingAhead(plan: Plan): Plan {
  if (aheadRules(plan).length) return plan;
  return {
    ...plan,
    rules: plan.rules.map((rule) => (rule.kind === 'next' ? { ...rule, on: true } : rule)),
  };
}
