import { parseSheet } from '../css/parse-sheet.ts';
import { resolve } from '../html/assets.ts';
import type { HtmlElement } from '../html/document.ts';
import { withBehindFiles, type BehindFile } from '../images/behind-files.ts';
import type { PageAssets } from '../page/page-assets.ts';
import { addressIn } from './new-files.ts';

/** Tags that rules of their own are about. */
const OTHERS = /^(script|link|style|img|source|iframe|meta|base|noscript)$/;

/**
 * An element's style attribute with other files beside those that it puts behind it, for screens of any width: an attribute
 * knows no other.
 *
 * @returns null where none can stand there
 */
export function styleBeside(
  page: PageAssets,
  { tag, attributes: { style = '' } }: HtmlElement,
  files: ReadonlyMap<string, BehindFile>,
): string | null {
  const { baseUrl } = page.captured;
  const css = `a{${style}}`;
  const [rule, ...more] = parseSheet(css, '').nodes;
  if (OTHERS.test(tag) || more.length || rule?.type !== 'rule') return null;
  if (rule.nodes.some((one) => one.type !== 'decl')) return null;
  const addresses = {
    read: (address: string) => resolve(address, baseUrl),
    write: (url: string) => addressIn(page, url),
  };
  const beside = withBehindFiles(css, addresses, files);
  return beside.changes.length ? beside.css.slice(2, -1) : null;
}
