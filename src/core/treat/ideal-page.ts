import { rewrite, type Edit } from '../html/document.ts';
import { markupIn, styleElement } from '../html/markup.ts';
import type { CapturedPage } from '../page/captured-page.ts';

const ASKS = new Set(['script', 'link', 'img', 'source', 'iframe', 'noscript', 'base']);
const ASKS_NOTHING = "default-src 'none'; style-src 'unsafe-inline'";
const RULES_THAT_ASK = /@font-face\s*\{[^}]*\}|url\([^)]*\)/g;

/**
 * A page as its floor takes it to be: its HTML with the fold CSS inline, and nothing that it asks for before it paints. It
 * is no page for visitors; it shows how early this page's own words could be on screen.
 */
export function idealPage(
  { document: { bytes, encoding, elements, afterCharset } }: CapturedPage,
  foldCss: string,
): Uint8Array {
  // What else could ask for something (films, pictures behind, attributes) is not let.
  const guard = markupIn(encoding, `<meta http-equiv="content-security-policy" content="${ASKS_NOTHING}">`);
  const css = foldCss.replaceAll(RULES_THAT_ASK, (part) => (part.startsWith('url') ? 'none' : ''));
  const edits: Edit[] = [
    { start: afterCharset, end: afterCharset, text: guard + styleElement(encoding, css, '') },
  ];
  let end = 0;
  for (const element of elements) {
    // What stands in one that goes, goes with it.
    if (!ASKS.has(element.tag) || element.start < end) continue;
    edits.push({ start: element.start, end: element.end, text: '' });
    end = element.end;
  }
  return rewrite(bytes, edits);
}
