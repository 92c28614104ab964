import { ident, string, tokenize, tokenTypes } from 'css-tree';

/** How addresses stand in a sheet. */
export interface AddressesOf {
  /** The whole address of one that stands in it; null for none. */
  read: (address: string) => string | null;
  /** How one is written in it. */
  write: (url: string) => string;
}

/** An address in a CSS text. */
export interface UrlPlace {
  /** Unescaped. */
  url: string;
  /** Where what names it begins: its url(), or the string in an image-set(). */
  at: number;
  /** What has to be replaced for another one, and as what. */
  start: number;
  end: number;
  as: 'url' | 'string';
}

/** Every url() of a CSS text, and the strings in its image-set() (CSS Values 4, section 4.5: url() tokens and url functions). */
export function urlPlaces(text: string): UrlPlace[] {
  const found: UrlPlace[] = [];
  let depthOfSet = 0;
  let functions: { name: string; at: number }[] = [];
  /** What stands first in url() is its address; behind it, there are modifiers. */
  let isFirst = false;
  tokenize(text, (type, start, end) => {
    if (type === tokenTypes.WhiteSpace || type === tokenTypes.Comment) return;
    const token = text.slice(start, end);
    const wasFirst = isFirst;
    isFirst = type === tokenTypes.Function;
    if (type === tokenTypes.Url) {
      found.push({ url: unescapeUrl(token), at: start, start, end, as: 'url' });
    } else if (type === tokenTypes.Function) {
      const name = token.slice(0, -1).toLowerCase();
      functions.push({ name, at: start });
      if (/image-set$/.test(name)) depthOfSet++;
    } else if (type === tokenTypes.LeftParenthesis) {
      functions.push({ name: '(', at: start });
    } else if (type === tokenTypes.RightParenthesis) {
      if (/image-set$/.test(functions.at(-1)?.name ?? '')) depthOfSet--;
      functions = functions.slice(0, -1);
    } else if (type === tokenTypes.String) {
      const inner = functions.at(-1);
      const isAddress = wasFirst && (inner?.name === 'url' || inner?.name === 'src');
      if (isAddress) found.push({ url: unquote(token), at: inner.at, start, end, as: 'string' });
      else if (depthOfSet > 0 && /image-set$/.test(inner?.name ?? ''))
        found.push({ url: unquote(token), at: start, start, end, as: 'string' });
    }
  });
  return found;
}

/**
 * Replaces the address in every url() of a CSS text, and in image-set() strings, leaving all else as it is written.
 *
 * @param replace is given the address as written, unescaped, and gives the new one
 */
export function mapUrls(text: string, replace: (url: string) => string): string {
  let out = '';
  let at = 0;
  for (const { url, start, end, as } of urlPlaces(text)) {
    const other = replace(url);
    out += text.slice(at, start) + (as === 'url' ? printUrl(other) : string.encode(other));
    at = end;
  }
  return out + text.slice(at);
}

/** All addresses that a CSS text names in url(), as written. */
export function urlsIn(text: string): string[] {
  return urlPlaces(text).map(({ url }) => url);
}

/** An address against its own sheet, written so that it holds in a document at `documentUrl`. */
export function rebase(url: string, sheetUrl: string, documentUrl: string): string {
  if (/^(data:|#|blob:|about:)/i.test(url) || url === '') return url;
  try {
    const absolute = new URL(url, sheetUrl);
    // A path of two slashes would name a host.
    return absolute.origin === new URL(documentUrl).origin && !absolute.pathname.startsWith('//')
      ? absolute.pathname + absolute.search + absolute.hash
      : absolute.href;
  } catch {
    return url;
  }
}

/** A CSS string or url token without its quotes and escapes. */
export function unquote(token: string): string {
  const body = /^(["']).*\1$/s.test(token) ? token.slice(1, -1) : token;
  return ident.decode(body.replaceAll('\\\n', ''));
}

function unescapeUrl(token: string): string {
  return ident.decode(token.replace(/^url\(\s*/i, '').replace(/\s*\)?$/, ''));
}

function printUrl(url: string): string {
  return /["'()\s\\\p{Cc}]/u.test(url) ? `url(${string.encode(url)})` : `url(${url})`;
}
