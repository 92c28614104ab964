import { addressesIn, baseUrl, resolve } from '../html/assets.ts';
import type { HtmlElement } from '../html/document.ts';
import { isAnonymous, type HintedPage } from './connections.ts';

/** The preloads of a file that stand in the page already. */
export function ownPreloads(
  { document, documentUrl }: Omit<HintedPage, 'requests'>,
  url: string,
): HtmlElement[] {
  const base = baseUrl(document, documentUrl);
  return document.elements.filter(
    ({ tag, attributes, inert }) =>
      tag === 'link' &&
      !inert &&
      /(^|\s)preload(\s|$)/i.test(attributes['rel'] ?? '') &&
      [attributes['href'] ?? '', ...addressesIn(attributes['imagesrcset'] ?? '')].some(
        (one) => resolve(one, base) === url,
      ),
  );
}

/** Whether a preload is taken for a font: those are asked for without credentials, wherever they are (CSS Fonts 4, "font fetching requirements"). */
export function fitsFont({ attributes }: HtmlElement): boolean {
  return attributes['as']?.trim().toLowerCase() === 'font' && isAnonymous(attributes['crossorigin']);
}
