import { parse, type CssNode, type Selector } from 'css-tree';

/** Specificity of a complex selector: ids, classes, types (Selectors 4, section 17). */
export type Specificity = readonly [number, number, number];

const cache = new Map<string, Specificity | null>();

/** Specificity of one complex selector, or null when it cannot be read. */
export function specificityOf(selector: string): Specificity | null {
  const known = cache.get(selector);
  if (known !== undefined) return known;
  let result: Specificity | null = null;
  try {
    const tree = parse(selector, { context: 'selector' });
    if (tree.type === 'Selector') result = ofSelector(tree);
  } catch {
    result = null;
  }
  cache.set(selector, result);
  return result;
}

/** Below zero when `a` is the weaker. */
export function compareSpecificity(a: Specificity, b: Specificity): number {
  return a[0] - b[0] || a[1] - b[1] || a[2] - b[2];
}

const LEGACY_PSEUDO_ELEMENTS = new Set(['before', 'after', 'first-line', 'first-letter']);

function ofSelector(selector: Selector): Specificity {
  const sum: [number, number, number] = [0, 0, 0];
  const add = (other: Specificity) => {
    sum[0] += other[0];
    sum[1] += other[1];
    sum[2] += other[2];
  };
  for (const node of selector.children) {
    switch (node.type) {
      case 'IdSelector':
        sum[0]++;
        break;
      case 'ClassSelector':
      case 'AttributeSelector':
        sum[1]++;
        break;
      case 'TypeSelector':
        if (!node.name.endsWith('*')) sum[2]++;
        break;
      case 'PseudoElementSelector':
        sum[2]++;
        break;
      case 'PseudoClassSelector': {
        const name = node.name.toLowerCase();
        if (name === 'where') break;
        if (name === 'is' || name === 'not' || name === 'has' || name === 'matches') add(greatestIn(node));
        else if (LEGACY_PSEUDO_ELEMENTS.has(name)) sum[2]++;
        else {
          sum[1]++;
          // `:nth-child(… of S)` adds its argument's; `:host(S)` too.
          if (node.children) add(greatestIn(node));
        }
        break;
      }
    }
  }
  return sum;
}

function greatestIn(node: CssNode): Specificity {
  let best: Specificity = [0, 0, 0];
  const visit = (one: CssNode): void => {
    if (one.type === 'Selector') {
      const specificity = ofSelector(one);
      if (compareSpecificity(specificity, best) > 0) best = specificity;
    } else if (one.type === 'SelectorList') for (const child of one.children) visit(child);
    else if (one.type === 'Nth' && one.selector) visit(one.selector);
  };
  if (node.type === 'PseudoClassSelector') for (const child of node.children ?? []) visit(child);
  return best;
}
