import type { HtmlElement } from '../../html/document.ts';
import { policyRefusal } from '../policy.ts';
import { NO_SETTINGS, type Treatment } from '../treatment.ts';

/** Marks images whose size in the markup is ours. */
const MARK = 'data-room';

/**
 * An image's width and height count as its style (HTML, "maps to the dimension properties"), weaker than any of the
 * page's own. Where none of those sets a height, one that is narrowed would be out of shape: this gives the height back,
 * in a layer that is weaker than all the page has, unlayered or not (CSS Cascade 5, section 6.4).
 */
const KEEPS_SHAPE = `@layer wistrel-room{:where(img[${MARK}]){height:auto}}`;

/** Its room is kept from the beginning: what stands below does not jump when it comes. */
export const imageRoom: Treatment<'image'> = {
  id: 'room',
  kind: 'image',
  label: 'room kept',
  risk: { level: 'low', why: 'the room is of the file’s own shape' },
  settings: NO_SETTINGS,
  isFor: ({ elements, size }) => size !== null && elements.some(saysNoSize),
  refuses: ({ heightSetBy }, { page }) =>
    heightSetBy === null ? policyRefusal(page, [['style']]) : { code: 'height-set', by: heightSetBy },
  contributes: ({ elements, size }) => ({
    headStyles: [{ text: KEEPS_SHAPE, title: 'What keeps images in shape whose size is in the markup' }],
    elements: elements.filter(saysNoSize).map((element) => ({
      element,
      attributes: { width: String(size!.width), height: String(size!.height), [MARK]: '' },
    })),
  }),
};

/** One that says its width alone has its height from the file, in proportion to that. */
export function saysNoSize({ attributes }: HtmlElement): boolean {
  return attributes['width'] === undefined && attributes['height'] === undefined;
}

/** Whether an image's markup says its size (HTML: what width and height are mapped to). */
export function keepsRoom({ attributes }: HtmlElement): boolean {
  return attributes['width'] !== undefined && attributes['height'] !== undefined;
}
