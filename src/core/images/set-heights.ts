import type { Declaration, Root, Rule } from 'postcss';
import { around } from '../css/conditions.ts';
import { splitSelectors } from '../css/selectors.ts';
import type { ElementPlace } from '../html/document.ts';
import { chainOf, isLike, liesIn } from '../html/selector-chain.ts';
import type { CapturedPage } from '../page/captured-page.ts';
import { imagesIn, nameOfStyle, rootOf, type SaidBy } from './image-places.ts';

/** By the place at which an image's start tag ends: what may set its height. */
export type SetHeights = ReadonlyMap<number, SaidBy>;

/**
 * Images whose height a style of the page may set, or limit: with a width in the markup they would be out of shape.
 * What cannot be read counts as one that does.
 */
export function setHeights(page: CapturedPage): SetHeights {
  const roots = page.styles.map((style) => ({ style, root: rootOf(page, style) }));
  const closed = roots.find(({ root }) => root === null);
  const written = roots.flatMap(({ root }) => (root ? selectorsIn(root) : []));
  const meanings = [...new Map(written.map((one) => [one.selector, one])).values()].flatMap(
    (one) => meaningOf(one) ?? [],
  );
  const known = new Map<number, SaidBy>();
  for (const { place, outer } of imagesIn(page.document)) {
    const own = meanings.find((one) => mayMean(one, place, outer));
    if (closed) known.set(place.startTagEnd, { unread: nameOfStyle(closed.style) });
    else if (own) known.set(place.startTagEnd, { selector: own.selector });
  }
  for (const { tag, attributes, contentStart } of page.document.elements)
    if (tag === 'img' && OWN_HEIGHT.test(attributes['style'] ?? ''))
      known.set(contentStart, { selector: 'its style attribute' });
  return known;
}

const OWN_HEIGHT = /(^|[;\s])(max-)?(height|block-size)\s*:/i;
const SETS_NOTHING = /^(auto|none|initial|unset|revert(-layer)?)$/i;

function selectorsIn(root: Root): Written[] {
  const found: Written[] = [];
  root.walkDecls(/^(max-)?(height|block-size)$/i, (declaration) => {
    if (!SETS_NOTHING.test(declaration.value.trim())) found.push(...selectorsOf(declaration));
  });
  return found;
}

function selectorsOf(declaration: Declaration): Written[] {
  const outer = around(declaration);
  if (outer.some((one) => one.type === 'atrule' && 'name' in one && /keyframes$/i.test(String(one.name))))
    return [];
  const [rule, ...others] = outer.filter((one) => one.type === 'rule') as Rule[];
  if (!rule) return [];
  const parts = splitSelectors(rule.selector);
  // Nested in another rule it means what that one says.
  if (!parts || others.length > 0) return [{ selector: rule.selector, isOpen: true }];
  return parts.map(({ source }) => ({ selector: source, isOpen: false }));
}

/** A selector as it stands in a sheet. */
interface Written {
  selector: string;
  /** It may mean any element. */
  isOpen: boolean;
}

/** What a selector asks of an element and of those around it; null chain where it may mean any. */
interface Meaning {
  selector: string;
  chain: readonly string[] | null;
}

/** Null for what stands before or behind an element: that is not the element. */
function meaningOf({ selector, isOpen }: Written): Meaning | null {
  if (isOpen) return { selector, chain: null };
  if (/::|:(before|after)$/.test(selector)) return null;
  // Without a name before it a pseudo-class may mean any.
  const chain = chainOf(selector.replace(/(^|[\s>+~]):/g, '$1*:'));
  return { selector, chain: chain.length === 0 || /[()]/.test(chain.join()) ? null : chain };
}

function mayMean({ chain }: Meaning, place: ElementPlace, outer: readonly ElementPlace[]): boolean {
  if (!chain) return true;
  return isLike(chain.at(-1)!, place) && liesIn(chain.slice(0, -1), outer);
}
