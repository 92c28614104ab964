import { weaken } from '../core/rehearse/weaken.ts';
import { activeRules, matchName, type Plan } from '../core/treat/plan.ts';
import { treatmentLabel } from '../core/treat/treatments/index.ts';
import type { Queries } from '../store/database.ts';
import { measuredPage, planFor, sceneFor, type PlanNow } from './stored-page.ts';

/** A page's plan in which a rule has less done by it. */
export interface ExceptedPlan {
  plan: Plan;
  now: Pick<PlanNow, 'recommended' | 'decided'>;
  /** What was done, as a sentence. */
  sentence: string;
}

/**
 * The plan with the strongest treatment that is left of a rule below its own, as rehearsing excepts it.
 *
 * @param why what the rule does, as a sentence
 * @returns null where the page is not measured, or its plan has no such rule that acts
 */
export async function planExcepting(
  queries: Queries,
  pageId: number,
  conditionsId: string,
  ruleId: string,
  why: string,
): Promise<ExceptedPlan | null> {
  const page = await measuredPage(queries, pageId, conditionsId);
  if (!page) return null;
  const now = await planFor(queries, pageId, page);
  const rule = activeRules(now.plan).find(({ id }) => id === ruleId);
  if (!rule) return null;
  const weaker = weaken(sceneFor(page, now.fold, now.next), now.plan, rule, why, 'Tried');
  const plan = { ...weaker, rules: weaker.rules.map((one) => (one.id === ruleId ? { ...one, why } : one)) };
  const becomes = plan.rules.find(({ id }) => id === ruleId)!.treatment;
  return {
    plan,
    now: { recommended: now.recommended, decided: now.decided },
    sentence: `Excepted: ${matchName(rule.match)} is “${treatmentLabel(rule.kind, becomes)}” now instead of “${treatmentLabel(rule.kind, rule.treatment)}”.`,
  };
}
