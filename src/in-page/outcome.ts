import type { SeenElement } from '../core/rehearse/outcome.ts';
import { shortName } from './names.ts';

const MOST_ELEMENTS = 4_000;
/** What treatments change themselves, and nobody sees. */
const UNSEEN = /^(script|link|style|meta|title|base|head|noscript|template)$/;

/** The elements of the body, in their order. */
export function seenElements(): SeenElement[] {
  const found: SeenElement[] = [];
  for (const element of document.querySelectorAll('html, body, body *')) {
    if (UNSEEN.test(element.localName)) continue;
    if (found.length >= MOST_ELEMENTS) break;
    const { x, y, width, height } = element.getBoundingClientRect();
    const text = [...element.childNodes]
      .flatMap((node) => (node.nodeType === Node.TEXT_NODE ? [node.nodeValue!.trim()] : []))
      .filter(Boolean)
      .join(' ');
    found.push({
      name: shortName(element),
      attributes: [...element.attributes]
        .map((one) => `${one.name}=${one.value}`)
        .sort()
        .join(' '),
      text: text.slice(0, 200),
      box: width || height ? [round(x + scrollX), round(y + scrollY), round(width), round(height)] : null,
    });
  }
  return found;
}

function round(value: number): number {
  return Math.round(value * 10) / 10;
}
