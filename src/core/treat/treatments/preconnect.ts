import { resolve } from '../../html/assets.ts';
import { attributeValue } from '../../html/markup.ts';
import type { PageAssets } from '../../page/page-assets.ts';
import { hostOf } from '../../path/names.ts';
import { NO_SETTINGS, type Treatment } from '../treatment.ts';

/** The connection to a host is made before it is asked for anything. */
export const preconnect: Treatment<'host'> = {
  id: 'preconnect',
  kind: 'host',
  label: 'preconnect',
  settings: NO_SETTINGS,
  isFor: () => true,
  refuses: () => null,
  contributes({ origin }, { page }) {
    const { anonymous, credentialed } = connectionsTo(page, origin);
    const sorts = [...(credentialed || !anonymous ? [''] : []), ...(anonymous ? [' crossorigin'] : [])];
    const links = sorts.map((sort) => `<link rel="preconnect" href="${attributeValue(origin)}"${sort}>`);
    return { headTags: [{ title: `${hostOf(origin) || origin}: preconnect`, tag: links.join('\n') }] };
  },
};

/**
 * Which connections to an origin the page uses: a browser keeps those without credentials apart (Fetch, "obtain a
 * connection"), and one made ahead of the wrong sort is of no use. Fonts and data go without; so does what an
 * element asks for with `crossorigin`, and module scripts.
 */
function connectionsTo(page: PageAssets, origin: string): { anonymous: boolean; credentialed: boolean } {
  const base = page.captured.baseUrl;
  const without = new Set(
    page.document.elements.flatMap(({ tag, attributes }) => {
      const asksWithout =
        (attributes['crossorigin'] !== undefined && attributes['crossorigin'] !== 'use-credentials') ||
        (tag === 'script' && attributes['type'] === 'module');
      return asksWithout ? (resolve(attributes['src'] ?? attributes['href'] ?? '', base) ?? []) : [];
    }),
  );
  const asked = page.requests.filter((one) => new URL(one.url).origin === origin);
  const isAnonymous = (one: (typeof asked)[number]) =>
    one.kind === 'font' || one.kind === 'data' || without.has(one.url);
  return {
    anonymous: asked.some(isAnonymous),
    credentialed: asked.some((one) => !isAnonymous(one)),
  };
}
