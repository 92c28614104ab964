import type { Declaration } from 'postcss';
import { urlsIn } from '../css/urls.ts';
import { rulePlaces, type RulePlace } from '../fonts/rule-places.ts';
import { resolve } from '../html/assets.ts';
import type { CapturedPage } from '../page/captured-page.ts';

/** A declaration in a page's style rules that names a file. */
export interface NamedInRule {
  place: RulePlace;
  /** What addresses in it are taken from. */
  base: string;
  declaration: Declaration;
}

type ByUrl = ReadonlyMap<string, readonly NamedInRule[]>;

/** A page never changes: its rules are gone through once for all of its files. */
const known = new WeakMap<CapturedPage, ByUrl>();

/** Where a page's style rules name a file, in the order of their places. @param url whole, as it is resolved */
export function namedInRules(page: CapturedPage, url: string): readonly NamedInRule[] {
  const all = known.get(page) ?? lookedFor(page);
  known.set(page, all);
  return all.get(url) ?? [];
}

function lookedFor(page: CapturedPage): ByUrl {
  const found = new Map<string, NamedInRule[]>();
  for (const { place, root, base } of rulePlaces(page))
    root.walkDecls((declaration) => {
      if (!declaration.value.includes('(')) return;
      const urls = new Set(urlsIn(declaration.value).flatMap((one) => resolve(one, base) ?? []));
      for (const url of urls) {
        const named = found.get(url) ?? [];
        named.push({ place, base, declaration });
        found.set(url, named);
      }
    });
  return found;
}
