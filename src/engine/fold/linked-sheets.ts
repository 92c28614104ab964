import { flattenSheet, type FlatSheet } from '../../core/css/flatten.ts';
import { baseUrl, stylesOf, type StyleElement } from '../../core/html/assets.ts';
import { readHtml, type HtmlDocument } from '../../core/html/document.ts';
import type { Bodies, Capture } from '../../core/measure/exchange.ts';
import { bodyOf, contentTypeOf, decodeText } from '../stored-page.ts';

/** The links of a page that load stylesheets for the screen, in document order. */
export function screenLinks(document: HtmlDocument, documentUrl: string): StyleElement[] {
  return stylesOf(document, documentUrl).filter((style) => style.url !== null && !style.printOnly);
}

/** Linked sheets as they were captured, each once, and the addresses of those that were not. */
export interface LinkedSheets {
  sheets: FlatSheet[];
  missing: string[];
}

/** Reads the stylesheets that a page links, their imports written out in place. */
export function linkedSheets(
  document: HtmlDocument,
  documentUrl: string,
  text: (url: string) => string | null,
): LinkedSheets {
  const found: LinkedSheets = { sheets: [], missing: [] };
  const base = baseUrl(document, documentUrl);
  const links = screenLinks(document, documentUrl);
  const mediaOf = (url: string) => {
    const media = links.filter((link) => link.url === url).map((link) => link.media);
    return media.includes('') ? [] : media;
  };
  for (const { url } of links) {
    if (url === null || found.missing.includes(url) || found.sheets.some((sheet) => sheet.url === url))
      continue;
    const flat = flattenSheet(url, text, base);
    if (flat) found.sheets.push({ ...flat, media: mediaOf(url) });
    else found.missing.push(url);
  }
  return found;
}

/** The same of a capture. */
export function capturedSheets(capture: Capture, bodies: Bodies): FlatSheet[] {
  const html = bodyOf(capture, bodies, capture.documentUrl);
  if (!html) return [];
  const document = readHtml(html, contentTypeOf(capture, capture.documentUrl));
  return linkedSheets(document, capture.documentUrl, (url) => decodeText(capture, bodies, url)).sheets;
}
