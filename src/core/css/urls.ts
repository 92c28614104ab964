import { ident, string, tokenize, tokenTypes } from 'css-tree';

/**
 * Replaces the address in every url() of a CSS text, and in image-set() strings, leaving all else as it is
 * written (CSS Values 4, section 4.5: url() tokens and url functions).
 *
 * @param replace is given the address as written, unescaped, and gives the new one
 */
export function mapUrls(text: string, replace: (url: string) => string): string {
  let out = '';
  let at = 0;
  let depthOfSet = 0;
  let functionStack: string[] = [];
  /** What stands first in url() is its address; behind it, there are modifiers. */
  let isFirst = false;
  tokenize(text, (type, start, end) => {
    if (type === tokenTypes.WhiteSpace || type === tokenTypes.Comment) return;
    const token = text.slice(start, end);
    const wasFirst = isFirst;
    isFirst = type === tokenTypes.Function;
    if (type === tokenTypes.Url) {
      out += text.slice(at, start) + printUrl(replace(unescapeUrl(token)));
      at = end;
    } else if (type === tokenTypes.Function) {
      const name = token.slice(0, -1).toLowerCase();
      functionStack.push(name);
      if (/image-set$/.test(name)) depthOfSet++;
    } else if (type === tokenTypes.LeftParenthesis) {
      functionStack.push('(');
    } else if (type === tokenTypes.RightParenthesis) {
      if (/image-set$/.test(functionStack.at(-1) ?? '')) depthOfSet--;
      functionStack = functionStack.slice(0, -1);
    } else if (type === tokenTypes.String) {
      const inner = functionStack.at(-1);
      const isAddress = wasFirst && (inner === 'url' || inner === 'src');
      if (isAddress || (depthOfSet > 0 && /image-set$/.test(inner ?? ''))) {
        out += text.slice(at, start) + string.encode(replace(unquote(token)));
        at = end;
      }
    }
  });
  return out + text.slice(at);
}

/** All addresses that a CSS text names in url(), as written. */
export function urlsIn(text: string): string[] {
  const found: string[] = [];
  mapUrls(text, (url) => {
    found.push(url);
    return url;
  });
  return found;
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
