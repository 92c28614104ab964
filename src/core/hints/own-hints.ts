import { baseUrl, resolve } from '../html/assets.ts';
import type { HtmlElement } from '../html/document.ts';
import type { PageAssets } from '../page/page-assets.ts';
import { isAnonymous, perhapsTo, type HintedPage, type Sort } from './connections.ts';

/** A hint about a connection that stands in the page already (HTML, "link type preconnect" and "dns-prefetch"). */
export interface OwnHint {
  element: HtmlElement;
  rel: 'preconnect' | 'dns-prefetch';
  origin: string;
  sort: Sort;
}

/** What hints are held against: all that was asked for, in a run and when it was captured. */
export function hintedPage({ captured, document, documentUrl, requests }: PageAssets): HintedPage {
  const inRun = new Set(requests.map(({ url }) => url));
  const besides = captured.capture.exchanges.filter(({ url }) => !inRun.has(url));
  return { document, documentUrl, requests: [...requests, ...besides] };
}

/** Why a hint helps nothing on this page. */
export type InVain = 'own host' | 'nothing asked' | 'other sort' | 'twice';

/** A hint that helps nothing, with why. */
export type HintInVain = OwnHint & { why: InVain };

/** All hints about connections that stand in the page, in its order. */
export function ownHints({ document, documentUrl }: HintedPage): OwnHint[] {
  const base = baseUrl(document, documentUrl);
  return document.elements.flatMap((element): OwnHint[] => {
    const { tag, attributes, inert } = element;
    if (tag !== 'link' || inert) return [];
    const rels = (attributes['rel'] ?? '').toLowerCase().split(/\s+/);
    const rel = (['preconnect', 'dns-prefetch'] as const).find((one) => rels.includes(one));
    // One that is a stylesheet or a preload as well is not ours to take out.
    const isAlone = rels.every((one) => one === '' || one === 'preconnect' || one === 'dns-prefetch');
    const href = attributes['href']?.trim();
    const url = rel && isAlone && href ? resolve(href, base) : null;
    if (!rel || !url || !/^https?:/.test(url)) return [];
    const sort = isAnonymous(attributes['crossorigin']) ? 'anonymous' : 'credentialed';
    return [{ element, rel, origin: new URL(url).origin, sort }];
  });
}

/**
 * The hints of a page that help nothing: connections that the page never uses take time of the line and of the
 * processor from those that it does. A name that is looked up in vain costs next to nothing, and a visitor may go there.
 */
export function hintsInVain(page: HintedPage): HintInVain[] {
  const own = new URL(page.documentUrl).origin;
  const seen = new Set<string>();
  return ownHints(page).flatMap((hint) => {
    const key = JSON.stringify([hint.rel, hint.origin, hint.rel === 'preconnect' ? hint.sort : null]);
    const isTwice = seen.has(key);
    seen.add(key);
    const why = isTwice ? 'twice' : inVain(hint, own, page);
    return why ? [{ ...hint, why }] : [];
  });
}

/** Of a connection to the page's own host nothing is said: over HTTP/1.1 a second one is of use. */
function inVain({ rel, origin, sort }: OwnHint, own: string, page: HintedPage): InVain | null {
  if (rel === 'dns-prefetch') return origin === own ? 'own host' : null;
  const sorts = perhapsTo(page, origin);
  if (origin === own || sorts.includes(sort)) return null;
  return sorts.length > 0 ? 'other sort' : 'nothing asked';
}
