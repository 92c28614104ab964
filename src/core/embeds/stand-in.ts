import type { HtmlElement } from '../html/document.ts';
import { attributeValue } from '../html/markup.ts';
import { hostOf } from '../path/names.ts';

/** Marks the link that stands in for an embed, in the document that its frame shows until that is pressed. */
export const STAND_IN_MARK = 'data-stand-in';

const STYLE =
  'html,body{height:100%;margin:0}a{box-sizing:border-box;display:flex;flex-direction:column;align-items:center;justify-content:center;height:100%;padding:8px;overflow:hidden;text-align:center;font:16px/1.4 system-ui,sans-serif;color:#16222b;background:#e9eef0;border:1px solid #7d8d98}a:focus-visible{outline:3px solid #16222b;outline-offset:-6px}b{text-decoration:underline}';

/**
 * The document that a frame shows in an embed's place (HTML: `srcdoc`), until whoever wants to see it follows the one
 * link that is in it, by a press, a finger or a key: the same frame then shows the embed itself. The frame keeps its
 * room, its id and all it has. With scripts, *back* leads away from the page, as it does beside an embed that came by
 * itself; without them, to the stand-in first.
 *
 * @param name what the page calls the embed; its host where it calls it nothing
 * @param lets what the page's policies let be written into it: they hold for the frame's document, too
 */
export function standInDocument(
  { attributes }: HtmlElement,
  name: string | null,
  url: string,
  lets: { styleNonce: string | null; handler: boolean },
): string {
  const host = hostOf(url);
  const nonce = lets.styleNonce === null ? '' : ` nonce="${attributeValue(lets.styleNonce)}"`;
  const handler = lets.handler ? ' onclick="location.replace(this.href);return false"' : '';
  const href = attributeValue(attributes['src']!.trim());
  const policy = attributes['referrerpolicy'];
  const referrer = policy ? `<meta name="referrer" content="${attributeValue(policy)}">` : '';
  const words = name === null ? '' : `<b>${text(name)}</b>`;
  const where = name === null ? `<b>${text(host)}</b>` : `<span>${text(host)}</span>`;
  return `<!doctype html>${referrer}<title>${text(name ?? host)}</title><style${nonce}>${STYLE}</style><a ${STAND_IN_MARK} href="${href}"${handler}>${words}${where}</a>`;
}

function text(value: string): string {
  return value.replaceAll('&', '&amp;').replaceAll('<', '&lt;');
}
