import type { Declaration, Rule } from 'postcss';
import { isUnderCondition } from '../css/conditions.ts';
import { urlsIn } from '../css/urls.ts';
import { resolve } from '../html/assets.ts';
import type { HtmlElement } from '../html/document.ts';
import { chainOf } from '../html/selector-chain.ts';
import type { CapturedPage } from '../page/captured-page.ts';

/** What a declaration puts behind elements: where it counts, and whether it is the picture that is asked about. */
interface Background {
  isIt: boolean;
  always: boolean;
  /** The last parts of its selectors: what it may be for. */
  of: string[];
}

/**
 * Whether styles name a picture on screens of any sort, or only under conditions, which another picture for what looks
 * alike is as well; null where no style that can be read names it.
 */
export function behindOf(page: CapturedPage, url: string): 'always' | 'sometimes' | null {
  const all = backgroundsIn(page, url);
  const own = all.filter((one) => one.isIt);
  if (own.length === 0) return styledWith(page, url).length ? 'always' : null;
  const replaced = (one: Background) =>
    all.some((other) => !other.always && !other.isIt && other.of.some((part) => one.of.includes(part)));
  return own.some((one) => one.always && !replaced(one)) ? 'always' : 'sometimes';
}

function backgroundsIn(page: CapturedPage, url: string): Background[] {
  const found: Background[] = [];
  for (const { url: sheetUrl, element, media } of page.styles) {
    const root = sheetUrl === null ? page.inlineRoot(element) : (page.sheet(sheetUrl)?.root ?? null);
    root?.walkDecls(/^(background(-image)?|--.*)$/i, (declaration) => {
      const base = declaration.source?.input.file ?? sheetUrl ?? page.baseUrl;
      found.push({
        isIt: urlsIn(declaration.value).some((one) => resolve(one, base) === url),
        always: /^(all|screen)?$/i.test(media.trim()) && !isUnderCondition(declaration),
        of: lastPartsOf(declaration),
      });
    });
  }
  return found;
}

function lastPartsOf({ parent }: Declaration): string[] {
  if (parent?.type !== 'rule') return [];
  return (parent as Rule).selector.split(',').flatMap((one) => chainOf(one).slice(-1));
}

/** Elements whose style attribute names a picture. */
export function styledWith({ document, baseUrl }: CapturedPage, url: string): HtmlElement[] {
  const all = [...document.styled, ...document.elements];
  return all.filter(({ attributes: { style }, inert }) => {
    if (style === undefined || inert) return false;
    return urlsIn(style).some((one) => resolve(one, baseUrl) === url);
  });
}
