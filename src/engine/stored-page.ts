import { encodingOf } from '../core/html/encoding.ts';
import type { Bodies, Capture, Exchange } from '../core/measure/exchange.ts';
import { headerOf } from '../core/measure/headers.ts';

/** The captured exchange that answered an address, followed through redirects' ends. */
export function exchangeOf(capture: Capture, url: string): Exchange | null {
  const bare = url.replace(/#.*$/, '');
  return (
    capture.exchanges.find(
      (one) => one.method === 'GET' && one.url.replace(/#.*$/, '') === bare && one.bodyHash !== null,
    ) ?? null
  );
}

/** Exact body bytes of an address, or null. */
export function bodyOf(capture: Capture, bodies: Bodies, url: string): Uint8Array | null {
  const exchange = exchangeOf(capture, url);
  return exchange?.bodyHash ? (bodies.get(exchange.bodyHash) ?? null) : null;
}

/** The content-type header that an address was answered with, '' for none. */
export function contentTypeOf(capture: Capture, url: string): string {
  return headerOf(exchangeOf(capture, url)?.responseHeaders ?? [], 'content-type') ?? '';
}

/**
 * A body as text: byte-order mark first, then the header's charset, an @charset rule, else the page's own
 * encoding (CSS Syntax 3, section 3.2; HTML, "fetch a classic script").
 */
export function decodeText(capture: Capture, bodies: Bodies, url: string): string | null {
  const bytes = bodyOf(capture, bodies, url);
  if (!bytes) return null;
  const rule = /^@charset "([^"]+)";/.exec(new TextDecoder('latin1').decode(bytes.subarray(0, 100)))?.[1];
  const mark = bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf;
  const said = /charset=["']?([\w-]+)/i.exec(contentTypeOf(capture, url))?.[1] ?? rule;
  const label = mark ? 'utf-8' : (said ?? encodingOfPage(capture, bodies));
  try {
    return new TextDecoder(label).decode(bytes);
  } catch {
    return new TextDecoder().decode(bytes);
  }
}

function encodingOfPage(capture: Capture, bodies: Bodies): string {
  const html = bodyOf(capture, bodies, capture.documentUrl);
  return html ? encodingOf(html, contentTypeOf(capture, capture.documentUrl)) : 'utf-8';
}

/** The stylesheets of a capture with the hashes of their bodies, each once, by address. */
export function sheetHashes(capture: Capture): { url: string; hash: string }[] {
  const found = new Map<string, string>();
  for (const one of capture.exchanges)
    if (one.kind === 'stylesheet' && one.bodyHash) found.set(one.url, one.bodyHash);
  return [...found].map(([url, hash]) => ({ url, hash })).sort((a, b) => (a.url < b.url ? -1 : 1));
}
