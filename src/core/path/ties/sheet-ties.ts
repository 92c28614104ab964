import { identifiersIn, variablesIn } from '../../css/names.ts';
import { parseSheet } from '../../css/parse-sheet.ts';
import { unquote } from '../../css/urls.ts';
import type { KeptRule } from '../../fold/choose.ts';
import { readFace } from '../../fonts/faces.ts';
import { whyKept } from '../../fold/why-kept.ts';
import { fileNameOf } from '../names.ts';
import { fewOf, type AssetTies, type Tie } from './ties.ts';

/** Names that a sheet defines for others, and those it uses. */
interface SheetNames {
  properties: Set<string>;
  animations: Set<string>;
  families: Set<string>;
  uses: Set<string>;
}

/**
 * What a stylesheet defines, which elements above the fold need its rules, and which sheets use its names.
 *
 * @param sheets addresses of all stylesheets of the page
 * @param kept rules that the fold CSS holds; none where it was not made
 */
export function sheetTies(
  url: string,
  sheets: readonly string[],
  kept: readonly KeptRule[],
  text: (url: string) => string | null,
): AssetTies {
  const own = namesOf(text(url), url);
  const ties: AssetTies = {
    defines: [
      { what: 'custom properties', names: [...own.properties] },
      { what: 'font faces', names: [...own.families] },
      { what: 'animations', names: [...own.animations] },
    ].filter(({ names }) => names.length > 0),
    neededBy: elementsThatNeed(url, kept),
    needs: [],
  };
  for (const other of sheets) {
    if (other === url) continue;
    const there = namesOf(text(other), other);
    const usedThere = definedIn(own).filter(
      (name) => there.uses.has(name) && !definedIn(there).includes(name),
    );
    const usedHere = definedIn(there).filter((name) => own.uses.has(name) && !definedIn(own).includes(name));
    const tie = { who: fileNameOf(other), url: other };
    if (usedThere.length) ties.neededBy.push({ ...tie, why: `uses ${fewOf(usedThere)}` });
    if (usedHere.length) ties.needs.push({ ...tie, why: `defines ${fewOf(usedHere)}` });
  }
  return ties;
}

/** Elements above the fold by the rules of a sheet that they need; rules that are kept for other reasons by their own. */
export function elementsThatNeed(url: string, kept: readonly KeptRule[]): Tie[] {
  const own = kept.filter((rule) => rule.sheetUrl === url && rule.concern !== 'hidden');
  const selectors = new Map<string, Set<string>>();
  for (const { neededBy, selector } of own) {
    const element = neededBy[0]?.element;
    if (element !== undefined) selectors.set(element, (selectors.get(element) ?? new Set()).add(selector));
  }
  const asked = [...selectors].map(([element, all]): Tie => ({
    who: element,
    url: null,
    why: `above the fold, by ${fewOf([...all], 2)}`,
  }));
  const other = own
    .filter((rule) => rule.neededBy.length === 0 && rule.reason !== 'named')
    .map((rule): Tie => ({ who: rule.selector, url: null, why: whyKept(rule) }));
  return [...asked, ...other];
}

const definedIn = ({ properties, animations, families }: SheetNames) => [
  ...properties,
  ...animations,
  ...families,
];

function namesOf(css: string | null, url: string): SheetNames {
  const names: SheetNames = {
    properties: new Set(),
    animations: new Set(),
    families: new Set(),
    uses: new Set(),
  };
  if (css === null) return names;
  const root = parseSheet(css, url);
  root.walkAtRules((rule) => {
    if (/^property$/i.test(rule.name)) names.properties.add(rule.params.trim());
    if (/keyframes$/i.test(rule.name)) names.animations.add(unquote(rule.params.trim()));
    if (/^font-face$/i.test(rule.name)) names.families.add(readFace(rule).family);
  });
  root.walkDecls(({ prop, value, parent }) => {
    if (prop.startsWith('--')) names.properties.add(prop);
    for (const name of variablesIn(value)) names.uses.add(name);
    if (/^(-webkit-)?animation(-name)?$/i.test(prop))
      for (const name of identifiersIn(value)) names.uses.add(name);
    const inFace = parent?.type === 'atrule';
    if (!inFace && /^font(-family)?$/i.test(prop))
      for (const family of value.split(',')) {
        const words = identifiersIn(family.toLowerCase());
        // "Spline Sans" as one name, and the last word of a `font` shorthand.
        names.uses.add(words.join(' ')).add(words.at(-1) ?? '');
      }
  });
  return names;
}
