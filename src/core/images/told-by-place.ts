import { parse, generate, walk, type CssNode, type Selector } from 'css-tree';
import type { Rule } from 'postcss';
import { around } from '../css/conditions.ts';
import { splitSelectors } from '../css/selectors.ts';
import { isLike, liesIn } from '../html/selector-chain.ts';
import type { CapturedPage } from '../page/captured-page.ts';
import { imagesIn, nameOfStyle, rootOf, type ImagePlace, type SaidBy } from './image-places.ts';

/**
 * By the place at which an image's start tag ends: the selector of a style that goes by what stands right around or beside
 * it, and would mean something else with a `<picture>` around the image. What cannot be read counts as one.
 */
export function toldByPlace(page: CapturedPage): ReadonlyMap<number, SaidBy> {
  const told = new Map<string, readonly Told[] | null>();
  let unread: string | null = null;
  let notKnown: string | null = null;
  for (const style of page.styles) {
    const root = rootOf(page, style);
    if (!root) unread ??= nameOfStyle(style);
    root?.walkRules((rule) => {
      const key = (rule.parent?.type === 'rule' ? '&' : '') + rule.selector + inheritsIn(rule);
      if (told.has(key) || isKeyframe(rule)) return;
      const ways = toldBy(rule);
      told.set(key, ways);
      if (!ways) notKnown ??= rule.selector;
    });
  }
  const found = new Map<number, SaidBy>();
  const ways = [...told.values()].flatMap((one) => one ?? []);
  // Where it cannot be known what one means, it may mean any image.
  const open: SaidBy | null =
    unread !== null ? { unread } : notKnown !== null ? { selector: notKnown } : null;
  for (const image of imagesIn(page.document)) {
    const way = ways.find((one) => means(one, image));
    const by = open ?? (way && { selector: way.selector });
    if (by) found.set(image.place.startTagEnd, by);
  }
  for (const { tag, attributes, contentStart } of page.document.elements)
    if (tag === 'img' && INHERITS.test(attributes['style'] ?? ''))
      found.set(contentStart, { selector: 'its style attribute' });
  return found;
}

/** One way in which a selector goes by an image's place: what it asks of the image, of its parent, and of those around. */
interface Told {
  selector: string;
  image: string;
  /** Of the element right around it; null where that is not asked. */
  parent: string | null;
  /** Of what stands before and behind it; null where that is not asked. */
  before: Beside | null;
  after: Beside | null;
  around: readonly string[];
}

interface Beside {
  text: string;
  /** Right beside it, or anywhere. */
  right: boolean;
}

function means(
  { image, parent, before, after, around: asked }: Told,
  { place, outer, before: ahead, after: behind }: ImagePlace,
): boolean {
  const [right, others] = [outer.at(-1), outer.slice(0, -1)];
  if (!isLike(image, place)) return false;
  if (before && !(before.right ? ahead.slice(-1) : ahead).some((one) => isLike(before.text, one)))
    return false;
  if (after && !(after.right ? behind.slice(0, 1) : behind).some((one) => isLike(after.text, one)))
    return false;
  if (parent === null) return liesIn(asked, outer);
  return right !== undefined && isLike(parent, right) && liesIn(asked, others);
}

function isKeyframe(rule: Rule): boolean {
  return around(rule).some(
    (one) => one.type === 'atrule' && 'name' in one && /keyframes$/i.test(String(one.name)),
  );
}

const INHERITS = /\binherit\b/i;

/** A value taken from what is around would come from the `<picture>`. */
function inheritsIn(rule: Rule): '' | ' inherits' {
  return rule.nodes.some((one) => one.type === 'decl' && INHERITS.test(one.value)) ? ' inherits' : '';
}

/** All ways in which a rule goes by an image's place; null where that cannot be known. */
function toldBy(rule: Rule): Told[] | null {
  const parts = splitSelectors(rule.selector.replaceAll('&', '*'));
  if (!parts) return null;
  const found: Told[] = [];
  for (const { source } of parts) {
    const told = toldByPart(source, inheritsIn(rule) !== '');
    if (!told) return null;
    found.push(...told);
  }
  return found;
}

/** One of a complex selector's compounds: its text without pseudo-classes, and how it follows on the one before. */
interface Compound {
  text: string;
  combinator: string | null;
  structural: boolean;
}

/** Which of its siblings an element is (Selectors 4, section 13). */
const STRUCTURAL = /^(nth-|first-|last-|only-|empty$)/i;
/** How an element follows on one that stands before it. */
const BESIDE = /^[+~]$/;

function toldByPart(selector: string, inherits: boolean): Told[] | null {
  let nodes: CssNode[];
  try {
    nodes = (parse(selector, { context: 'selector' }) as Selector).children.toArray();
  } catch {
    return null;
  }
  const found: Told[] = [];
  for (const one of alternatives(nodes)) {
    const compounds = compoundsOf(one);
    if (!compounds) return null;
    found.push(...compounds.flatMap((_one, at) => toldByCompound(selector, compounds, at, inherits)));
  }
  return found;
}

function toldByCompound(
  selector: string,
  compounds: readonly Compound[],
  at: number,
  inherits: boolean,
): Told[] {
  const one = compounds[at]!;
  const [ahead, behind] = [compounds[at - 1], compounds[at + 1]];
  const before = besideOf(ahead, one.combinator);
  const after = besideOf(behind, behind?.combinator ?? null);
  const byParent = one.combinator === '>' && ahead !== undefined;
  // What stands beside an element says nothing of those around it.
  const others = before ? [] : compounds.slice(0, byParent ? at - 1 : at);
  const around = others.slice(others.findLastIndex((each) => BESIDE.test(each.combinator ?? '')) + 1);
  const told: Told = {
    selector,
    image: one.text,
    parent: byParent ? ahead.text : null,
    before: null,
    after: null,
    around: around.map(({ text }) => text),
  };
  const takesOver = inherits && !behind && one.text !== '*';
  return [
    ...(one.structural || byParent || one.combinator === '>' || takesOver ? [told] : []),
    ...(before ? [{ ...told, before }] : []),
    ...(after ? [{ ...told, after }] : []),
  ];
}

function besideOf(compound: Compound | undefined, combinator: string | null): Beside | null {
  if (!compound || !BESIDE.test(combinator ?? '')) return null;
  return { text: compound.text, right: combinator === '+' };
}

/** `:where(a > b) c` is `a > b c`: what holds whole selectors, and stands alone, is read as each of them. */
function alternatives(nodes: readonly CssNode[]): CssNode[][] {
  const at = nodes.findIndex(
    (node, index) =>
      node.type === 'PseudoClassSelector' &&
      /^(is|where)$/i.test(node.name) &&
      isEdge(nodes[index - 1]) &&
      isEdge(nodes[index + 1]),
  );
  const node = nodes[at];
  if (node?.type !== 'PseudoClassSelector' || !node.children) return [[...nodes]];
  const lists = node.children.toArray().filter((one) => one.type === 'SelectorList');
  const inner = lists.flatMap((list) => list.children.toArray()).filter((one) => one.type === 'Selector');
  return inner.flatMap((one) =>
    alternatives([...nodes.slice(0, at), ...one.children.toArray(), ...nodes.slice(at + 1)]),
  );
}

function isEdge(node: CssNode | undefined): boolean {
  return node === undefined || node.type === 'Combinator';
}

/** Null where a pseudo-class holds a selector that itself goes by places. */
function compoundsOf(nodes: readonly CssNode[]): Compound[] | null {
  const found: Compound[] = [];
  let current: Compound | null = null;
  for (const node of nodes) {
    if (node.type === 'Combinator') {
      if (!current) found.push({ text: '*', combinator: null, structural: false });
      current = { text: '', combinator: node.name, structural: false };
      found.push(current);
      continue;
    }
    if (!current) found.push((current = { text: '', combinator: null, structural: false }));
    if (node.type === 'PseudoClassSelector') {
      if (holds(node, (one) => one.type === 'Combinator' && one.name !== ' ')) return null;
      if (holds(node, (one) => one.type === 'PseudoClassSelector' && STRUCTURAL.test(one.name)))
        current.structural = true;
    } else if (node.type !== 'PseudoElementSelector') current.text += generate(node);
  }
  return found.map((one) => ({ ...one, text: one.text || '*' }));
}

function holds(node: CssNode, is: (one: CssNode) => boolean): boolean {
  let found = false;
  walk(node, (one) => {
    found ||= is(one);
  });
  return found;
}
