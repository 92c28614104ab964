import type { Box } from '../core/measure/exchange.ts';
import { shortName } from './names.ts';

/** A picture in view, with how much of the screen it takes, CSS px². */
export interface ShownPicture {
  element: string;
  url: string;
  box: Box;
  area: number;
}

/** From this share of the screen on a picture is a ground that all else stands on. */
const WHOLE = 0.95;

/**
 * The picture that takes most of the first screen, one behind the whole of it excepted (Largest Contentful Paint): browsers
 * tell of a picture that they drew with the page's first words now and then, and now and then not.
 */
export function largestPicture(): ShownPicture | null {
  let largest: ShownPicture | null = null;
  for (const element of document.querySelectorAll('body *')) {
    const url = element instanceof HTMLImageElement ? shownFile(element) : coverBehind(element);
    if (!url || !element.checkVisibility({ opacityProperty: true, visibilityProperty: true })) continue;
    const { x, y, width, height } = element.getBoundingClientRect();
    const [wide, high] = [within(x, width, innerWidth), within(y, height, innerHeight)];
    const area = wide * high;
    if (area <= (largest?.area ?? 0) || area > WHOLE * innerWidth * innerHeight) continue;
    largest = {
      element: shortName(element),
      url,
      box: { x: x + scrollX, y: y + scrollY, width, height },
      area,
    };
  }
  return largest;
}

/** A drawn image of its own pixels; scaled up it counts for no more than those, and is left to the browser. */
function shownFile({
  complete,
  naturalWidth,
  naturalHeight,
  currentSrc,
  width,
  height,
}: HTMLImageElement): string | null {
  return complete && naturalWidth >= width && naturalHeight >= height && /^https?:/.test(currentSrc)
    ? currentSrc
    : null;
}

/** The picture that fills an element from behind; drawings and patterns are none. */
function coverBehind(element: Element): string | null {
  const { backgroundImage, backgroundSize } = getComputedStyle(element);
  const url = backgroundSize === 'cover' ? /^url\("(https?:[^"]+)"\)/.exec(backgroundImage)?.[1] : undefined;
  return url && !/\.svg([?#]|$)/i.test(url) && performance.getEntriesByName(url).length > 0 ? url : null;
}

function within(start: number, length: number, end: number): number {
  return Math.max(0, Math.min(end, start + length) - Math.max(0, start));
}
