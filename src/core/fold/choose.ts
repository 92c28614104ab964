import type { AtRule, ChildNode, Root, Rule } from 'postcss';
import type { FlatSheet } from '../css/flatten.ts';
import { keepsDeclaration, type Concern } from './declarations.ts';
import { isFrameBlock, partsOf } from './sheet-index.ts';

/** The page's answers to the questions of a sheet index. */
export interface PageAnswers {
  /** For each match key, the strongest concern of any element it matched; absent for none. */
  concerns: ReadonlyMap<string, Concern>;
  /** Selector lists the browser rejects: their rules never applied and are left out whole, never pruned. */
  rejected: ReadonlySet<string>;
  /** Media queries that some chosen viewport, or a width between two, meets. */
  liveMedia: ReadonlySet<string>;
}

/** One kept rule and where it came from. */
export interface KeptRule {
  selector: string;
  sheetUrl: string;
  line: number;
  concern: Concern;
}

export interface ChosenSheet {
  url: string;
  root: Root;
  kept: KeptRule[];
  rules: number;
}

/** At-rules whose blocks hold style rules: kept when something in them is. */
const GROUPING = /^(media|supports|container|layer|scope|starting-style)$/i;
/** Decided later, by closure from what was kept. */
const BY_CLOSURE =
  /^(font-face|keyframes|-webkit-keyframes|-moz-keyframes|-o-keyframes|property|counter-style|font-feature-values|font-palette-values)$/i;

const STRENGTH: Record<Concern, number> = { painted: 3, shaping: 2, hidden: 1 };

/**
 * Chooses, of a flattened sheet, the rules that concern the fold. The order of what is kept is the order of
 * the source, so that the cascade is the same among kept rules; emptied named layers stay as statements.
 */
export function chooseRules(sheet: FlatSheet, answers: PageAnswers): ChosenSheet {
  const root = sheet.root.clone();
  const chosen: ChosenSheet = { url: sheet.url, root, kept: [], rules: 0 };
  sheet.root.walkRules((rule) => {
    if (!isFrameBlock(rule)) chosen.rules++;
  });
  prune(root, answers, chosen, false);
  return chosen;
}

function prune(
  container: Root | AtRule | Rule,
  answers: PageAnswers,
  chosen: ChosenSheet,
  whole: boolean,
): void {
  for (const node of [...(container.nodes ?? [])] as ChildNode[]) {
    if (node.type === 'comment') node.remove();
    else if (node.type === 'rule') pruneRule(node, answers, chosen, whole);
    else if (node.type === 'atrule') pruneAtRule(node, answers, chosen, whole);
  }
}

function pruneRule(rule: Rule, answers: PageAnswers, chosen: ChosenSheet, whole: boolean): void {
  const parts = partsOf(rule);
  if (whole || !parts) {
    record(chosen, rule, 'painted');
    return;
  }
  if (answers.rejected.has(rule.selector)) {
    rule.remove();
    return;
  }
  const matched = parts.filter((part) => answers.concerns.has(part.matchKey));
  // A nested rule may concern the fold where its parent's own declarations do not.
  prune(rule, answers, chosen, false);
  const nested = rule.nodes.filter((node) => node.type === 'rule' || node.type === 'atrule');
  if (matched.length === 0) {
    if (nested.length === 0) rule.remove();
    else for (const node of [...rule.nodes]) if (node.type === 'decl') node.remove();
    return;
  }
  const concern = strongest(matched.map((part) => answers.concerns.get(part.matchKey)!));
  for (const node of [...rule.nodes]) {
    if (node.type === 'decl' && !keepsDeclaration(node.prop, concern)) node.remove();
  }
  if (rule.nodes.length === 0) {
    rule.remove();
    return;
  }
  // Nested selectors are relative to the whole list: it is pruned only where nothing is nested.
  if (nested.length === 0 && matched.length < parts.length) {
    rule.selector = matched.map((part) => part.source).join(',');
  }
  record(chosen, rule, concern);
}

function pruneAtRule(rule: AtRule, answers: PageAnswers, chosen: ChosenSheet, whole: boolean): void {
  const name = rule.name.toLowerCase();
  if (BY_CLOSURE.test(name)) return;
  if (!GROUPING.test(name)) {
    if (name !== 'namespace') rule.remove();
    return;
  }
  if (!rule.nodes) return;
  if (name === 'media' && !answers.liveMedia.has(rule.params)) {
    emptied(rule);
    return;
  }
  prune(rule, answers, chosen, whole || name === 'scope');
  if (!rule.nodes.length) emptied(rule);
}

/** Takes an at-rule out; named layers in it keep their place in the order (CSS Cascade 5, section 6.4.2). */
function emptied(rule: AtRule): void {
  const names: string[] = [];
  const collect = (node: ChildNode, prefix: string): void => {
    if (node.type !== 'atrule') return;
    const isLayer = node.name.toLowerCase() === 'layer';
    const own = isLayer && node.params ? node.params.split(',').map((n) => prefix + n.trim()) : [];
    names.push(...own);
    if (isLayer && !node.params) return;
    for (const child of node.nodes ?? []) collect(child, own[0] ? `${own[0]}.` : prefix);
  };
  collect(rule, '');
  if (names.length === 0) {
    rule.remove();
    return;
  }
  const keep = rule.clone({ name: 'layer', params: [...new Set(names)].join(',') });
  Reflect.deleteProperty(keep, 'nodes');
  // The order of layers does not depend on a condition around them only when none was there.
  if (rule.name.toLowerCase() === 'layer') rule.replaceWith(keep);
  else {
    rule.removeAll();
    rule.append(keep);
  }
}

function strongest(concerns: readonly Concern[]): Concern {
  return concerns.reduce((a, b) => (STRENGTH[b] > STRENGTH[a] ? b : a));
}

function record(chosen: ChosenSheet, rule: Rule, concern: Concern): void {
  chosen.kept.push({
    selector: rule.selector,
    sheetUrl: rule.source?.input.file ?? chosen.url,
    line: rule.source?.start?.line ?? 1,
    concern,
  });
}
