import { applyPlan, choicesOf } from '../treat/apply.ts';
import { settle } from '../treat/legal.ts';
import { isLone, loneRefusal } from '../treat/lone.ts';
import { matchName, sameMatch, type Plan, type PlanRule } from '../treat/plan.ts';
import type { Scene } from '../treat/treatment.ts';
import { treatmentLabel, treatmentOf } from '../treat/treatments/index.ts';

/** What is tried in the place of a treatment that showed a fault, strongest first. */
const WEAKER: Readonly<Record<string, readonly string[]>> = {
  delay: ['after-paint', 'defer'],
  'after-paint': ['defer'],
  'fold-css-late': ['fold-css-held'],
  'early-with-room': ['early'],
  'on-press': ['late'],
  'late-with-room': ['late', 'room'],
};

/**
 * A plan in which a rule has the strongest treatment left that is legal; as authored where there is none. What cannot
 * be carried out without it any more is as authored as well, and says so.
 *
 * @param why what it showed, as a sentence
 * @param how how that was found out
 */
export function weaken(
  scene: Scene,
  plan: Plan,
  rule: PlanRule,
  why: string,
  how: 'Rehearsed' | 'Tried' = 'Rehearsed',
): Plan {
  const others = plan.rules.filter((one) => one !== rule);
  const script =
    rule.kind === 'script' ? scene.page.scripts.find((one) => sameMatch(one.match, rule.match)) : undefined;
  const style = scene.page.styles.find(
    (one) => rule.kind === 'stylesheet' && sameMatch(one.match, rule.match),
  );
  const chosen = choicesOf(scene, { ...plan, rules: others });
  const treatment = (WEAKER[rule.treatment] ?? []).find((id) => {
    if (isLone(rule.kind)) return loneRefusal(scene, rule.kind, rule.match, id) === null;
    if (style) {
      const weaker = treatmentOf('stylesheet', id);
      return weaker !== null && weaker.isFor(style, scene) && weaker.refuses(style, scene) === null;
    }
    if (!script || (id === 'defer' && (!script.blocking || script.element.url === null))) return false;
    const settled = settle(scene, chosen, new Map([[script, id]]));
    return settled.refused.size === 0 && settled.moved.size === 0;
  });
  const reason = `${how} as “${treatmentLabel(rule.kind, rule.treatment)}”: ${why}`;
  const { together: _gone, ...rest } = rule;
  const weaker: PlanRule = { ...rest, treatment: treatment ?? 'as-authored', reason };
  const changed = { ...plan, rules: plan.rules.map((one) => (one === rule ? weaker : one)) };
  return withoutDependents(scene, plan, changed, matchName(rule.match));
}

/** A plan less the rules that have become illegal by what was changed in it. */
function withoutDependents(scene: Scene, before: Plan, changed: Plan, of: string): Plan {
  const illegalIn = (plan: Plan) => applyPlan(scene, plan).notApplied.filter(({ illegal }) => illegal);
  const already = new Set(illegalIn(before).map(({ ruleId }) => ruleId));
  const fallen = new Map(illegalIn(changed).map(({ ruleId, why }) => [ruleId, why]));
  const rules = changed.rules.map((one): PlanRule => {
    const why = already.has(one.id) ? undefined : fallen.get(one.id);
    if (why === undefined) return one;
    const { together: _gone, ...rest } = one;
    return { ...rest, treatment: 'as-authored', reason: `It cannot go on as ${of} stays: ${why}` };
  });
  return { ...changed, rules };
}
