import type { OwnDecision } from '../words/own-decision.ts';
import {
  effectOf,
  freeId,
  matchText,
  sameMatch,
  type Match,
  type Plan,
  type PlanRule,
  type RuleKind,
} from './plan.ts';
import { withChanges } from './take-along.ts';
import { treatmentLabel } from './treatments/index.ts';

/** What the user decided for one page, over what is recommended for it: what is not decided follows the recommendation. */
export interface PageDecisions {
  /** Rules that are as the user wants them. */
  rules: PlanRule[];
  /** What the page had rules for when they were decided: by it is known which assets are new. */
  knew: { kind: RuleKind; match: Match }[];
}

/**
 * The decisions in a plan: its rules that are not as recommended, and those that recommended ones are switched off by
 * not being in it. What was decided before and is still so stays decided, though it be what is recommended now.
 */
export function decisionsIn(plan: Plan, recommended: Plan, before: readonly PlanRule[]): PageDecisions {
  const decided = plan.rules.filter((rule) => {
    const other = twinOf(rule, recommended.rules);
    const earlier = twinOf(rule, before);
    return !isAlike(rule, other) || (earlier !== undefined && effectOf(earlier) === effectOf(rule));
  });
  const left = recommended.rules.filter(
    (rule) => effectOf(rule) !== 'as-authored' && !isSpokenOf(rule, plan.rules),
  );
  return {
    rules: [...decided, ...left.map((rule) => ({ ...rule, on: false }))],
    knew: [...plan.rules, ...left].map(({ kind, match }) => ({ kind, match })),
  };
}

/** What is recommended, with what the user decided for the page. */
export function withPageDecisions(recommended: Plan, decided: readonly PlanRule[]): Plan {
  const changes = new Map<string, Partial<PlanRule>>();
  const more: PlanRule[] = [];
  const ids = new Set(recommended.rules.map((rule) => rule.id));
  for (const rule of decided) {
    const twin = twinOf(rule, recommended.rules);
    const id = twin ? twin.id : ids.has(rule.id) ? freeId(ids) : rule.id;
    ids.add(id);
    if (!twin) more.push({ ...rule, id });
    // What it takes along is what was decided, not what is recommended.
    changes.set(id, { together: [], ...rule, id });
  }
  return { ...recommended, rules: withChanges([...recommended.rules, ...more], changes).map(withoutEmpty) };
}

/** By it is known whether the decisions are others than before: in whatever order they were stored. */
export function decisionsMark(rules: readonly PlanRule[]): string {
  return JSON.stringify(
    rules
      .map((rule) => [rule.kind, matchText(rule.match), effectOf(rule), (rule.together ?? []).map(matchText)])
      .map((one) => JSON.stringify(one))
      .sort(),
  );
}

function twinOf({ kind, match }: PlanRule, rules: readonly PlanRule[]): PlanRule | undefined {
  return rules.find((one) => one.kind === kind && sameMatch(one.match, match));
}

function isAlike(rule: PlanRule, other: PlanRule | undefined): boolean {
  const effect = effectOf(rule);
  if (effect !== (other ? effectOf(other) : 'as-authored')) return false;
  if ((rule.why ?? '') !== (other?.why ?? '')) return false;
  return effect === 'as-authored' || takes(rule) === takes(other!);
}

function takes({ together = [] }: PlanRule): string {
  return together.map(matchText).sort().join('\n');
}

/** Whether a plan has a rule for what another one is about, or takes it along. */
function isSpokenOf(rule: PlanRule, rules: readonly PlanRule[]): boolean {
  return rules.some(
    (one) =>
      one.kind === rule.kind &&
      [one.match, ...(one.together ?? [])].some((match) => sameMatch(match, rule.match)),
  );
}

function withoutEmpty({ together, ...rule }: PlanRule): PlanRule {
  return together?.length ? { ...rule, together } : rule;
}

/** What the user decided over the recommendation: the rules in which the plans differ in what they do. */
export function ownDecisions(own: Plan, recommended: Plan): OwnDecision[] {
  return own.rules.flatMap((rule): OwnDecision[] => {
    const other = twinOf(rule, recommended.rules) ?? null;
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
