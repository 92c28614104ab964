import type { OwnDecision } from '../words/own-decision.ts';
import { effectOf, sameMatch, type Plan } from './plan.ts';
import { treatmentLabel } from './treatments/index.ts';

/** What the user decided over the recommendation: the rules in which the plans differ in what they do. */
export function ownDecisions(own: Plan, recommended: Plan): OwnDecision[] {
  return own.rules.flatMap((rule): OwnDecision[] => {
    const other =
      recommended.rules.find((one) => one.kind === rule.kind && sameMatch(one.match, rule.match)) ?? null;
    const [does, would] = [effectOf(rule), other ? effectOf(other) : 'as-authored'];
    if (does === would) return [];
    return [
      {
        ruleId: rule.id,
        match: rule.match,
        does: treatmentLabel(rule.kind, does),
        recommended: treatmentLabel(rule.kind, would),
        why: rule.why ?? '',
        rule: other,
      },
    ];
  });
}
