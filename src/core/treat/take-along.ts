import { sameMatch, type PlanRule } from './plan.ts';

/**
 * Rules with changes to some of them. What a changed rule takes along has no treatment of its own any more, and what went
 * along with that one goes with the changed rule.
 *
 * @param changes by the ids of rules, the first of them first
 */
export function withChanges(
  rules: readonly PlanRule[],
  changes: ReadonlyMap<string, Partial<PlanRule>>,
): PlanRule[] {
  let all = rules.map((rule) => ({ ...rule, ...changes.get(rule.id) }));
  for (const id of changes.keys()) {
    const rule = all.find((one) => one.id === id);
    if (!rule?.on || rule.treatment === 'as-authored') continue;
    const whole = takingAlong(rule, all);
    const taken = takenBy(rule, all);
    all = all.map((one) => {
      if (one === rule) return whole;
      return taken.includes(one) ? { ...one, treatment: 'as-authored', together: [] } : one;
    });
  }
  return all;
}

/** A rule with all that goes along with those that it takes along. */
export function takingAlong(rule: PlanRule, rules: readonly PlanRule[]): PlanRule {
  const along = rule.together ?? [];
  const more = takenBy(rule, rules)
    .flatMap((one) => one.together ?? [])
    .filter((match) => ![rule.match, ...along].some((one) => sameMatch(one, match)));
  return more.length ? { ...rule, together: [...along, ...more] } : rule;
}

/** Rules of what goes along with another one, that do something by themselves. */
function takenBy(rule: PlanRule, rules: readonly PlanRule[]): PlanRule[] {
  return rules.filter(
    (one) =>
      one !== rule &&
      one.kind === rule.kind &&
      one.on &&
      one.treatment !== 'as-authored' &&
      (rule.together ?? []).some((match) => sameMatch(match, one.match)),
  );
}
