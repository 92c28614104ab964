import { generate, parse, type CssNode } from 'css-tree';
import { splitSelectors } from '../css/selectors.ts';

/** What the user says is always, or never, in the fold CSS. It stays said when the set is made again. */
export interface FoldDecision {
  verb: 'keep' | 'leave-out';
  /**
   * Rules with a selector that names this one; with exactly this selector; all rules of a stylesheet; what
   * an element, and what lies in it, needs.
   */
  by: 'selector' | 'rule' | 'sheet' | 'element';
  /** The selector, the sheet's address (or the end of it), or a selector of the element. */
  what: string;
}

/**
 * What the decisions say of a rule; keeping wins over leaving out, and a selector over a sheet.
 *
 * @param selectors the complex selectors of the rule
 */
export function decidedOf(
  decisions: readonly FoldDecision[],
  selectors: readonly string[],
  sheetUrl: string,
): FoldDecision | null {
  const said = (by: FoldDecision['by'], verb: FoldDecision['verb']) =>
    decisions.find(
      (one) =>
        one.by === by &&
        one.verb === verb &&
        (by === 'sheet'
          ? isSheet(sheetUrl, one.what)
          : partsIn(one.what).some((part) =>
              selectors.some((selector) =>
                by === 'rule' ? selector === part : namesSelector(selector, part),
              ),
            )),
    );
  return (
    said('rule', 'keep') ??
    said('rule', 'leave-out') ??
    said('selector', 'keep') ??
    said('selector', 'leave-out') ??
    said('sheet', 'keep') ??
    said('sheet', 'leave-out') ??
    null
  );
}

function partsIn(list: string): string[] {
  return splitSelectors(list)?.map((part) => part.source) ?? [list];
}

/** A sheet by its whole address or by the end of its path ("print.css", "/css/print.css"). */
export function isSheet(url: string, what: string): boolean {
  if (url === what) return true;
  const path = URL.canParse(url) ? new URL(url).pathname : url;
  return path === what || path.endsWith(what.startsWith('/') ? what : `/${what}`);
}

/**
 * Whether a selector names another: the other's compounds stand in it in their order, each with all its
 * simple selectors. `.nav > .item:hover` names `.item` and `.nav .item`, and not `.it`.
 */
export function namesSelector(selector: string, named: string): boolean {
  const wanted = compoundsOf(named);
  const given = compoundsOf(selector);
  if (!wanted?.length || !given) return false;
  let at = 0;
  for (const compound of given) {
    if (wanted[at]!.every((simple) => compound.includes(simple)) && ++at === wanted.length) return true;
  }
  return false;
}

const cache = new Map<string, string[][] | null>();

function compoundsOf(selector: string): string[][] | null {
  const known = cache.get(selector);
  if (known !== undefined) return known;
  let compounds: string[][] | null = null;
  try {
    const tree = parse(selector, { context: 'selector' });
    if (tree.type === 'Selector') {
      compounds = [[]];
      for (const node of tree.children as Iterable<CssNode>) {
        if (node.type === 'Combinator') compounds.push([]);
        else compounds.at(-1)!.push(generate(node));
      }
    }
  } catch {
    compounds = null;
  }
  cache.set(selector, compounds);
  return compounds;
}
