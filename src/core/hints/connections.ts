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
 * Which sorts of connection to an origin the page uses, as far as can be told: one made ahead of the wrong sort is of no
 * use. Fonts and data go without credentials; so does what an element asks for with `crossorigin`, and module scripts.
 */
export function connectionsTo(page: HintedPage, origin: string): Sort[] {
  const said = sortsSaid(page);
  return sortsOf(page, origin, ({ url, kind }) => {
    const isWithout = kind === 'font' || kind === 'data' || said.get(url)?.has('anonymous');
    return [isWithout ? 'anonymous' : 'credentialed'];
  });
}

/**
 * Which sorts it may use: of what a script asks for only the script knows. Fonts go without credentials always (CSS
 * Fonts 4, "font fetching requirements"), and what the HTML asks for as it says.
 */
export function perhapsTo(page: HintedPage, origin: string): Sort[] {
  const said = sortsSaid(page);
  return sortsOf(page, origin, ({ url, kind }) =>
    kind === 'font' ? ['anonymous'] : [...(said.get(url) ?? (['credentialed', 'anonymous'] as const))],
  );
}

function sortsOf(
  { requests }: HintedPage,
  origin: string,
  sortsFor: (request: HintedPage['requests'][number]) => Sort[],
): Sort[] {
  const asked = requests.filter(({ url }) => URL.canParse(url) && new URL(url).origin === origin);
  const used = new Set(asked.flatMap(sortsFor));
  return (['credentialed', 'anonymous'] as const).filter((sort) => used.has(sort));
}

/** By address, how elements of the page ask for it. */
function sortsSaid({ document, documentUrl }: HintedPage): Map<string, Set<Sort>> {
  const base = baseUrl(document, documentUrl);
  const said = new Map<string, Set<Sort>>();
  for (const { tag, attributes } of document.elements) {
    // A hint names a host and asks for nothing.
    if (tag === 'link' && /\b(preconnect|dns-prefetch)\b/i.test(attributes['rel'] ?? '')) continue;
    const url = resolve(attributes['src'] ?? attributes['href'] ?? '', base);
    if (!url) continue;
    const isWithout =
      isAnonymous(attributes['crossorigin']) || (tag === 'script' && attributes['type'] === 'module');
    said.set(url, (said.get(url) ?? new Set()).add(isWithout ? 'anonymous' : 'credentialed'));
  }
  return said;
}

/** Whether an element asks without credentials, by its `crossorigin` (HTML, "CORS settings attributes"). */
export function isAnonymous(crossorigin: string | undefined): boolean {
  return crossorigin !== undefined && crossorigin.toLowerCase() !== 'use-credentials';
}
