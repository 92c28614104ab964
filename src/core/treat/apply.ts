import type { PageScript, PageStyle } from '../page/page-assets.ts';
import { refusalSentence } from '../words/refusals.ts';
import { compose, type Composed } from './compose.ts';
import type { Contribution, RuleContribution } from './contribution.ts';
import { refusalsIn, type Choices } from './legal.ts';
import { isLone, loneAsset, loneRefusal, type LoneKind } from './lone.ts';
import { activeRules, sameMatch, type Match, type Plan, type PlanRule } from './plan.ts';
import type { Refusal } from './refusal.ts';
import type { Scene } from './treatment.ts';
import { treatmentLabel, treatmentOf } from './treatments/index.ts';

/** A rule that was not applied, with the reason. */
export interface NotApplied {
  ruleId: string;
  why: string;
  /** It could be carried out, and would break what the page relies on. */
  illegal: boolean;
}

export interface TreatedPage extends Omit<Composed, 'conflicts'> {
  notApplied: NotApplied[];
}

/** One script or stylesheet with what a rule makes of it. */
interface Step {
  rule: PlanRule;
  asset: PageScript | PageStyle;
  treatment: string;
  /** It only goes with what the rule is about. */
  along: boolean;
}

/**
 * Applies a plan to a page's bytes. What no rule touches stays byte for byte. A rule that would break what
 * the page's scripts rely on is not applied, and said so; with `evenIllegal` only what cannot be done at all.
 */
export function applyPlan(scene: Scene, plan: Plan, { evenIllegal = false } = {}): TreatedPage {
  const refused = new Map<string, Refusal>();
  const refuse = (rule: PlanRule, refusal: Refusal) => {
    if (!refused.has(rule.id)) refused.set(rule.id, refusal);
  };
  const rules = activeRules(plan);
  const steps = rules.flatMap((rule) => {
    const found = stepsOf(scene, rule);
    const missing = found.length === 0 && (rule.kind === 'script' || rule.kind === 'stylesheet');
    if (missing) refuse(rule, { code: 'no-such-asset', kind: rule.kind });
    return found;
  });
  const legal = legalSteps(scene, steps, refuse, evenIllegal);
  const contributions = rules.flatMap((rule): RuleContribution[] => {
    if (!isLone(rule.kind))
      return legal
        .filter((step) => step.rule === rule)
        .map((step) => ({ rule, contribution: contributionOf(scene, step) }));
    const contribution = loneContribution(scene, rule.kind, rule, evenIllegal);
    if ('code' in contribution) refuse(rule, contribution);
    return 'code' in contribution ? [] : [{ rule, contribution }];
  });
  const { conflicts, ...composed } = compose(scene.page, contributions);
  for (const { ruleId, refusal } of conflicts) if (!refused.has(ruleId)) refused.set(ruleId, refusal);
  return {
    ...composed,
    notApplied: [...refused].map(([ruleId, refusal]) => ({
      ruleId,
      why: refusalSentence(refusal),
      illegal: !IMPOSSIBLE.has(refusal.code),
    })),
  };
}

/** What a plan chooses for scripts and stylesheets, legal or not. */
export function choicesOf(scene: Scene, plan: Plan): Choices {
  const steps = activeRules(plan).flatMap((rule) => stepsOf(scene, rule));
  return new Map(steps.map(({ asset, treatment }) => [asset, treatment]));
}

function stepsOf(scene: Scene, rule: PlanRule): Step[] {
  const assets: readonly (PageScript | PageStyle)[] =
    rule.kind === 'script'
      ? scene.page.scripts
      : rule.kind === 'stylesheet'
        ? scene.page.styles.filter((style) => style.element.url !== null)
        : [];
  const find = (match: Match) => assets.filter((one) => sameMatch(one.match, match));
  const own = find(rule.match);
  const along = own.length ? (rule.together ?? []).flatMap(find) : [];
  return [
    ...own.map((asset) => ({ rule, asset, treatment: rule.treatment, along: false })),
    ...along.flatMap((asset) => {
      const treatment = becomesWith(scene, rule, asset);
      return treatment === null ? [] : [{ rule, asset, treatment, along: true }];
    }),
  ];
}

/** What becomes of another asset that goes with a rule; null where nothing does. */
function becomesWith(scene: Scene, { treatment }: PlanRule, asset: PageScript | PageStyle): string | null {
  const becomes =
    'facts' in asset
      ? treatmentOf('script', treatment)?.togetherBecomes?.(asset, scene)
      : treatmentOf('stylesheet', treatment)?.togetherBecomes?.(asset, scene);
  return becomes ?? null;
}

/** What is refused because there is no way of doing it. */
const IMPOSSIBLE = new Set<Refusal['code']>([
  'not-for-this',
  'no-fold-css',
  'no-lighter-files',
  'sheet-not-captured',
  'no-such-asset',
  'same-element',
]);

/** The steps that may be taken: a rule is taken with all that goes with it, or not at all. */
function legalSteps(
  scene: Scene,
  steps: readonly Step[],
  refuse: (rule: PlanRule, refusal: Refusal) => void,
  evenIllegal: boolean,
): readonly Step[] {
  const firstOf = new Map<PageScript | PageStyle, PlanRule>();
  const contested = new Map<PlanRule, PlanRule>();
  for (const { asset, rule } of steps) {
    const first = firstOf.get(asset) ?? rule;
    firstOf.set(asset, first);
    if (first !== rule) contested.set(rule, first);
  }
  for (const [rule, { id, kind, treatment }] of contested)
    refuse(rule, { code: 'same-element', ruleId: id, treatment: treatmentLabel(kind, treatment) });
  let left = steps.filter(({ rule }) => !contested.has(rule));
  for (;;) {
    const refusals = refusalsIn(scene, new Map(left.map(({ asset, treatment }) => [asset, treatment])));
    if (evenIllegal)
      for (const [asset, { code }] of refusals) if (!IMPOSSIBLE.has(code)) refusals.delete(asset);
    if (refusals.size === 0) return left;
    // What the rule is about comes first: its reason is the one to be told.
    for (const along of [false, true])
      for (const step of left)
        if (step.along === along && refusals.has(step.asset)) refuse(step.rule, refusals.get(step.asset)!);
    const fallen = new Set(left.filter(({ asset }) => refusals.has(asset)).map(({ rule }) => rule));
    left = left.filter(({ rule }) => !fallen.has(rule));
  }
}

function contributionOf(scene: Scene, { asset, treatment }: Step): Contribution {
  return 'facts' in asset
    ? treatmentOf('script', treatment)!.contributes(asset, scene)
    : treatmentOf('stylesheet', treatment)!.contributes(asset, scene);
}

/** What a rule about a font, an image or a host contributes, or why it cannot. */
function loneContribution<K extends LoneKind>(
  scene: Scene,
  kind: K,
  { match, treatment: id }: PlanRule,
  evenIllegal: boolean,
): Contribution | Refusal {
  const refusal = loneRefusal(scene, kind, match, id);
  if (refusal && (!evenIllegal || IMPOSSIBLE.has(refusal.code))) return refusal;
  return treatmentOf(kind, id)!.contributes(loneAsset(scene, kind, match)!, scene);
}
