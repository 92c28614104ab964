import type { AtRule, Container, Rule } from 'postcss';
import type { FlatSheet } from '../css/flatten.ts';
import { resolveNesting, splitSelectors, type SelectorPart } from '../css/selectors.ts';

/** What has to be asked of the page before rules can be chosen. */
export interface SheetQuestions {
  /** Selectors to match, each once. */
  matchKeys: string[];
  /** Whole selector lists, to learn which the browser rejects; nested ones are read inside a rule. */
  lists: string[];
  nestedLists: string[];
  /** Media queries to evaluate, each once. */
  media: string[];
}

/** A style rule's selectors as asked of the page; null when the list is not to be pruned or asked. */
export function partsOf(rule: Rule): SelectorPart[] | null {
  const parts = splitSelectors(rule.selector);
  if (!parts) return null;
  const parent = enclosingSelector(rule);
  if (parent === null) return parts;
  return parts.map((part) => {
    const whole = resolveNesting(part.matchKey, parent);
    return { source: part.source, matchKey: whole };
  });
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

/** True inside @keyframes and the like, whose blocks are no style rules. */
export function isFrameBlock(rule: Rule): boolean {
  const parent = rule.parent;
  return parent?.type === 'atrule' && /keyframes$/i.test((parent as AtRule).name);
}

/** Collects every selector and media query of the sheets. */
export function questionsOf(sheets: readonly FlatSheet[]): SheetQuestions {
  const keys = new Set<string>();
  const media = new Set<string>();
  const lists = new Set<string>();
  const nestedLists = new Set<string>();
  for (const { root } of sheets) {
    root.walkRules((rule) => {
      if (isFrameBlock(rule)) return;
      (enclosingSelector(rule) === null ? lists : nestedLists).add(rule.selector);
      for (const part of partsOf(rule) ?? []) keys.add(part.matchKey);
    });
    root.walkAtRules(/^media$/i, (rule) => {
      media.add(rule.params);
    });
  }
  return { matchKeys: [...keys], lists: [...lists], nestedLists: [...nestedLists], media: [...media] };
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
