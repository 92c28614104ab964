import { resolve } from '../html/assets.ts';
import type { Exchange } from '../measure/exchange.ts';
import { headerOf, headersOf, lifetimeOf } from '../measure/headers.ts';
import type { CapturedPage } from '../page/captured-page.ts';

/** A page that a visitor may go to from the one that is treated. */
export interface NextPage {
  name: string;
  /** As it was asked for: where it sends on to is not said. */
  url: string;
}

/** Why something must not be asked for before a visitor wishes it. */
export type NextObjection =
  /** Its answer says that no cache may keep it. */
  | { code: 'not-kept'; header: string }
  /** The document is made for one visitor, or for one moment. */
  | { code: 'of-one-visit'; why: 'cookies' | 'no-store' | 'signed in' }
  /** Its link leads to an address that only sends on: what is kept for one is not found by the other. */
  | { code: 'sends-on'; to: string }
  /** Its address reads like one that does something, or that only some may see. */
  | { code: 'address-acts'; part: string };

/** Something that a page needs to which this one links, and that this one does not ask for itself. */
export interface NextAsset {
  url: string;
  as: 'document' | 'style' | 'script' | 'font';
  wireBytes: number;
  /** As its element there says, so that what is kept is found again; null for none. */
  crossOrigin: string | null;
  /** The pages that need it, in the order of their links. */
  pages: readonly NextPage[];
  objection: NextObjection | null;
}

/** An answer of the capture of another page. */
export interface NextAnswer {
  exchange: Exchange;
  body: Uint8Array;
}

/** What can be asked for ahead of a page's next ones, with the answers to it. */
export interface NextPages {
  assets: readonly NextAsset[];
  answers: readonly NextAnswer[];
}

/** A page of the same site, as it was captured. */
export interface Neighbour {
  name: string;
  page: CapturedPage;
  /** It was captured with someone's cookies or storage. */
  signedIn: boolean;
}

/** Words of addresses that do something, or stand for something of one visitor. */
const ACTS =
  /(^|[^a-z])(log-?(in|out|off)|sign-?(in|out|up|off)|basket|cart|checkout|pay|order|account|profile|admin|staff|add|remove|delete|cancel|subscribe|unsubscribe|confirm|download|print|logout|session)([^a-z]|$)/i;

/**
 * What the measured pages that a page links to ask for early, and it does not itself: their documents first, then files
 * by how many pages need them. Only of origins that the page itself asks: nobody else is told of a visit that may not
 * come about.
 */
export function nextAssets(page: CapturedPage, neighbours: readonly Neighbour[]): NextAsset[] {
  const own = new Set(page.capture.exchanges.map((one) => bare(one.url)));
  const origins = new Set(page.capture.exchanges.map((one) => new URL(one.url).origin));
  const found = new Map<string, NextAsset>();
  const add = (asset: Omit<NextAsset, 'pages'>, of: NextPage) => {
    if (own.has(asset.url) || !origins.has(new URL(asset.url).origin)) return;
    const known = found.get(asset.url);
    found.set(asset.url, { ...(known ?? asset), pages: [...(known?.pages ?? []), of] });
  };
  for (const neighbour of linkedFrom(page, neighbours)) {
    const next = { name: neighbour.name, url: neighbour.page.capture.url };
    add(documentOf(neighbour), next);
    for (const file of filesOf(neighbour.page)) add(file, next);
  }
  return [...found.values()].sort(
    (a, b) =>
      Number(b.as === 'document') - Number(a.as === 'document') ||
      (a.as === 'document' ? 0 : b.pages.length - a.pages.length || a.wireBytes - b.wireBytes),
  );
}

/** The same with the bytes that answer. */
export function nextPages(page: CapturedPage, neighbours: readonly Neighbour[]): NextPages {
  const assets = nextAssets(page, neighbours);
  const answers = assets.flatMap(({ url }) => {
    const of = neighbours.find((one) => one.page.exchange(url))?.page;
    const [exchange, body] = [of?.exchange(url), of?.body(url)];
    return exchange && body ? [{ exchange: { ...exchange, url }, body }] : [];
  });
  return { assets, answers };
}

/** Neighbours that a visitor can go to from a page by a link in its HTML, in the order of the links. */
export function linkedFrom(page: CapturedPage, neighbours: readonly Neighbour[]): Neighbour[] {
  const found = linksOf(page).flatMap(
    (url) =>
      neighbours.find(({ page: { capture } }) =>
        [capture.url, capture.documentUrl].some((one) => bare(one) === url),
      ) ?? [],
  );
  return [...new Set(found)].filter((one) => bare(one.page.url) !== bare(page.url));
}

/** Addresses on its own origin that a page links to in its HTML, without fragments, each once in the order of the links. */
export function linksOf(page: CapturedPage): string[] {
  const { origin } = new URL(page.url);
  const found = new Set<string>();
  for (const href of page.document.links) {
    const url = resolve(href, page.baseUrl);
    if (url !== null && url !== bare(page.url) && new URL(url).origin === origin) found.add(url);
  }
  return [...found];
}

function documentOf({ page, signedIn }: Neighbour): Omit<NextAsset, 'pages'> {
  const exchange = page.exchange(page.url);
  return {
    url: bare(page.url),
    as: 'document',
    wireBytes: exchange?.wireBytes ?? 0,
    crossOrigin: null,
    objection:
      bare(page.capture.url) === bare(page.url)
        ? documentObjection(page.url, exchange, signedIn)
        : { code: 'sends-on', to: page.url },
  };
}

function documentObjection(url: string, exchange: Exchange | null, signedIn: boolean): NextObjection | null {
  const { pathname, search } = new URL(url);
  if (search) return { code: 'address-acts', part: search };
  const part = pathname.split('/').find((one) => ACTS.test(one));
  if (part) return { code: 'address-acts', part };
  if (signedIn) return { code: 'of-one-visit', why: 'signed in' };
  const headers = exchange?.responseHeaders ?? [];
  if (headersOf(headers, 'set-cookie').length) return { code: 'of-one-visit', why: 'cookies' };
  return isStored(headers) ? null : { code: 'of-one-visit', why: 'no-store' };
}

/** Stylesheets and scripts that stand in a page's HTML and that it waits for, and the fonts that it asked for. */
function filesOf(page: CapturedPage): Omit<NextAsset, 'pages'>[] {
  const files: { url: string; as: NextAsset['as']; crossOrigin: string | null }[] = [];
  for (const { url, printOnly, element } of page.styles)
    if (url !== null && !printOnly) files.push({ url, as: 'style', crossOrigin: crossOriginOf(element) });
  for (const { url, async, module, element } of page.scripts)
    if (url !== null && !async)
      files.push({ url, as: 'script', crossOrigin: module ? '' : crossOriginOf(element) });
  // Fonts are always asked for so (CSS Fonts 4, 4.9).
  for (const { kind, url } of page.capture.exchanges)
    if (kind === 'font') files.push({ url, as: 'font', crossOrigin: '' });
  return files.flatMap((file) => {
    const url = bare(file.url);
    const exchange = page.exchange(url);
    if (!exchange || exchange.status !== 200) return [];
    const objection = fileObjection(exchange.responseHeaders);
    return [{ ...file, url, wireBytes: exchange.wireBytes, objection }];
  });
}

function crossOriginOf({ attributes }: { attributes: Record<string, string> }): string | null {
  return attributes['crossorigin'] ?? null;
}

/** Whether a cache may keep an answer, and find it again (RFC 9111, sections 3 and 4.1). */
function isStored(headers: Exchange['responseHeaders']): boolean {
  return (
    !/\bno-store\b/i.test(headersOf(headers, 'cache-control').join(',')) &&
    !headersOf(headers, 'vary').some((one) => one.trim() === '*')
  );
}

/** A visitor who goes on does so within this time, s: what is stale by then would be asked for twice. */
const KEPT_FOR_S = 300;

function fileObjection(headers: Exchange['responseHeaders']): NextObjection | null {
  const control = headersOf(headers, 'cache-control').join(', ');
  const header = (text: string): NextObjection => ({ code: 'not-kept', header: text });
  if (!isStored(headers)) return header(/no-store/i.test(control) ? `Cache-Control: ${control}` : 'Vary: *');
  const lasts = lifetimeOf(headers) ?? guessedLifetimeOf(headers);
  if (lasts === null) return header('no Cache-Control, no Expires');
  if (lasts >= KEPT_FOR_S) return null;
  return header(control ? `Cache-Control: ${control}` : `fresh for ${Math.round(lasts)} s`);
}

/** What browsers take for granted where nothing is said: a tenth of its age (RFC 9111, 4.2.2). */
function guessedLifetimeOf(headers: Exchange['responseHeaders']): number | null {
  const [changed, sent] = ['last-modified', 'date'].map((name) => Date.parse(headerOf(headers, name) ?? ''));
  return Number.isFinite(changed! + sent!) ? Math.max(0, (sent! - changed!) / 10_000) : null;
}

function bare(url: string): string {
  return url.replace(/#.*$/, '');
}
