import type { AtRule, ChildNode, Container, Root, Rule } from 'postcss';
import type { FlatSheet } from '../css/flatten.ts';
import { decidedOf, type FoldDecision } from './decisions.ts';
import { keepsDeclaration, type Concern } from './declarations.ts';
import { partsOf } from './sheet-index.ts';

/** An element above the fold that a rule applies to, at a viewport. */
export interface Need {
  /** "390×844" */
  viewport: string;
  /** The element, as a short selector. */
  element: string;
}

/** The page's answers to the questions of a sheet index. */
export interface PageAnswers {
  /** For each match key, the strongest concern of any element it matched; absent for none. */
  concerns: ReadonlyMap<string, Concern>;
  /** For each match key, the first element that needs it at each viewport. */
  neededBy: ReadonlyMap<string, readonly Need[]>;
  /** Selector lists the browser rejects: their rules never applied and are left out whole, never pruned. */
  rejected: ReadonlySet<string>;
  /** Media queries that some chosen viewport, or a width between two, meets. */
  liveMedia: ReadonlySet<string>;
}

/** Why a rule is kept: an element needs it, the user said so, it could not be asked of the page, or what is kept names it. */
export type KeptReason = 'matches' | 'decided' | 'not asked' | 'named';

/** One kept rule, where it came from and why it is kept. */
export interface KeptRule {
  selector: string;
  /** At-rules around it, outermost first: "@media (min-width: 600px)". */
  context: string;
  sheetUrl: string;
  line: number;
  concern: Concern;
  reason: KeptReason;
  neededBy: readonly Need[];
  /** Its size in the fold CSS before minifying, UTF-8. */
  bytes: number;
  /** A file is written into it as a data: address. */
  embedded: boolean;
}

export interface ChosenSheet {
  url: string;
  root: Root;
  /** Kept rules by their nodes in `root`. */
  kept: Map<Rule | AtRule, KeptRule>;
  /** For each node in `root`, its rule in the whole sheet. */
  origin: Map<Rule, Rule>;
  rules: number;
}

/** At-rules whose blocks hold style rules: kept when something in them is. */
const GROUPING = /^(media|supports|container|layer|scope|starting-style)$/i;
/** Decided later, by closure from what was kept. */
const BY_CLOSURE =
  /^(font-face|keyframes|-webkit-keyframes|-moz-keyframes|-o-keyframes|property|counter-style|font-feature-values|font-palette-values|position-try)$/i;

const STRENGTH: Record<Concern, number> = { painted: 3, shaping: 2, hidden: 1 };

/**
 * Chooses, of a flattened sheet, the rules that concern the fold. The order of what is kept is the order of
 * the source, so that the cascade is the same among kept rules; emptied named layers stay as statements.
 */
export function chooseRules(
  sheet: FlatSheet,
  answers: PageAnswers,
  decisions: readonly FoldDecision[] = [],
): ChosenSheet {
  return new Choice(sheet, answers, decisions).result();
}

class Choice {
  #sheet: FlatSheet;
  #answers: PageAnswers;
  #decisions: readonly FoldDecision[];
  #chosen: ChosenSheet;

  constructor(sheet: FlatSheet, answers: PageAnswers, decisions: readonly FoldDecision[]) {
    this.#sheet = sheet;
    this.#answers = answers;
    this.#decisions = decisions;
    const root = sheet.root.clone();
    this.#chosen = {
      url: sheet.url,
      root,
      kept: new Map(),
      origin: new Map(zip(rulesIn(root), rulesIn(sheet.root))),
      rules: sheet.rules,
    };
  }

  result(): ChosenSheet {
    const { media } = this.#sheet;
    if (media.length && !media.some((query) => this.#answers.liveMedia.has(query)))
      this.#chosen.root.removeAll();
    this.#prune(this.#chosen.root, false);
    return this.#chosen;
  }

  #prune(container: Root | AtRule | Rule, whole: boolean): void {
    for (const node of [...(container.nodes ?? [])] as ChildNode[]) {
      if (node.type === 'rule') this.#rule(node, whole);
      else if (node.type === 'atrule') this.#atRule(node, whole);
    }
  }

  #rule(rule: Rule, whole: boolean): void {
    if (this.#answers.rejected.has(rule.selector)) {
      rule.remove();
      return;
    }
    const parts = partsOf(rule);
    if (whole || !parts) {
      const selectors = parts?.map((part) => part.source) ?? [rule.selector];
      if (this.#decide(selectors, rule)?.verb === 'leave-out') rule.remove();
      else this.#record(rule, 'painted', 'not asked', []);
      return;
    }
    const { concerns } = this.#answers;
    const judged = parts.map((part) => ({ part, decision: this.#decide([part.source], rule) }));
    const decided = judged.filter(({ decision }) => decision?.verb === 'keep').map(({ part }) => part);
    const matched = judged
      .filter(({ part, decision }) => !decision && concerns.has(part.matchKey))
      .map(({ part }) => part);
    // A nested rule may concern the fold where its parent's own declarations do not.
    this.#prune(rule, decided.length === parts.length);
    const nested = rule.nodes.filter((node) => node.type === 'rule' || node.type === 'atrule');
    if (matched.length + decided.length === 0) {
      if (nested.length === 0) rule.remove();
      else for (const node of [...rule.nodes]) if (node.type === 'decl') node.remove();
      return;
    }
    const concern = decided.length
      ? 'painted'
      : strongest(matched.map((part) => concerns.get(part.matchKey)!));
    for (const node of [...rule.nodes]) {
      if (node.type === 'decl' && !keepsDeclaration(node.prop, concern)) node.remove();
    }
    if (rule.nodes.length === 0) {
      rule.remove();
      return;
    }
    const kept = parts.filter((part) => matched.includes(part) || decided.includes(part));
    // Nested selectors are relative to the whole list: it is pruned only where nothing is nested.
    if (nested.length === 0 && kept.length < parts.length)
      rule.selector = kept.map((part) => part.source).join(',');
    this.#record(
      rule,
      concern,
      matched.length ? 'matches' : 'decided',
      matched.flatMap((part) => this.#answers.neededBy.get(part.matchKey) ?? []),
    );
  }

  #decide(selectors: readonly string[], rule: Rule): FoldDecision | null {
    if (this.#decisions.length === 0) return null;
    const decision = decidedOf(this.#decisions, selectors, rule.source?.input.file ?? this.#chosen.url);
    return decision ?? decidedOf(this.#decisions, [], this.#chosen.url);
  }

  #atRule(rule: AtRule, whole: boolean): void {
    const name = rule.name.toLowerCase();
    if (BY_CLOSURE.test(name)) return;
    if (!GROUPING.test(name)) {
      if (name !== 'namespace') rule.remove();
      return;
    }
    if (!rule.nodes) return;
    if (name === 'media' && !this.#answers.liveMedia.has(rule.params)) {
      emptied(rule);
      return;
    }
    this.#prune(rule, whole);
    if (!rule.nodes.length) emptied(rule);
  }

  #record(rule: Rule, concern: Concern, reason: KeptReason, neededBy: readonly Need[]): void {
    this.#chosen.kept.set(rule, {
      selector: rule.selector,
      context: contextOf(rule),
      sheetUrl: rule.source?.input.file ?? this.#chosen.url,
      line: rule.source?.start?.line ?? 1,
      concern,
      reason,
      neededBy: firstOfEachViewport(neededBy),
      bytes: 0,
      embedded: false,
    });
  }
}

/** The at-rules around a node, outermost first; a rule it is nested in stands as its selector. */
export function contextOf(node: Rule | AtRule): string {
  const around: string[] = [];
  for (let up = node.parent as Container | undefined; up && up.type !== 'root'; up = up.parent as Container) {
    if (up.type === 'atrule') around.unshift(`@${(up as AtRule).name} ${(up as AtRule).params}`.trim());
    else if (up.type === 'rule') around.unshift((up as Rule).selector);
  }
  return around.join(' ');
}

function rulesIn(root: Root): Rule[] {
  const rules: Rule[] = [];
  root.walkRules((rule) => void rules.push(rule));
  return rules;
}

function zip<A, B>(first: readonly A[], second: readonly B[]): [A, B][] {
  return first.map((one, index) => [one, second[index]!]);
}

function firstOfEachViewport(needs: readonly Need[]): Need[] {
  const found = new Map<string, Need>();
  for (const need of needs) if (!found.has(need.viewport)) found.set(need.viewport, need);
  return [...found.values()];
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
