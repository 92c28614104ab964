import { imageSize } from 'image-size';
import { behindOf } from './behind.ts';
import { picturesOf, type FileSet, type PictureElement } from '../html/assets.ts';
import type { HtmlElement } from '../html/document.ts';
import type { ImageSize } from './image-size.ts';
import type { SaidBy } from './image-places.ts';
import type { LighterImage } from './lighter.ts';
import { setHeights } from './set-heights.ts';
import { toldByPlace } from './told-by-place.ts';
import type { CapturedPage } from '../page/captured-page.ts';

/** A file that `<img>` elements of a page show, or that stands behind others on its first screen. */
export interface PageImage {
  url: string;
  /** None where it stands behind others. */
  elements: readonly HtmlElement[];
  /** Whether styles name it on screens of any sort, or only on some; null where elements of its own show it. */
  behind: 'always' | 'sometimes' | null;
  /** All files that its elements may show: on another screen it is another one. */
  urls: readonly string[];
  /** Whether it stood on the first screen when the page was captured; null where it stood nowhere, or nobody looked. */
  aboveFold: boolean | null;
  /** Whether it was the largest contentful paint then. */
  isLargest: boolean;
  /** The file's own, as a browser shows it; null where it has none, or shows another one elsewhere. */
  size: ImageSize | null;
  /** The style of the page that may set the height of one of its elements; null for none. */
  heightSetBy: SaidBy | null;
  /** The style that goes by what stands right around one of its elements, or beside it; null for none. */
  placeToldBy: SaidBy | null;
  /** Whether the markup of one of its elements chooses between files already. */
  choosesFile: boolean;
  /** The files that all of its elements choose from; null where they name one alone, or choose in any other way. */
  set: ChosenSet | null;
  /** Lighter versions of its file; null where none were made. */
  lighter: LighterImage | null;
}

/** Files that markup chooses from, each with its own width, px; null where that is not known. */
export interface ChosenSet {
  by: FileSet['by'];
  files: readonly { url: string; says: number; width: number | null }[];
}

/**
 * The files that images of a page show, in the order of their first elements, then those behind its first screen. What
 * the capture does not hold is not told.
 */
export function readImages(page: CapturedPage): PageImage[] {
  const { boxes, imagesBelow, backgrounds, lcp } = page.capture.observations;
  const above = new Set(boxes.flatMap((box) => (box.tag === 'img' && box.url ? [box.url] : [])));
  const below = new Set(imagesBelow);
  const others = new Set(page.capture.otherFiles);
  const heights = setHeights(page);
  const lighter = page.capture.lighter?.images ?? [];
  // Only who may put something around an image asks for it.
  const places = lighter.length ? toldByPlace(page) : null;
  const images = new Map<string, PageImage>();
  for (const picture of picturesOf(page.document, page.url)) {
    const { element, urls, chooses } = picture;
    const held = urls.filter((one) => page.exchange(one) !== null);
    const url =
      held.find((one) => above.has(one)) ??
      held.find((one) => below.has(one)) ??
      held.find((one) => !others.has(one)) ??
      held[0];
    if (url === undefined) continue;
    const known = images.get(url);
    images.set(url, {
      url,
      behind: null,
      elements: [...(known?.elements ?? []), element],
      urls: [...new Set([...(known?.urls ?? []), ...urls])],
      aboveFold: above.has(url) ? true : below.has(url) ? false : null,
      isLargest: lcp?.url === url,
      heightSetBy: known?.heightSetBy ?? heights.get(element.contentStart) ?? null,
      placeToldBy: known?.placeToldBy ?? places?.get(element.contentStart) ?? null,
      choosesFile: (known?.choosesFile ?? false) || chooses,
      set: setOf(page, url, picture, known),
      lighter: lighter.find((one) => one.url === url) ?? null,
      size: known && !known.size ? null : urls.length > 1 ? null : sizeOf(page, url),
    });
  }
  for (const { url } of backgrounds) {
    const behind = images.has(url) || !page.exchange(url) ? null : behindOf(page, url);
    if (!behind) continue;
    const isLargest = lcp?.url === url;
    images.set(url, {
      url,
      behind,
      elements: [],
      urls: [url],
      aboveFold: true,
      isLargest,
      ...NO_ROOM,
      lighter: lighter.find((one) => one.url === url) ?? null,
    });
  }
  return [...images.values()];
}

const NO_ROOM = { size: null, heightSetBy: null, placeToldBy: null, choosesFile: false, set: null };

function setOf(
  page: CapturedPage,
  url: string,
  { set, element }: PictureElement,
  known: PageImage | undefined,
): ChosenSet | null {
  // By how wide it is laid out (HTML, "sizes": auto), which nobody has looked at.
  if (!set || /^\s*auto\b/i.test(element.attributes['sizes'] ?? '')) return null;
  const files = set.files.map((file) => ({ ...file, width: widthOf(page, set.by, file) }));
  const own = files.find((one) => one.url === url)?.width ?? null;
  if (own === null || sizeOf(page, url)?.width !== own) return null;
  // A version is known by its width.
  const widths = files.flatMap(({ width }) => width ?? []);
  if (set.by === 'density' && new Set(widths).size < widths.length) return null;
  const chosen = { by: set.by, files };
  return known && !isSameSet(known.set, chosen) ? null : chosen;
}

function widthOf(page: CapturedPage, by: FileSet['by'], file: FileSet['files'][number]): number | null {
  return by === 'width' ? file.says : (sizeOf(page, file.url)?.width ?? null);
}

function isSameSet(one: ChosenSet | null, other: ChosenSet): boolean {
  const text = ({ by, files }: ChosenSet) => files.map(({ url, says }) => `${url} ${says} ${by}`).join();
  return one !== null && text(one) === text(other);
}

/** Those whose size is the file's own pixels: a drawing's depends on where it stands. */
const HAS_PIXELS = /^image\/(png|jpe?g|gif|webp|avif)$/i;
/** Sizes stand at a file's beginning, behind what a camera has noted. */
const MOST_BYTES = 512 * 1_024;
/** From this one on a browser turns it by a right angle (Exif 2.3, "Orientation"). */
const FIRST_TURNED = 5;

/** A file's own size as a browser shows it; null where it has no pixels, or is damaged. */
export function sizeOf(page: CapturedPage, url: string): ImageSize | null {
  const body = HAS_PIXELS.test(page.exchange(url)?.mimeType ?? '') ? page.body(url) : null;
  if (!body) return null;
  try {
    const { width, height, orientation = 1 } = imageSize(body.subarray(0, MOST_BYTES));
    if (!(width > 0 && height > 0)) return null;
    return orientation >= FIRST_TURNED ? { width: height, height: width } : { width, height };
  } catch {
    // Not what its type says, or damaged: a browser shows none either.
    return null;
  }
}
