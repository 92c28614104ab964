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
  /** The files that its own markup chooses from, as written; null where it names one alone, or browsers choose by more than this. */
  set: FileSet | null;
}

/** The files of a `srcset`: by how wide each is, px, or by how many pixels it has to a CSS pixel. */
export interface FileSet {
  by: 'width' | 'density';
  files: readonly { url: string; says: number }[];
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
    if (element.tag === 'source') sources.push(...addressesIn(srcset));
    if (element.tag !== 'img') continue;
    const written = [...(src === undefined ? [] : [src]), ...addressesIn(srcset), ...sources];
    const urls = [...new Set(written.flatMap((one) => resolve(one, base) ?? []))];
    const chooses = srcset !== '' || sources.length > 0;
    const set = sources.length ? null : setIn(srcset, src, base);
    if (urls.length) pictures.push({ element, urls, chooses, set });
    sources = [];
  }
  return pictures;
}

/** The files of a `srcset` that names each in the same way; null for any other. */
function setIn(srcset: string, src: string | undefined, base: string): FileSet | null {
  return widthsIn(srcset, base) ?? densitiesIn(srcset, src, base);
}

function widthsIn(srcset: string, base: string): FileSet | null {
  const files = candidatesOf(srcset).map(({ address, descriptors }) => {
    const [, width] = /^(\d{1,5})w$/.exec(descriptors) ?? [];
    const url = resolve(address, base);
    return width === undefined || url === null ? null : { url, says: Number(width) };
  });
  return files.length && files.every((one) => one !== null) ? { by: 'width', files } : null;
}

/** Where none is for screens of one pixel to a CSS pixel, the file of `src` is (HTML, "update the source set"). */
function densitiesIn(srcset: string, src: string | undefined, base: string): FileSet | null {
  const candidates = candidatesOf(srcset);
  if (candidates.length === 0) return null;
  const files = candidates.map(({ address, descriptors }) => {
    const [, density = descriptors === '' ? '1' : undefined] =
      /^(\d{1,2}(?:\.\d{1,3})?)x$/.exec(descriptors) ?? [];
    const url = resolve(address, base);
    return density === undefined || url === null ? null : { url, says: Number(density) };
  });
  if (!files.every((one) => one !== null)) return null;
  const own = src === undefined || files.some((one) => one.says === 1) ? null : resolve(src, base);
  return { by: 'density', files: own === null ? files : [{ url: own, says: 1 }, ...files] };
}

/** The addresses that a `srcset` names, as written. */
export function addressesIn(srcset: string): string[] {
  return candidatesOf(srcset).map(({ address }) => address);
}

/**
 * The candidates of a `srcset` (HTML: parse a srcset attribute). By hand: of the known packages one writes to the console
 * what it cannot read, and another loses addresses of one letter.
 */
function candidatesOf(srcset: string): { address: string; descriptors: string }[] {
  const found: { address: string; descriptors: string }[] = [];
  for (let rest = srcset; (rest = rest.replace(/^[\s,]+/, ''));) {
    const written = /^\S+/.exec(rest)![0];
    rest = rest.slice(written.length);
    // A comma at the end of the address ends the candidate; otherwise its descriptors go up to the next one.
    const descriptors = written.endsWith(',') ? '' : /^[^,]*/.exec(rest)![0];
    found.push({ address: written.replace(/,+$/, ''), descriptors: descriptors.trim() });
    rest = rest.slice(descriptors.length);
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
