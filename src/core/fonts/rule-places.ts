import type { Root } from 'postcss';
import { readImport } from '../css/flatten.ts';
import { resolve } from '../html/assets.ts';
import type { HtmlElement } from '../html/document.ts';
import type { CapturedPage } from '../page/captured-page.ts';

/** Where style rules of a page stand: in a file, or in a style element of its HTML. */
export type RulePlace = { url: string; element: null } | { url: null; element: HtmlElement };

/** The rules of one place. */
export interface PlacedRules {
  place: RulePlace;
  root: Root;
  /** What addresses in it are taken from. */
  base: string;
}

/** A page never changes: its places are looked for once. */
const known = new WeakMap<CapturedPage, readonly PlacedRules[]>();

/** All style rules of a page, through imports, each place once: what is imported stands before what imports it. */
export function rulePlaces(page: CapturedPage): readonly PlacedRules[] {
  const places = known.get(page) ?? lookedFor(page);
  known.set(page, places);
  return places;
}

function lookedFor(page: CapturedPage): PlacedRules[] {
  const found: PlacedRules[] = [];
  const seen = new Set<string>();
  const look = (place: RulePlace, root: Root | null, base: string) => {
    if (!root) return;
    root.walkAtRules(/^import$/i, (at) => {
      const request = readImport(at.params);
      const url = request && resolve(request.url, base);
      if (url) file(url);
    });
    found.push({ place, root, base });
  };
  const file = (url: string) => {
    if (seen.has(url)) return;
    seen.add(url);
    look({ url, element: null }, page.root(url), url);
  };
  for (const { url, element } of page.styles)
    if (url !== null) file(url);
    else look({ url: null, element }, page.inlineRoot(element), page.baseUrl);
  return found;
}
