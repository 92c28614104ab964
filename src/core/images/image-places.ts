import type { Root } from 'postcss';
import type { StyleElement } from '../html/assets.ts';
import type { ElementPlace, HtmlDocument } from '../html/document.ts';
import type { CapturedPage } from '../page/captured-page.ts';
import { fileNameOf } from '../path/names.ts';

/** The style that says something of an image: its selector, or the stylesheet which cannot be read, and may say it. */
export type SaidBy = { selector: string } | { unread: string };

/** How a stylesheet is told of. */
export function nameOfStyle({ url, element }: StyleElement): string {
  return url === null ? `the style element in line ${element.line}` : fileNameOf(url);
}

/** What a stylesheet of the page says, its imports written out; null where it cannot be read whole. */
export function rootOf(page: CapturedPage, { url, element }: StyleElement): Root | null {
  if (url === null) {
    const root = page.inlineRoot(element);
    return root.nodes.some((node) => node.type === 'atrule' && /^import$/i.test(node.name)) ? null : root;
  }
  const flat = page.sheet(url);
  return flat && flat.problems.length === 0 ? flat.root : null;
}

/** An image of the page's markup, with the elements around it from the outermost in, and those beside it. */
export interface ImagePlace {
  place: ElementPlace;
  outer: readonly ElementPlace[];
  before: readonly ElementPlace[];
  after: readonly ElementPlace[];
}

/** Every image of the page's markup, in document order. */
export function imagesIn({ places }: HtmlDocument): ImagePlace[] {
  const around: { place: ElementPlace; children: ElementPlace[] }[] = [];
  const found: { place: ElementPlace; outer: ElementPlace[]; siblings: ElementPlace[] }[] = [];
  for (const place of places) {
    around.length = Math.min(around.length, place.depth);
    const siblings = around[place.depth - 1]?.children ?? [];
    siblings.push(place);
    if (/^img(?=[#.]|$)/.test(place.name))
      found.push({ place, outer: around.flatMap((one) => one?.place ?? []), siblings });
    around[place.depth] = { place, children: [] };
  }
  return found.map(({ place, outer, siblings }) => {
    const at = siblings.indexOf(place);
    return { place, outer, before: siblings.slice(0, at), after: siblings.slice(at + 1) };
  });
}
