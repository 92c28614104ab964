import type { HtmlElement } from '../html/document.ts';
import { attributeValue } from '../html/markup.ts';
import { hostOf } from '../path/names.ts';

/** Marks the link that stands in for an embed, in the document that its frame shows until that is pressed. */
export const STAND_IN_MARK = 'data-stand-in';

const STYLE =
  'html,body{height:100%;margin:0}a{box-sizing:border-box;position:relative;display:flex;flex-direction:column;align-items:center;justify-content:center;height:100%;padding:8px;overflow:hidden;text-align:center;font:16px/1.4 system-ui,sans-serif;color:#16222b;background:#e9eef0;border:1px solid #7d8d98;text-decoration:none}a:focus-visible{outline:3px solid #16222b;outline-offset:-6px}b{text-decoration:underline}b,span{display:block}';
/** What does not fit is cut off where texts end. The name lies at the foot of the picture, on a ground of its own: it is read whatever that shows, and hides little of it. */
const PICTURE_STYLE =
  'a{align-items:flex-start;justify-content:flex-end;text-align:start}img{position:absolute;inset:0;width:100%;height:100%;object-fit:cover;object-position:0 0}div{position:relative;padding:6px 14px;background:#e9eef0;border:1px solid #7d8d98}';

/** What goes into the document besides the embed's own. */
export interface StandInParts {
  /** The nonce that the page's policies ask of a style; null for none. */
  styleNonce: string | null;
  /** Whether those let an attribute run something. */
  handler: boolean;
  /** The address of a picture of the embed, as the page writes it; null without one. */
  picture: string | null;
}

/**
 * The document that a frame shows in an embed's place (HTML: `srcdoc`), until whoever wants to see it follows the one
 * link that is in it, by a press, a finger or a key: the same frame then shows the embed itself. The frame keeps its
 * room, its id and all it has. With scripts, *back* leads away from the page, as it does beside an embed that came by
 * itself; without them, to the stand-in first.
 *
 * @param name what the page calls the embed; its host where it calls it nothing
 * @param parts what the page's policies, which hold for the frame's document too, let be written into it
 */
export function standInDocument(
  { attributes }: HtmlElement,
  name: string | null,
  url: string,
  { styleNonce, handler, picture }: StandInParts,
): string {
  const host = hostOf(url);
  const nonce = styleNonce === null ? '' : ` nonce="${attributeValue(styleNonce)}"`;
  const runs = handler ? ' onclick="location.replace(this.href);return false"' : '';
  const shown = picture === null ? '' : `<img src="${attributeValue(picture)}" alt="" loading="lazy">`;
  const href = attributeValue(attributes['src']!.trim());
  const policy = attributes['referrerpolicy'];
  const referrer = policy ? `<meta name="referrer" content="${attributeValue(policy)}">` : '';
  const words = name === null ? '' : `<b>${text(name)}</b>`;
  const where = name === null ? `<b>${text(host)}</b>` : `<span>${text(host)}</span>`;
  return `<!doctype html>${referrer}<title>${text(name ?? host)}</title><style${nonce}>${STYLE}${picture === null ? '' : PICTURE_STYLE}</style><a ${STAND_IN_MARK} href="${href}"${runs}>${shown}<div>${words}${where}</div></a>`;
}

function text(value: string): string {
  return value.replaceAll('&', '&amp;').replaceAll('<', '&lt;');
}
