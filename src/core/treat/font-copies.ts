import { urlsIn } from '../css/urls.ts';
import { ownPreloads } from '../hints/own-preloads.ts';
import { ownFileRefusedBy } from '../html/content-policy.ts';
import type { PageAssets } from '../page/page-assets.ts';
import type { NewFile } from './contribution.ts';
import { newFile } from './new-files.ts';

/** A font file of another host that the page asks for, and the copy of it that stands on the page's own. */
export interface FontCopy {
  from: string;
  file: NewFile;
}

/**
 * Copies of the fonts that a sheet of another host names and the page really asks for. What it names besides stays where
 * it is: nobody knows which letters the next page has. None where the page's policies would not let them in, or where
 * it asks for one of them ahead by its own tag.
 *
 * @param css with full addresses
 */
export function fontCopies(page: PageAssets, css: string): FontCopy[] {
  const { captured, documentUrl, policies } = page;
  if (ownFileRefusedBy(policies, documentUrl, 'font', null) !== null) return [];
  const own = new URL(documentUrl).origin;
  const named = [...new Set(urlsIn(css))].filter((url) => URL.canParse(url) && new URL(url).origin !== own);
  const copies = named.flatMap((from): FontCopy[] => {
    const exchange = captured.exchange(from);
    const body = captured.body(from);
    if (!exchange || !body || exchange.kind !== 'font' || exchange.status !== 200) return [];
    const file = newFile(page, 'font', extensionOf(from), exchange.mimeType || 'font/woff2', body);
    return [{ from, file }];
  });
  return copies.some(({ from }) => ownPreloads(page, from).length) ? [] : copies;
}

function extensionOf(url: string): string {
  return /\.(woff2?|[to]tf)$/i.exec(new URL(url).pathname)?.[1]?.toLowerCase() ?? 'woff2';
}
