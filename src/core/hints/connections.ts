import { baseUrl, resolve } from '../html/assets.ts';
import type { HtmlDocument } from '../html/document.ts';
import type { AssetKind } from '../measure/discovery.ts';

/** What goes by hints: the page as it stands, and what was asked for. */
export interface HintedPage {
  document: HtmlDocument;
  documentUrl: string;
  requests: readonly { url: string; kind: AssetKind }[];
}

/** A browser keeps connections without credentials apart from those with (Fetch, "obtain a connection"). */
export type Sort = 'credentialed' | 'anonymous';

/**
 * Which sorts of connection to an origin the page uses: one made ahead of the wrong sort is of no use. Fonts and data go
 * without credentials; so does what an element asks for with `crossorigin`, and module scripts.
 */
export function connectionsTo({ document, documentUrl, requests }: HintedPage, origin: string): Sort[] {
  const base = baseUrl(document, documentUrl);
  const without = new Set(
    document.elements.flatMap(({ tag, attributes }) => {
      // A hint names a host and asks for nothing.
      if (tag === 'link' && /\b(preconnect|dns-prefetch)\b/i.test(attributes['rel'] ?? '')) return [];
      const asksWithout =
        isAnonymous(attributes['crossorigin']) || (tag === 'script' && attributes['type'] === 'module');
      return asksWithout ? (resolve(attributes['src'] ?? attributes['href'] ?? '', base) ?? []) : [];
    }),
  );
  const asked = requests.filter(({ url }) => URL.canParse(url) && new URL(url).origin === origin);
  const goesWithout = ({ url, kind }: (typeof asked)[number]) =>
    kind === 'font' || kind === 'data' || without.has(url);
  return [
    ...(asked.some((one) => !goesWithout(one)) ? ['credentialed' as const] : []),
    ...(asked.some(goesWithout) ? ['anonymous' as const] : []),
  ];
}

/** Whether an element asks without credentials, by its `crossorigin` (HTML, "CORS settings attributes"). */
export function isAnonymous(crossorigin: string | undefined): boolean {
  return crossorigin !== undefined && crossorigin.toLowerCase() !== 'use-credentials';
}
