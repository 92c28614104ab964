import type { AtRule, Container, Rule } from 'postcss';
import type { FlatSheet } from '../css/flatten.ts';
import { isFrameBlock } from '../css/outline.ts';
import { resolveNesting, splitSelectors, withoutStates, type SelectorPart } from '../css/selectors.ts';

/** What has to be asked of the page before rules can be chosen. */
export interface SheetQuestions {
  /** Selectors to match, each once. */
  matchKeys: string[];
  /** The same without what a visitor's doing changes (`:hover`): what could ever match. */
  everKeys: string[];
  /** Whole selector lists, to learn which the browser rejects; nested ones are read inside a rule. */
  lists: string[];
  nestedLists: string[];
  /** Prefixes that @namespace rules declare. */
  namespaces: string[];
  /** Media queries to evaluate, each once: of rules, and of the links themselves. */
  media: string[];
}

/** A style rule's selectors as asked of the page; null when the list is not to be pruned or asked. */
export function partsOf(rule: Rule): SelectorPart[] | null {
  const parts = splitSelectors(rule.selector);
  if (!parts) return null;
  const scope = scopeRoot(rule);
  if (scope !== null)
    // Without its scope a selector matches more than with it: what is left out is surely not needed.
    return parts.map((part) => ({ ...part, matchKey: part.matchKey.replace(/:scope\b|&/g, scope) }));
  const parent = enclosingSelector(rule);
  if (parent === null) return parts;
  return parts.map((part) => {
    const whole = resolveNesting(part.matchKey, parent);
    return { source: part.source, matchKey: whole };
  });
}

/** The root of the @scope around a rule, as a selector; null without one (CSS Cascade 6, section 2.5). */
function scopeRoot(rule: Rule): string | null {
  for (let up = rule.parent as Container | undefined; up && up.type !== 'root'; up = up.parent as Container) {
    if (up.type !== 'atrule' || (up as AtRule).name.toLowerCase() !== 'scope') continue;
    const start = /^\(((?:[^()]|\([^()]*\))*)\)/.exec((up as AtRule).params.trim())?.[1];
    return start ? `:is(${start})` : ':root';
  }
  return null;
}

/** The selector a nested rule is relative to, with pseudo-elements taken out; null at the top. */
function enclosingSelector(rule: Rule): string | null {
  let up: Container | undefined = rule.parent as Container | undefined;
  while (up && up.type !== 'root') {
    if (up.type === 'rule') {
      const parts = partsOf(up as Rule);
      return parts ? parts.map((part) => part.matchKey).join(', ') : (up as Rule).selector;
    }
    up = up.parent as Container | undefined;
  }
  return null;
}

/** Collects every selector and media query of the sheets. */
export function questionsOf(sheets: readonly FlatSheet[]): SheetQuestions {
  const keys = new Set<string>();
  const media = new Set<string>();
  const lists = new Set<string>();
  const nestedLists = new Set<string>();
  const namespaces = new Set<string>();
  for (const { root, media: own } of sheets) {
    for (const query of own) media.add(query);
    root.walkAtRules(/^namespace$/i, (rule) => {
      const prefix = /^([\w-]+)\s+\S/.exec(rule.params)?.[1];
      if (prefix && prefix !== 'url') namespaces.add(prefix);
    });
    root.walkRules((rule) => {
      if (isFrameBlock(rule)) return;
      (enclosingSelector(rule) === null ? lists : nestedLists).add(rule.selector);
      for (const part of partsOf(rule) ?? []) keys.add(part.matchKey);
    });
    root.walkAtRules(/^media$/i, (rule) => {
      media.add(rule.params);
    });
  }
  const matchKeys = [...keys];
  return {
    matchKeys,
    everKeys: matchKeys.map(withoutStates),
    lists: [...lists],
    nestedLists: [...nestedLists],
    media: [...media],
    namespaces: [...namespaces],
  };
}

/**
 * Width limits that media queries name, px (em and rem at 16 px): where a layout may change between two
 * viewports. Sorted, each once.
 */
export function breakpointsIn(media: readonly string[]): number[] {
  const found = new Set<number>();
  for (const query of media) {
    for (const [, number, unit] of query.matchAll(/(\d*\.?\d+)(px|r?em)\b/g)) {
      found.add(Math.round(Number(number) * (unit === 'px' ? 1 : 16)));
    }
  }
  return [...found].sort((a, b) => a - b);
}
