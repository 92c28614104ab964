import { printSheet } from '../../css/print-sheet.ts';
import type { PageStyle } from '../../page/page-assets.ts';
import { policyRefusal } from '../policy.ts';
import { NO_SETTINGS, type Scene, type Treatment } from '../treatment.ts';

/** Larger ones cost more in every page than a request costs once. */
const MOST_BYTES = 4_096;

/** A small sheet stands in the page whole, its imports written out: it applies where it did, without a request. */
export const inlineSheet: Treatment<'stylesheet'> = {
  id: 'inline',
  kind: 'stylesheet',
  label: 'inline whole',
  risk: { level: 'low', why: 'it comes with the page each time, and no cache keeps it' },
  settings: NO_SETTINGS,
  isFor: (style, scene) => wholeOf(style, scene) !== null,
  refuses: (_style, { page }) => policyRefusal(page, [['style']]),
  contributes(style, scene) {
    const { css, urls } = wholeOf(style, scene)!;
    const { element, media } = style.element;
    return { elements: [{ element, gone: true, styleBefore: { css, media } }], takenOut: urls };
  },
};

/** What the page says of a link besides: a script may look for it by that. */
const SPOKEN_OF = ['id', 'class', 'onload', 'onerror', 'title', 'disabled'];

/** All of a sheet; null where it is too much, was not captured whole, or its link is more than a link. */
export function wholeOf(
  { element: { url, element, printOnly } }: PageStyle,
  { page }: Scene,
): { css: string; urls: string[] } | null {
  if (url === null || printOnly || SPOKEN_OF.some((name) => element.attributes[name] !== undefined))
    return null;
  const text = page.captured.text(url);
  if (text === null || text.length > MOST_BYTES) return null;
  const flat = page.captured.sheet(url);
  if (!flat || flat.problems.length) return null;
  const css = printSheet(flat.root);
  if (new TextEncoder().encode(css).length > MOST_BYTES) return null;
  return { css, urls: flat.parts.map((part) => part.url) };
}
