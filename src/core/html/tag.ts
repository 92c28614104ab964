import type { Edit, HtmlDocument, HtmlElement } from './document.ts';
import { attributeValue, markupIn } from './markup.ts';

/**
 * Changes of a start tag's attributes, each where it stands: all else of the tag stays byte for byte.
 *
 * @param changes values by name; '' for an attribute without a value, null for one to be taken away
 */
export function attributeEdits(
  { bytes, encoding }: Pick<HtmlDocument, 'bytes' | 'encoding'>,
  element: HtmlElement,
  changes: Readonly<Record<string, string | null>>,
): Edit[] {
  const edits: Edit[] = [];
  let added = '';
  for (const [name, value] of Object.entries(changes)) {
    const span = element.attributeSpans[name];
    if (value !== null) {
      const written = markupIn(encoding, value === '' ? name : `${name}="${attributeValue(value)}"`);
      if (span) edits.push({ ...span, text: written });
      else added += ` ${written}`;
    } else if (span) {
      const spaced = SPACES.has(bytes[span.start - 1]!);
      edits.push({ start: span.start - (spaced ? 1 : 0), end: span.end, text: '' });
    }
  }
  if (added) edits.push({ start: element.attributesEnd, end: element.attributesEnd, text: added });
  return edits;
}

const SPACES = new Set([0x20, 0x09, 0x0a, 0x0c, 0x0d]);
