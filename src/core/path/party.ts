import { getDomain } from 'tldts';

/**
 * The registrable domain of a URL's host (public suffix list), or the host itself where it has none
 * (an IP address, `localhost`).
 */
export function ownerOf(url: string): string {
  const host = hostOf(url).replace(/:\d+$/, '');
  return getDomain(host) ?? host;
}

/** Host with port, as the URL says it; empty for data: and blob: URLs. */
export function hostOf(url: string): string {
  try {
    return new URL(url).host;
  } catch {
    return '';
  }
}

/** What a host is told by where it only has to be told from others: its first label, or all of an address. */
export function shortHost(host: string): string {
  return /^[\d.]+(:\d+)?$|^\[/.test(host) ? host : host.split('.')[0]!;
}

export type Party = 'first' | 'third';

/** First party when the asset's registrable domain is the page's; data: and blob: URLs are the page's own. */
export function partyOf(url: string, pageUrl: string): Party {
  if (!/^https?:/i.test(url)) return 'first';
  return ownerOf(url) === ownerOf(pageUrl) ? 'first' : 'third';
}

/** The last part of a URL's path, for labels; the host for a bare root. */
export function fileNameOf(url: string): string {
  if (url.startsWith('data:')) return 'data: URL';
  try {
    const { pathname, hostname } = new URL(url);
    return pathname.split('/').filter(Boolean).at(-1) ?? hostname;
  } catch {
    return url;
  }
}
