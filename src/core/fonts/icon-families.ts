import type { Declaration, Rule } from 'postcss';
import { unquote } from '../css/urls.ts';
import type { CapturedPage } from '../page/captured-page.ts';
import { rulePlaces } from './rule-places.ts';

/** Of the private use areas of Unicode, as a character or as it is escaped in CSS. */
const PRIVATE =
  /[\u{e000}-\u{f8ff}\u{f0000}-\u{10fffd}]|\\(0{0,2}[ef][0-9a-f]{3}|0?f[0-9a-f]{4}|10[0-9a-f]{4})(?![0-9a-f])/iu;
/** What names a family for these paints text with it, whatever signs it has besides. */
const TEXT = /^(html|body|:root|\*|p|h[1-6])$/i;
/** Fewer signs that begin alike are chance. */
const LEAST_ALIKE = 3;

/** What their makers call such families. */
const SAYS_SO = /icon|glyph|symbol|pictogram/i;

/**
 * Families that draw icons, lower case: what says so in its name; what a sheet names for a class that others begin with
 * whose contents are of the private use area (`.sign` has the family, `.sign-anchor::before` the sign), or begin like
 * (`.quay-sign`, `.quay-anchor::before`), or stand beside on an element of the page; or for such an element itself; and
 * not one that text is set in as well.
 */
export function iconFamilies(page: CapturedPage): ReadonlySet<string> {
  const signs = new Set<string>();
  const named: { families: string; rule: Rule }[] = [];
  for (const { root } of rulePlaces(page))
    root.walkDecls(/^(content|font-family|font)$/i, (declaration) => {
      const { prop, value, parent } = declaration as Declaration;
      if (parent?.type !== 'rule') return;
      const rule = parent as Rule;
      if (prop.toLowerCase() !== 'content') named.push({ families: value, rule });
      else if (PRIVATE.test(value)) for (const one of classesOf(rule.selector)) signs.add(one);
    });
  const found = new Set<string>();
  const ofText = new Set<string>();
  const beside = classesBeside(page, signs);
  for (const { families, rule } of named) {
    const classes = classesOf(rule.selector);
    const begins = [...classes, ...classes.flatMap(stemOf), ...prefixesOf(rule.selector)];
    const draws =
      SAYS_SO.test(firstFamily(families)) ||
      classes.some((one) => beside.has(one)) ||
      begins.some((one) => [...signs].filter((sign) => isOf(sign, one)).length >= LEAST_ALIKE);
    const itself = rule.nodes.some(
      (node) => node.type === 'decl' && /^content$/i.test(node.prop) && PRIVATE.test(node.value),
    );
    const family = firstFamily(families);
    if (family && (draws || itself)) found.add(family);
    if (rule.selector.split(',').some((one) => TEXT.test(one.trim()))) ofText.add(family);
  }
  return new Set([...found].filter((one) => !ofText.has(one)));
}

/** Classes of elements of the page that have one of a sign as well. */
function classesBeside(page: CapturedPage, signs: ReadonlySet<string>): Set<string> {
  const found = new Set<string>();
  if (signs.size === 0 || !page.hasDocument) return found;
  for (const { name } of page.document.places) {
    const classes = classesOf(name);
    if (classes.some((one) => signs.has(one))) for (const one of classes) if (!signs.has(one)) found.add(one);
  }
  return found;
}

/** `quay-` of `quay-sign`: how classes begin that belong together. */
function stemOf(name: string): string[] {
  const stem = /^[a-z0-9]+[-_]/i.exec(name)?.[0];
  return stem && stem !== name ? [stem] : [];
}

/** Whether a class is one of those that another one, or a beginning, stands for: `sign-anchor` of `sign`, or of `sign-`. */
function isOf(sign: string, of: string): boolean {
  return sign !== of && sign.startsWith(of) && (/[-_]$/.test(of) || /^[-_]/.test(sign.slice(of.length)));
}

function classesOf(selector: string): string[] {
  return [...selector.matchAll(/\.([\w-]+)/g)].map(([, name]) => name!);
}

/** Classes told by how they begin: `[class^="sign-"]`, `[class*=" sign-"]`. */
function prefixesOf(selector: string): string[] {
  return [...selector.matchAll(/\[\s*class\s*[\^*]=\s*["']?\s*([\w-]+)/gi)].map(([, begins]) => begins!);
}

/** The first family of a `font-family`, or of a `font`, where it stands behind the size. */
function firstFamily(value: string): string {
  const [first] = value.split(',');
  const quoted = /(["'])(.*?)\1/.exec(first!);
  return (quoted ? quoted[2]! : unquote(first!.trim().split(/\s+/).at(-1)!)).toLowerCase();
}
