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

/** A complex selector as querySelectorAll can be asked it: without pseudo-elements (and what follows them in the compound) and without namespaces. */
export function withoutPseudoElements(selector: string): string {
  if (!/[:|]/.test(selector)) return selector;
  const tree = parse(selector, { context: 'selector' });
  if (tree.type !== 'Selector') return selector;
  // querySelectorAll knows no prefixes of namespaces: any namespace is asked for.
  walk(tree, (node) => {
    if (node.type === 'TypeSelector') node.name = node.name.replace(/^[^|]*\|/, '');
    else if (node.type === 'AttributeSelector') node.name.name = node.name.name.replace(/^[^|]*\|/, '');
  });
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

/** Pseudo-classes that come and go with what a visitor does, or with time. */
export const STATE_PSEUDO =
  /^(hover|focus|active|visited|target|checked|focus-within|focus-visible|open|popover-open|modal|fullscreen|playing|paused|invalid|valid|user-invalid|user-valid|placeholder-shown|disabled|enabled|indeterminate|in-range|out-of-range|autofill|target-within|not|state)$/i;

/** A selector less the conditions that may change while the page is used: it matches whatever ever could. */
export function withoutStates(selector: string): string {
  if (!selector.includes(':')) return selector;
  let tree: CssNode;
  try {
    tree = parse(selector, { context: 'selector' });
  } catch {
    return selector;
  }
  walk(tree, {
    visit: 'Selector',
    enter(one) {
      const kept = one.children
        .toArray()
        .filter((node) => node.type !== 'PseudoClassSelector' || !STATE_PSEUDO.test(node.name));
      const filled = kept.flatMap((node, index): CssNode[] => {
        const bare = node.type === 'Combinator' && (kept[index - 1]?.type ?? 'Combinator') === 'Combinator';
        return bare && index > 0 ? [{ type: 'TypeSelector', name: '*' }, node] : [node];
      });
      if (filled.length === 0 || filled.at(-1)!.type === 'Combinator')
        filled.push({ type: 'TypeSelector', name: '*' });
      one.children.fromArray(filled);
    },
  });
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
