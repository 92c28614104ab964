import { hostOf } from '../path/names.ts';
import { ownerOf } from '../path/party.ts';
import { shapeOf, versionless } from '../path/versionless.ts';
import { choicesOf } from './apply.ts';
import { isLone } from './lone.ts';
import { takingAlong } from './take-along.ts';
import { loneOffers, scriptOffers, styleOffers, type Offer } from './offers.ts';
import {
  effectOf,
  INLINE_KEY_LENGTH,
  sameMatch,
  type Match,
  type Plan,
  type PlanRule,
  type RuleKind,
} from './plan.ts';
import type { Scene } from './treatment.ts';

/** By what a decision knows its assets again, from the one asset to all of an owner. */
export const KNOWN_BY = ['address', 'content', 'text', 'file', 'name', 'defines', 'host', 'owner'] as const;
export type KnownBy = (typeof KNOWN_BY)[number];

/** What was decided for more than one page, over the recommendation. */
export interface WideDecision {
  /** Unique among those of a site. */
  id: number;
  /** The family it is for; null for the whole site. */
  family: string | null;
  kind: RuleKind;
  knownBy: KnownBy;
  /** The address, host, name or hash that it knows its assets by. */
  what: string;
  /** Id of a treatment; `as-authored` is never to treat it. */
  treatment: string;
  why: string;
  /** Pages that it leaves alone, by their paths; a star stands for anything. */
  spared: readonly string[];
}

/** What came of a decision on a page. */
export interface DecisionOutcome {
  decisionId: number;
  /** The page is one of those that it leaves alone. */
  spared: boolean;
  ruleIds: string[];
  /** Assets that it is about, and that cannot have its treatment. */
  refused: { match: Match; why: string }[];
}

/**
 * What a decision may know an asset by: of some kinds more than one thing, of others none.
 *
 * @example keysOf(scene, 'script', { url: 'https://quay.test/a/lib.4f2a91bc.js' }, 'name') // ["lib.js"]
 */
export function keysOf(scene: Scene, kind: RuleKind, match: Match, by: KnownBy): string[] {
  if ('inline' in match) {
    if (by === 'text') return [shapeOf(match.inline.slice(0, INLINE_KEY_LENGTH))];
    return by === 'defines' ? definedBy(scene, match) : [];
  }
  if ('host' in match) return by === 'address' ? [match.host] : [];
  const { url } = match;
  switch (by) {
    case 'address':
      return [url];
    case 'file':
      return [versionless(url)];
    case 'name':
      return [versionless(url).split('/').at(-1)!];
    case 'host':
      return [hostOf(url)];
    case 'owner':
      return [ownerOf(url)];
    case 'content': {
      const hash = scene.page.captured.exchange(url)?.bodyHash;
      return hash ? [hash] : [];
    }
    case 'defines':
      return kind === 'script' ? definedBy(scene, match) : [];
    case 'text':
      return [];
  }
}

function definedBy({ page }: Scene, match: Match): string[] {
  return page.scripts.find((one) => sameMatch(one.match, match))?.facts.defines.slice() ?? [];
}

/**
 * A plan with what was decided for the family and the site. Of several decisions about an asset the one that knows it
 * most closely counts, and a family's before the site's. What the page's legality refuses is not done, and said.
 */
export function withDecisions(
  scene: Scene,
  recommended: Plan,
  decisions: readonly WideDecision[],
): { plan: Plan; outcomes: DecisionOutcome[] } {
  const outcomes = new Map(
    decisions.map((one): [number, DecisionOutcome] => [
      one.id,
      { decisionId: one.id, spared: isSpared(recommended.page, one.spared), ruleIds: [], refused: [] },
    ]),
  );
  const inTurn = decisions.filter((one) => !outcomes.get(one.id)!.spared).sort(byCloseness);
  let plan = recommended;
  for (const { kind, match } of inTurn.length ? assetsOf(scene, plan) : []) {
    const decision = inTurn.find(
      (one) => one.kind === kind && keysOf(scene, kind, match, one.knownBy).includes(one.what),
    );
    if (!decision) continue;
    const outcome = outcomes.get(decision.id)!;
    const rule = plan.rules.find((one) => one.kind === kind && sameMatch(one.match, match)) ?? null;
    const decided = decidedRule(scene, plan, { kind, match, rule }, decision);
    if (typeof decided === 'string') outcome.refused.push({ match, why: decided });
    else {
      outcome.ruleIds.push(decided.id);
      // What goes with it now has no rule of its own any more.
      const whole = takingAlong(decided, plan.rules);
      const rules = rule ? plan.rules.map((one) => (one === rule ? whole : one)) : [...plan.rules, whole];
      const along = whole.together ?? [];
      plan = { ...plan, rules: rules.filter((one) => !along.some((match) => sameMatch(match, one.match))) };
    }
  }
  return { plan, outcomes: [...outcomes.values()] };
}

function byCloseness(a: WideDecision, b: WideDecision): number {
  return (
    KNOWN_BY.indexOf(a.knownBy) - KNOWN_BY.indexOf(b.knownBy) ||
    Number(a.family === null) - Number(b.family === null)
  );
}

interface Asset {
  kind: RuleKind;
  match: Match;
}

/** What the plan has rules about, and then what it has none about. */
function assetsOf({ page, fonts, images, embeds, data }: Scene, plan: Plan): Asset[] {
  const all: Asset[] = [
    ...plan.rules.map(({ kind, match }) => ({ kind, match })),
    ...page.styles
      .filter((one) => one.element.url !== null)
      .map(({ match }) => ({ kind: 'stylesheet' as const, match })),
    ...page.scripts.map(({ match }) => ({ kind: 'script' as const, match })),
    ...fonts.map(({ url }) => ({ kind: 'font' as const, match: { url } })),
    ...images.map(({ url }) => ({ kind: 'image' as const, match: { url } })),
    ...embeds.map(({ url }) => ({ kind: 'embed' as const, match: { url } })),
    ...data.map(({ url }) => ({ kind: 'data' as const, match: { url } })),
  ];
  return all.filter(
    (one, index) =>
      all.findIndex((other) => other.kind === one.kind && sameMatch(other.match, one.match)) === index,
  );
}

/** The rule that a decision makes of an asset's, or why it cannot. */
function decidedRule(
  scene: Scene,
  plan: Plan,
  { kind, match, rule }: Asset & { rule: PlanRule | null },
  { treatment, why, family }: WideDecision,
): PlanRule | string {
  const said = {
    scope: family === null ? ('site' as const) : ('family' as const),
    ...(why ? { why } : {}),
    reason: family === null ? 'Decided for the whole site.' : `Decided for the family ${family}.`,
  };
  const before: PlanRule = rule ?? {
    id: freeId(plan),
    on: true,
    kind,
    match,
    scope: 'page',
    treatment: 'as-authored',
    reason: '',
    risk: 'medium',
  };
  if (effectOf(before) === treatment) return { ...before, ...said, on: true, treatment };
  const { together: _gone, ...rest } = before;
  if (treatment === 'as-authored') return { ...rest, ...said, on: true, treatment };
  const offerIn = (within: Plan) =>
    offersOf(scene, within, kind, match).find((one) => one.treatment === treatment);
  const first = offerIn(plan);
  if (!first) return 'it is none of the choices for it';
  // Inline scripts that were to follow it elsewhere may follow it here.
  const offer = first.refused
    ? offerIn({ ...plan, rules: plan.rules.filter((one) => !follows(one)) })!
    : first;
  if (offer.refused) return first.refused!;
  const together = offer.together.length ? { together: offer.together } : {};
  return { ...rest, ...said, ...together, on: true, treatment, risk: offer.risk.level };
}

/** Whether a rule only moves an inline script after what it reads. */
function follows({ match, scope }: PlanRule): boolean {
  return 'inline' in match && scope === 'page';
}

function offersOf(scene: Scene, plan: Plan, kind: RuleKind, match: Match): Offer[] {
  if (isLone(kind)) return loneOffers(scene, kind, match);
  if (kind === 'script') {
    const script = scene.page.scripts.find((one) => sameMatch(one.match, match));
    return script ? scriptOffers(scene, script, choicesOf(scene, plan)) : [];
  }
  const style = scene.page.styles.find((one) => sameMatch(one.match, match));
  return style ? styleOffers(scene, style, choicesOf(scene, plan)) : [];
}

function freeId({ rules }: Plan): string {
  let number = rules.length + 1;
  while (rules.some((one) => one.id === `r${number}`)) number++;
  return `r${number}`;
}

/** Whether a page's path is one of those that are left alone: "/checkout*". */
export function isSpared(page: string, spared: readonly string[]): boolean {
  const path = new URL(page).pathname.toLowerCase();
  return spared.some((pattern) => fits(path, pattern.trim().toLowerCase()));
}

/** Whether a text is a pattern's, where a star stands for anything: each part is looked for after the one before. */
function fits(text: string, pattern: string): boolean {
  const [first, ...parts] = pattern.split('*');
  const last = parts.pop();
  if (last === undefined) return pattern !== '' && text === pattern;
  if (!text.startsWith(first!)) return false;
  let at = first!.length;
  for (const part of parts) {
    const found = text.indexOf(part, at);
    if (found < 0) return false;
    at = found + part.length;
  }
  return text.length - at >= last.length && text.endsWith(last);
}
