import type { PageDecisions } from './decisions.ts';
import { INLINE_KEY_LENGTH, matchText, sameMatch, type Match, type Plan, type PlanRule } from './plan.ts';
import type { Scene } from './treatment.ts';
import { shapeOf, versionless } from '../path/versionless.ts';

/** What became of decisions on a page that was captured anew. */
export interface Rebound {
  /** Rules whose asset has another name now. */
  bound: { ruleId: string; from: string; to: string }[];
  /** Rules whose asset is gone: they do nothing, and stay. */
  lost: { ruleId: string; what: string }[];
  /** Assets that the page did not have: they have the recommended rules. */
  fresh: { ruleId: string; what: string }[];
}

/**
 * Binds decisions of before to a page captured anew: by the same address or text; else by the address without its
 * version, or for an inline script by its shape with literals masked, where that is one asset and no more.
 *
 * @param recommended what is recommended for the page now
 */
export function rebind(
  { rules: before, knew }: PageDecisions,
  scene: Scene,
  recommended: Plan,
): { decisions: PageDecisions; rebound: Rebound } {
  const rebound: Rebound = { bound: [], lost: [], fresh: [] };
  const there = assetsOf(scene);
  const taken = before.flatMap((rule) => [rule.match, ...(rule.together ?? [])]);
  const free = (kind: PlanRule['kind']) =>
    there[kind].filter((one) => !taken.some((other) => sameMatch(one, other)));
  const bind = (kind: PlanRule['kind'], match: Match): Match | null => {
    if (there[kind].some((one) => sameMatch(one, match))) return match;
    const likely = free(kind).filter((one) => isLikely(match, one));
    return likely.length === 1 ? likely[0]! : null;
  };
  const rules = before.map((rule): PlanRule => {
    if (rule.kind === 'host') return rule;
    const match = bind(rule.kind, rule.match);
    if (!match) {
      rebound.lost.push({ ruleId: rule.id, what: matchText(rule.match) });
      return rule;
    }
    const changed = match !== rule.match;
    if (changed) rebound.bound.push({ ruleId: rule.id, from: matchText(rule.match), to: matchText(match) });
    const together = rule.together?.map((one) => bind(rule.kind, one) ?? one);
    return { ...rule, match, ...(together ? { together } : {}) };
  });
  const known = [...knew, ...rules];
  for (const { id, kind, match } of recommended.rules) {
    if (kind === 'host' || kind === 'next') continue;
    if (known.some((one) => one.kind === kind && (sameMatch(one.match, match) || isLikely(one.match, match))))
      continue;
    rebound.fresh.push({ ruleId: id, what: matchText(match) });
  }
  const now = [...recommended.rules, ...rules].map(({ kind, match }) => ({ kind, match }));
  return { decisions: { rules, knew: now }, rebound };
}

/** Whether anything was other than before. */
export function hasMoved({ bound, lost, fresh }: Rebound): boolean {
  return bound.length + lost.length + fresh.length > 0;
}

function assetsOf({ page, fonts, images, embeds, data, next }: Scene): Record<PlanRule['kind'], Match[]> {
  return {
    script: page.scripts.map((one) => one.match),
    stylesheet: page.styles.filter((one) => one.element.url !== null).map((one) => one.match),
    font: fonts.map(({ url }) => ({ url })),
    'font-file': fonts.map(({ url }) => ({ url })),
    image: images.map(({ url }) => ({ url })),
    'image-file': images.map(({ url }) => ({ url })),
    embed: embeds.map(({ url }) => ({ url })),
    data: data.map(({ url }) => ({ url })),
    host: [],
    next: next.map(({ url }) => ({ url })),
  };
}

function isLikely(before: Match, now: Match): boolean {
  if ('url' in before && 'url' in now) return versionless(before.url) === versionless(now.url);
  if (!('inline' in before && 'inline' in now)) return false;
  const [one, other] = [before.inline, now.inline].map((key) => shapeOf(key.slice(0, INLINE_KEY_LENGTH)));
  // Of a long one only the beginning is known, and what is masked in it moves where that ends.
  const length = Math.min(one!.length, other!.length);
  return length >= 8 && one!.slice(0, length) === other!.slice(0, length);
}
