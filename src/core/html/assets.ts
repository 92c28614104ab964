import { readHtml, type HtmlDocument, type HtmlElement } from './document.ts';

/** A script element that runs: classic or module, external or inline. */
export interface ScriptElement {
  element: HtmlElement;
  url: string | null;
  module: boolean;
  async: boolean;
  defer: boolean;
}

/** A `<link rel=stylesheet>` or `<style>`. */
export interface StyleElement {
  element: HtmlElement;
  url: string | null;
  media: string;
  /** The media query is one that screens never match. */
  printOnly: boolean;
}

/** An `<img>` with all the files it may show. */
export interface PictureElement {
  element: HtmlElement;
  /** Its own address first, then the candidates of its `srcset` and of the sources before it. */
  urls: string[];
  /** Whether its markup lets browsers choose between files. */
  chooses: boolean;
}

const CLASSIC_TYPES = new Set([
  '',
  'text/javascript',
  'application/javascript',
  'text/ecmascript',
  'application/x-javascript',
]);

/** The address relative URLs of the page are resolved against (HTML: document base URL). */
export function baseUrl(document: HtmlDocument, documentUrl: string): string {
  const base = document.elements.find((e) => e.tag === 'base' && e.attributes['href'] !== undefined);
  return base ? (resolve(base.attributes['href']!, documentUrl) ?? documentUrl) : documentUrl;
}

/** `href` against `base`, without fragment, or null when it is not a URL. */
export function resolve(href: string, base: string): string | null {
  try {
    const url = new URL(href.trim(), base);
    url.hash = '';
    return url.href;
  } catch {
    return null;
  }
}

/** Script elements that a browser runs, in document order. Data blocks (JSON, templates) are left out. */
export function scriptsOf(document: HtmlDocument, documentUrl: string): ScriptElement[] {
  const base = baseUrl(document, documentUrl);
  return document.elements.flatMap((element) => {
    if (element.tag !== 'script' || element.inert) return [];
    const type = (element.attributes['type'] ?? '').trim().toLowerCase();
    const isModule = type === 'module';
    // HTML: prepare the script element, step 9: other types are data blocks.
    if (!isModule && !CLASSIC_TYPES.has(type)) return [];
    if (!isModule && 'nomodule' in element.attributes) return [];
    const src = element.attributes['src'];
    const url = src === undefined ? null : resolve(src, base);
    if (src !== undefined && url === null) return [];
    return [
      {
        element,
        url,
        module: isModule,
        // HTML, "prepare the script element": without src a classic script runs where it stands; async goes before defer.
        async: 'async' in element.attributes && (url !== null || isModule),
        defer: 'defer' in element.attributes && url !== null && !isModule && !('async' in element.attributes),
      },
    ];
  });
}

/** Pictures in document order, each with the files that the browser chooses from (HTML: source set). */
export function picturesOf(document: HtmlDocument, documentUrl: string): PictureElement[] {
  const base = baseUrl(document, documentUrl);
  const pictures: PictureElement[] = [];
  let sources: string[] = [];
  for (const element of document.elements) {
    if (element.inert) continue;
    const { src, srcset = '' } = element.attributes;
    if (element.tag === 'source') sources.push(...candidatesOf(srcset));
    if (element.tag !== 'img') continue;
    const written = [...(src === undefined ? [] : [src]), ...candidatesOf(srcset), ...sources];
    const urls = [...new Set(written.flatMap((one) => resolve(one, base) ?? []))];
    if (urls.length) pictures.push({ element, urls, chooses: srcset !== '' || sources.length > 0 });
    sources = [];
  }
  return pictures;
}

/**
 * Addresses of a `srcset`, descriptors left out (HTML: parse a srcset attribute). By hand: of the known packages one
 * writes to the console what it cannot read, and another loses addresses of one letter.
 */
function candidatesOf(srcset: string): string[] {
  const found: string[] = [];
  for (let rest = srcset; (rest = rest.replace(/^[\s,]+/, ''));) {
    const written = /^\S+/.exec(rest)![0];
    found.push(written.replace(/,+$/, ''));
    rest = rest.slice(written.length);
    // A comma at the end of the address ends the candidate; otherwise its descriptors go up to the next one.
    if (!written.endsWith(',')) rest = rest.replace(/^[^,]*/, '');
  }
  return found;
}

/** Stylesheet links and style elements in document order; alternates and noscript ones are left out. */
export function stylesOf(document: HtmlDocument, documentUrl: string): StyleElement[] {
  const base = baseUrl(document, documentUrl);
  return document.elements.flatMap((element): StyleElement[] => {
    if (element.inert) return [];
    const media = element.attributes['media']?.trim() ?? '';
    const printOnly = media.toLowerCase() === 'print';
    if (element.tag === 'style') {
      // HTML, "update a style block", step 6: what is of another type is no stylesheet.
      const isCss = /^(text\/css)?$/i.test(element.attributes['type'] ?? '');
      return isCss ? [{ element, url: null, media, printOnly }] : [];
    }
    if (element.tag !== 'link') return [];
    const rel = (element.attributes['rel'] ?? '').toLowerCase().split(/\s+/);
    if (!rel.includes('stylesheet') || rel.includes('alternate') || 'disabled' in element.attributes)
      return [];
    const url = resolve(element.attributes['href'] ?? '', base);
    return url ? [{ element, url, media, printOnly }] : [];
  });
}

/** True for bytes that look like an HTML document: for pages served without a usable type. */
export function looksLikeHtml(bytes: Uint8Array): boolean {
  return (
    readHtml(bytes.subarray(0, 4096)).elements.length > 0 ||
    /<(html|body|div|p|h1)\b/i.test(new TextDecoder().decode(bytes.subarray(0, 4096)))
  );
}
