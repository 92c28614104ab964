import type { AtRule, Container, Declaration, Rule } from 'postcss';
import type { FlatSheet } from '../css/flatten.ts';
import { printSheet } from '../css/print-sheet.ts';
import { specificityOf } from '../css/specificity.ts';
import type { ChosenSheet } from './choose.ts';
import { partsOf } from './sheet-index.ts';

/** The rest of a sheet, to be loaded late in the sheet's place. */
export interface RestSheet {
  css: string;
  /** Style rules taken out because the fold CSS says them already. */
  taken: number;
  /** Style rules set aside because nothing on the measured pages uses them. */
  unused: number;
}

/**
 * The rest of a sheet after its fold CSS, which stands right before it. A fold rule is taken out only where
 * the cascade is surely the same without it: it was kept word for word, outside layers, scopes and
 * containers, and no rule of the rest that stood before it has the same weight and touches the same
 * properties (in the rest, that rule would now come later and win).
 *
 * @param everUsed match keys that something uses, or null to keep unused rules
 */
export function restOf(
  sheet: FlatSheet,
  chosen: ChosenSheet,
  everUsed: ReadonlySet<string> | null,
): RestSheet {
  const rules: Rule[] = [];
  sheet.root.walkRules((rule) => void rules.push(rule));
  const order = new Map(rules.map((rule, index) => [rule, index]));
  const unused = new Set(everUsed ? rules.filter((rule) => isUnused(rule, everUsed)) : []);

  const taken = new Set<Rule>();
  chosen.root.walkRules((rule) => {
    const origin = chosen.origin.get(rule);
    if (origin && chosen.kept.has(rule) && isPlain(origin) && printSheet(rule) === printSheet(origin))
      taken.add(origin);
  });
  // Putting one back may make another unsafe: until nothing changes.
  for (let changed = true; changed;) {
    changed = false;
    const rest = rules.filter((rule) => !taken.has(rule) && !unused.has(rule) && isStyleRule(rule));
    const firstOfRest = earliestWeights(rest, order);
    const unweighed = rest.find((rule) => weightsOf(rule) === null);
    for (const rule of [...taken]) {
      const at = order.get(rule)!;
      const weights = weightsOf(rule);
      if (
        !weights ||
        (unweighed && order.get(unweighed)! < at) ||
        weights.some((weight) => (firstOfRest.get(weight) ?? Infinity) < at)
      ) {
        taken.delete(rule);
        changed = true;
      }
    }
  }

  const root = sheet.root.clone();
  const copies: Rule[] = [];
  root.walkRules((rule) => void copies.push(rule));
  copies.forEach((copy, index) => {
    const rule = rules[index]!;
    if (taken.has(rule) || unused.has(rule)) copy.remove();
  });
  removeEmptied(root);
  return { css: printSheet(root), taken: taken.size, unused: unused.size };
}

function isUnused(rule: Rule, everUsed: ReadonlySet<string>): boolean {
  if (rule.nodes.some((node) => node.type !== 'decl') || !isStyleRule(rule)) return false;
  const parts = partsOf(rule);
  return parts !== null && parts.every((part) => !everUsed.has(part.matchKey));
}

function isStyleRule(rule: Rule): boolean {
  return !(rule.parent?.type === 'atrule' && /keyframes$/i.test((rule.parent as AtRule).name));
}

/** At the top or in @media alone, with declarations alone. */
function isPlain(rule: Rule): boolean {
  for (let up = rule.parent as Container | undefined; up && up.type !== 'root'; up = up.parent as Container)
    if (up.type !== 'atrule' || (up as AtRule).name.toLowerCase() !== 'media') return false;
  return rule.nodes.every((node) => node.type === 'decl');
}

/**
 * What a rule may win by order alone: "specificity, importance, group of properties" for each of its
 * declarations; null where that cannot be told.
 */
function weightsOf(rule: Rule): string[] | null {
  const parts = partsOf(rule);
  if (!parts || !isPlain(rule)) return null;
  const groups = new Set<string>();
  for (const node of rule.nodes) {
    if (node.type !== 'decl') continue;
    if (node.prop.toLowerCase() === 'all') return null;
    groups.add(`${node.important ?? false} ${groupOf(node)}`);
  }
  const weights: string[] = [];
  for (const part of parts) {
    const specificity = specificityOf(part.source);
    if (!specificity) return null;
    for (const group of groups) weights.push(`${specificity.join(',')} ${group}`);
  }
  return weights;
}

/** First words of properties that set each other under other names. */
const SAME_GROUP: Record<string, string> = {
  line: 'font',
  top: 'inset',
  right: 'inset',
  bottom: 'inset',
  left: 'inset',
  row: 'gap',
  column: 'gap',
  columns: 'gap',
  align: 'place',
  justify: 'place',
  min: 'size',
  max: 'size',
  width: 'size',
  height: 'size',
  inline: 'size',
  block: 'size',
  word: 'overflow',
  page: 'break',
};

/** Properties that may set each other, by their first word: coarse, and therefore safe. */
function groupOf(declaration: Declaration): string {
  const property = declaration.prop.toLowerCase().replace(/^-(webkit|moz|ms|o)-/, '');
  if (property.startsWith('--')) return property;
  if (property.endsWith('gap')) return 'gap';
  const first = property.split('-')[0]!;
  return SAME_GROUP[first] ?? first;
}

function earliestWeights(rules: readonly Rule[], order: ReadonlyMap<Rule, number>): Map<string, number> {
  const first = new Map<string, number>();
  for (const rule of rules) {
    const at = order.get(rule)!;
    for (const weight of weightsOf(rule) ?? [])
      if (at < (first.get(weight) ?? Infinity)) first.set(weight, at);
  }
  return first;
}

function removeEmptied(container: Container): void {
  for (const node of [...(container.nodes ?? [])]) {
    if (node.type !== 'atrule' || !node.nodes) continue;
    removeEmptied(node);
    if (node.nodes.length === 0 && /^(media|supports|container|scope|starting-style)$/i.test(node.name))
      node.remove();
  }
}
