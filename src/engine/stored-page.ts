import type { Bodies, Capture, Exchange } from '../core/measure/exchange.ts';

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

/** A body as text: byte-order mark first, then the header's charset, an @charset rule, else UTF-8 (CSS Syntax, section 3.2). */
export function decodeText(capture: Capture, bodies: Bodies, url: string): string | null {
  const bytes = bodyOf(capture, bodies, url);
  if (!bytes) return null;
  const type =
    exchangeOf(capture, url)?.responseHeaders.find(([name]) => name.toLowerCase() === 'content-type')?.[1] ??
    '';
  const rule = /^@charset "([^"]+)";/.exec(new TextDecoder('latin1').decode(bytes.subarray(0, 100)))?.[1];
  const mark = bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf;
  const label = mark ? 'utf-8' : (/charset=["']?([\w-]+)/i.exec(type)?.[1] ?? rule ?? 'utf-8');
  try {
    return new TextDecoder(label).decode(bytes);
  } catch {
    return new TextDecoder().decode(bytes);
  }
}

/** The stylesheets of a capture with the hashes of their bodies, each once, by address. */
export function sheetHashes(capture: Capture): { url: string; hash: string }[] {
  const found = new Map<string, string>();
  for (const one of capture.exchanges)
    if (one.kind === 'stylesheet' && one.bodyHash) found.set(one.url, one.bodyHash);
  return [...found].map(([url, hash]) => ({ url, hash })).sort((a, b) => (a.url < b.url ? -1 : 1));
}
