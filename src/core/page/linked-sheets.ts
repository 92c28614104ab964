import type { FlatSheet } from '../css/flatten.ts';
import type { StyleElement } from '../html/assets.ts';
import type { CapturedPage } from './captured-page.ts';

/** The links of a page that load stylesheets for the screen, in document order. */
export function screenLinks(page: CapturedPage): StyleElement[] {
  return page.styles.filter((style) => style.url !== null && !style.printOnly);
}

/** Linked sheets as they were captured, each once, and the addresses of those that were not. */
export interface LinkedSheets {
  sheets: FlatSheet[];
  missing: string[];
}

/** Reads the stylesheets that a page links, their imports written out in place. */
export function linkedSheets(page: CapturedPage): LinkedSheets {
  const found: LinkedSheets = { sheets: [], missing: [] };
  const links = screenLinks(page);
  for (const url of new Set(links.flatMap((link) => link.url ?? []))) {
    const media = links.filter((link) => link.url === url).map((link) => link.media);
    const flat = page.sheet(url);
    if (flat) found.sheets.push({ ...flat, media: media.includes('') ? [] : media });
    else found.missing.push(url);
  }
  return found;
}
