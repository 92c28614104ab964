import { getDomain } from 'tldts';
import { hostOf } from './names.ts';

/**
 * The registrable domain of a URL's host (public suffix list), or the host itself where it has none
 * (an IP address, `localhost`).
 */
export function ownerOf(url: string): string {
  const host = hostOf(url).replace(/:\d+$/, '');
  return getDomain(host) ?? host;
}

export type Party = 'first' | 'third';

/** First party when the asset's registrable domain is the page's; data: and blob: URLs are the page's own. */
export function partyOf(url: string, pageUrl: string): Party {
  if (!/^https?:/i.test(url)) return 'first';
  return ownerOf(url) === ownerOf(pageUrl) ? 'first' : 'third';
}
