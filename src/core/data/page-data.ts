import type { Exchange } from '../measure/exchange.ts';
import type { CapturedPage } from '../page/captured-page.ts';

/** Something that a script of the page asks for by itself, as `fetch()` and `XMLHttpRequest` do. */
export interface PageData {
  url: string;
  exchange: Exchange;
}

/** What scripts ask for without sending anything, each address once, in the order it was asked for. */
export function readData({ capture: { exchanges } }: CapturedPage): PageData[] {
  const found = new Map<string, PageData>();
  for (const exchange of exchanges) {
    const { kind, method, url } = exchange;
    if (kind === 'data' && method === 'GET' && /^https?:/.test(url) && !found.has(url))
      found.set(url, { url, exchange });
  }
  return [...found.values()];
}

/** What browsers send with any request, and a tag does as well; what scripts say they accept, servers seldom go by. */
const OF_ANY_REQUEST =
  /^(accept|accept-language|referer|user-agent|origin|sec-.+|cache-control|pragma|upgrade-insecure-requests|priority|dpr|viewport-width|save-data)$/i;

/** Headers that the script sets itself, which a tag cannot send: without them the answer may be another, and browsers hand it over all the same. */
export function ownHeaders({ exchange }: PageData): string[] {
  return exchange.requestHeaders
    .map(([name]) => name.toLowerCase())
    .filter((name) => !OF_ANY_REQUEST.test(name));
}

/** How far a number may be from the capture's clock to be taken for a time, ms. */
const ABOUT_NOW_MS = 600_000;

/**
 * What of an address is of the moment it was made: a time, or a number drawn. Captures have a fixed clock and a seeded
 * chance, so such an address is the same in each of their loads.
 */
export function momentIn(url: string, startMs: number | null): string | null {
  const { searchParams, pathname } = new URL(url);
  for (const value of [...searchParams.values(), ...pathname.split('/')]) {
    if (/^0?\.\d{8,}$/.test(value)) return value;
    const times = /^\d{10}(\d{3})?$/.exec(value);
    const ms = times && (times[1] ? Number(value) : Number(value) * 1_000);
    if (ms !== null && startMs !== null && Math.abs(ms - startMs) < ABOUT_NOW_MS) return value;
  }
  return null;
}
