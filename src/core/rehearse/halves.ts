import { readHtml, rewrite } from '../html/document.ts';
import { attributeValue } from '../html/markup.ts';

/** On the page's own host, of the name that treating gives its files: what is asked for there is held against nobody. */
const GATE_FILE = '/wistrel/second-half.js';

/** The parser waits for it; then it leaves no trace. */
export const GATE_CODE = 'document.currentScript.remove();';

export function gateUrl(documentUrl: string): string {
  return new URL(GATE_FILE, documentUrl).href;
}

/** These may hold a script as their first child, and no treatment touches them. */
const MAY_HOLD_IT = /^(p|h[1-6]|li|dd|div|section|article|main|header|footer|nav|aside|figure)(?=[.#]|$)/;

/**
 * A page whose parser stops in the middle until a file of ours has arrived, as it does where a slow line has brought
 * only half of the page. The middle is the same in a page as authored and as treated: it is counted in elements that
 * treating leaves alone.
 *
 * @returns null where the page has no such element
 */
export function inHalves(html: Uint8Array, gate: string): Uint8Array | null {
  const places = readHtml(html).places.filter((one) => one.startTagEnd > 0 && MAY_HOLD_IT.test(one.name));
  const middle = places[places.length >> 1];
  if (!middle) return null;
  const text = `<script src="${attributeValue(gate)}"></script>`;
  return rewrite(html, [{ start: middle.startTagEnd, end: middle.startTagEnd, text }]);
}
