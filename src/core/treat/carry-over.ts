import { activeRules, matchText, type Plan } from './plan.ts';
import { rebind } from './rebind.ts';
import type { Scene } from './treatment.ts';

/** A plan as it would stand on another page. */
export interface CarriedOver {
  /** The rules whose assets that page has too. */
  plan: Plan;
  /** What it has not. */
  absent: string[];
}

/**
 * Carries what a plan does over to another page, as who puts it into a template does: each rule to the asset of the same
 * address or text, or of the same but for its version. What next pages need is each page's own.
 */
export function carriedOver(plan: Plan, page: string, scene: Scene): CarriedOver {
  const rules = activeRules(plan).filter((rule) => rule.kind !== 'next');
  const { decisions, rebound } = rebind({ rules, knew: [] }, scene, { ...plan, page, rules: [] });
  const lost = new Set(rebound.lost.map(({ ruleId }) => ruleId));
  return {
    plan: { ...plan, page, rules: decisions.rules.filter((rule) => !lost.has(rule.id)) },
    absent: rules.filter((rule) => lost.has(rule.id)).map((rule) => matchText(rule.match)),
  };
}
