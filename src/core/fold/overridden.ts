import type { AtRule, Declaration, Root, Rule } from 'postcss';
import { compareSpecificity, specificityOf, type Specificity } from '../css/specificity.ts';
import { contextOf } from './choose.ts';
import { partsOf } from './sheet-index.ts';

/**
 * Which elements above the fold a match key applies to, in every state looked at (a viewport, before scripts
 * or after load): per state, sorted element numbers.
 */
export type ElementsOf = ReadonlyMap<string, readonly (readonly number[])[]>;

/**
 * Takes out declarations that are overridden for every element of the fold in every state: another kept rule
 * that always applies where this one does sets the same property (or its shorthand) with at least the same
 * weight (CSS Cascade 5, section 6). What is not certain stays: rules in layers, scopes, containers or
 * nesting, values that not every browser takes, and pairs within one rule, which are fallbacks.
 *
 * @returns how many declarations were taken out
 */
export function dropOverridden(
  sheets: readonly { root: Root; media: readonly string[] }[],
  elementsOf: ElementsOf,
): number {
  const rules = sheets.flatMap(({ root, media }) => plainRules(root, media.join(',')));
  rules.forEach((rule, order) => (rule.order = order));
  const byProperty = new Map<string, { rule: PlainRule; declaration: Declaration }[]>();
  for (const rule of rules) {
    for (const node of rule.node.nodes) {
      if (node.type !== 'decl' || !isCertain(node.value)) continue;
      const list = byProperty.get(node.prop);
      if (list) list.push({ rule, declaration: node });
      else byProperty.set(node.prop, [{ rule, declaration: node }]);
    }
  }
  const doomed: Declaration[] = [];
  for (const weak of rules) {
    for (const declaration of weak.node.nodes) {
      if (declaration.type !== 'decl' || declaration.prop.startsWith('--')) continue;
      const strong = [declaration.prop, ...shorthandsOf(declaration.prop)].flatMap(
        (prop) => byProperty.get(prop) ?? [],
      );
      if (strong.some((one) => overrides(one, { rule: weak, declaration }, elementsOf)))
        doomed.push(declaration);
    }
  }
  for (const declaration of doomed) declaration.remove();
  return doomed.length;
}

interface PlainRule {
  node: Rule;
  order: number;
  /** The @media around it; '' for none. */
  condition: string;
  parts: { key: string; pseudo: string; specificity: Specificity; moves: boolean }[];
}

const MOVING = /:(hover|focus|active|visited|target|checked|focus-within|focus-visible|open|playing)\b/i;

const PSEUDO_ELEMENT = /::[\w-]+(\([^)]*\))?|:(before|after|first-line|first-letter)\b/gi;

function plainRules(root: Root, media: string): PlainRule[] {
  const found: PlainRule[] = [];
  root.walkRules((node) => {
    for (let up = node.parent; up && up.type !== 'root'; up = up.parent) {
      if (up.type !== 'atrule' || (up as AtRule).name.toLowerCase() !== 'media') return;
    }
    if (node.nodes.some((child) => child.type !== 'decl')) return;
    const parts = partsOf(node)?.map((part) => {
      const specificity = specificityOf(part.source);
      return (
        specificity && {
          key: part.matchKey,
          pseudo: part.source.match(PSEUDO_ELEMENT)?.join('').replaceAll('::', ':') ?? '',
          specificity,
          moves: MOVING.test(part.source),
        }
      );
    });
    if (!parts?.length || parts.some((part) => part === null)) return;
    found.push({
      node,
      order: 0,
      condition: [media, contextOf(node)].filter(Boolean).join(' '),
      parts: parts.map((part) => part!),
    });
  });
  return found;
}

interface Setting {
  rule: PlainRule;
  declaration: Declaration;
}

function overrides(strong: Setting, weak: Setting, elementsOf: ElementsOf): boolean {
  if (strong.rule === weak.rule) return false;
  if (strong.rule.condition !== '' && strong.rule.condition !== weak.rule.condition) return false;
  const important = strong.declaration.important ?? false;
  if (!important && weak.declaration.important) return false;
  const decidedByImportance = important && !weak.declaration.important;
  return weak.rule.parts.every((part) =>
    strong.rule.parts.some((other) => {
      if (other.moves || other.pseudo !== part.pseudo) return false;
      if (!decidedByImportance) {
        const compared = compareSpecificity(other.specificity, part.specificity);
        if (compared < 0 || (compared === 0 && strong.rule.order < weak.rule.order)) return false;
      }
      return other.key === part.key || covers(elementsOf.get(other.key), elementsOf.get(part.key));
    }),
  );
}

/** True when in every state all elements of `inner` are among those of `outer`. */
function covers(
  outer: readonly (readonly number[])[] | undefined,
  inner: readonly (readonly number[])[] | undefined,
): boolean {
  if (!outer || !inner) return false;
  return inner.every((elements, state) => {
    const others = outer[state] ?? [];
    let at = 0;
    return elements.every((element) => {
      while (at < others.length && others[at]! < element) at++;
      return others[at] === element;
    });
  });
}

/** Words, colours, numbers in units that every browser knows, and the functions they all have. */
function isCertain(value: string): boolean {
  return (
    !/-(webkit|moz|ms|o)-|\b(env|min|max|clamp|color-mix|light-dark|oklch|oklab|lch|lab|attr|image-set)\(/i.test(
      value,
    ) &&
    /^[\w\s#.,%'"()/+*:-]*$/.test(value) &&
    !/\d(?!px|em|rem|vh|vw|pt|ch|ex|s|ms|deg|fr|x|turn\b)[a-z]{2,}/i.test(
      value.replace(/#[\da-f]+|url\([^)]*\)/gi, ''),
    )
  );
}

const SIDES = ['top', 'right', 'bottom', 'left'];
const SHORTHANDS = new Map<string, string[]>([
  ...SIDES.flatMap((side): [string, string[]][] => [
    [`margin-${side}`, ['margin']],
    [`padding-${side}`, ['padding']],
    [`border-${side}`, ['border']],
    [`border-${side}-width`, [`border-${side}`, 'border', 'border-width']],
    [`border-${side}-style`, [`border-${side}`, 'border', 'border-style']],
    [`border-${side}-color`, [`border-${side}`, 'border', 'border-color']],
    [side, ['inset']],
  ]),
  ...['color', 'image', 'position', 'size', 'repeat', 'origin', 'clip', 'attachment'].map(
    (part): [string, string[]] => [`background-${part}`, ['background']],
  ),
  ...['family', 'size', 'weight', 'style', 'stretch'].map((part): [string, string[]] => [
    `font-${part}`,
    ['font'],
  ]),
  ['line-height', ['font']],
  ...['grow', 'shrink', 'basis'].map((part): [string, string[]] => [`flex-${part}`, ['flex']]),
  ...['type', 'position', 'image'].map((part): [string, string[]] => [`list-style-${part}`, ['list-style']]),
  ['overflow-x', ['overflow']],
  ['overflow-y', ['overflow']],
  ['row-gap', ['gap']],
  ['column-gap', ['gap']],
  ['border-width', ['border']],
  ['border-style', ['border']],
  ['border-color', ['border']],
  ['text-decoration-line', ['text-decoration']],
  ['text-decoration-color', ['text-decoration']],
  ['text-decoration-style', ['text-decoration']],
]);

function shorthandsOf(property: string): string[] {
  return SHORTHANDS.get(property.toLowerCase()) ?? [];
}
