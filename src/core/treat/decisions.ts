import { matchText, sameMatch, type Match, type Plan, type PlanRule } from './plan.ts';
import { treatmentLabel } from './treatments/index.ts';

/** A rule of the user's own plan that is not as recommended. */
export interface OwnDecision {
  ruleId: string;
  match: Match;
  /** What it does, and what it would do as recommended, as screens call it. */
  does: string;
  recommended: string;
  /** Why the user decided so; '' where that was not said. */
  why: string;
  /** The rule as recommended; null where none is recommended for its asset. */
  rule: PlanRule | null;
}

/** What a rule does: switched off it leaves its asset as authored. */
export function effectOf({ on, treatment }: Pick<PlanRule, 'on' | 'treatment'>): string {
  return on ? treatment : 'as-authored';
}

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

/** A decision as a sentence: "chat.js: delay until interaction instead of defer, since the desk asks for it." */
export function decisionSentence({ match, does, recommended, why }: OwnDecision): string {
  const name =
    'url' in match ? (match.url.split(/[?#]/)[0]!.split('/').at(-1) ?? match.url) : matchText(match);
  const reason = why.trim().replace(/\.$/, '');
  return `${name}: ${does} instead of ${recommended}${reason ? `. ${reason}.` : '; no reason was given.'}`;
}
