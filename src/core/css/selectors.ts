import { generate, parse, walk, type CssNode, type SelectorList } from 'css-tree';

/** One complex selector of a list: as written, and as it is asked of the page. */
export interface SelectorPart {
  source: string;
  /** Without pseudo-elements, an emptied compound being `*`: what querySelectorAll can be asked. */
  matchKey: string;
}

const cache = new Map<string, SelectorPart[] | null>();

/** Legacy single-colon spellings of pseudo-elements (Selectors 4, section 3.6). */
const LEGACY = new Set(['before', 'after', 'first-line', 'first-letter']);

/**
 * Splits a selector list into its parts, lazily parsed and cached by text.
 *
 * @returns null when the list cannot be read: such a rule is not to be pruned
 */
export function splitSelectors(list: string): SelectorPart[] | null {
  const known = cache.get(list);
  if (known !== undefined) return known;
  const parts = read(list);
  cache.set(list, parts);
  return parts;
}

function read(list: string): SelectorPart[] | null {
  let tree: CssNode;
  try {
    tree = parse(list, { context: 'selectorList', positions: true });
  } catch {
    return null;
  }
  if (tree.type !== 'SelectorList') return null;
  const parts: SelectorPart[] = [];
  for (const selector of (tree as SelectorList).children) {
    if (selector.type !== 'Selector' || !selector.loc) return null;
    const source = list.slice(selector.loc.start.offset, selector.loc.end.offset).trim();
    parts.push({ source, matchKey: withoutPseudoElements(source) });
  }
  return parts;
}

/** A complex selector with its pseudo-elements (and what follows them in the compound) taken out. */
export function withoutPseudoElements(selector: string): string {
  if (!selector.includes(':')) return selector;
  const tree = parse(selector, { context: 'selector' });
  if (tree.type !== 'Selector') return selector;
  let previousIsCombinator = true;
  let stripping = false;
  const children = tree.children.toArray();
  const kept: CssNode[] = [];
  for (const node of children) {
    if (node.type === 'Combinator') {
      if (previousIsCombinator && kept.length > 0) kept.push({ type: 'TypeSelector', name: '*' });
      kept.push(node);
      previousIsCombinator = true;
      stripping = false;
      continue;
    }
    const pseudoElement =
      node.type === 'PseudoElementSelector' ||
      (node.type === 'PseudoClassSelector' && node.children === null && LEGACY.has(node.name.toLowerCase()));
    if (pseudoElement) stripping = true;
    if (stripping) continue;
    kept.push(node);
    previousIsCombinator = false;
  }
  if (previousIsCombinator) kept.push({ type: 'TypeSelector', name: '*' });
  tree.children.fromArray(kept);
  return generate(tree);
}

/**
 * A nested rule's selector as an ordinary one (CSS Nesting 1, section 3): `&` stands for the parent as
 * `:is(…)`; without `&` the selector is relative to the parent.
 */
export function resolveNesting(selector: string, parent: string): string {
  const scope = `:is(${parent})`;
  const tree = parse(selector, { context: 'selectorList', positions: true });
  if (tree.type !== 'SelectorList') return selector;
  return tree.children
    .toArray()
    .map((one) => {
      const text = one.loc ? selector.slice(one.loc.start.offset, one.loc.end.offset).trim() : generate(one);
      const spots: number[] = [];
      walk(one, (node) => {
        if (node.type === 'NestingSelector' && node.loc) spots.push(node.loc.start.offset);
      });
      if (spots.length === 0) return `${scope} ${text}`;
      const from = one.loc!.start.offset;
      let out = '';
      let at = from;
      for (const spot of spots) {
        out += selector.slice(at, spot) + scope;
        at = spot + 1;
      }
      out += selector.slice(at, one.loc!.end.offset);
      return /^[>+~]/.test(out.trim()) ? `${scope} ${out.trim()}` : out.trim();
    })
    .join(', ');
}
