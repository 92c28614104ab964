import type { ImageSize } from './image-size.ts';

/** Formats that images are written anew in, the lightest first: a browser takes the first that it knows. */
export const LIGHTER_FORMATS = ['avif', 'webp'] as const;
export type LighterFormat = (typeof LIGHTER_FORMATS)[number];

/** An image's file written anew, at one width. */
export interface LighterVersion extends ImageSize {
  format: LighterFormat;
  /** Where its bytes are, as a capture's bodies are (SHA-256, hex). */
  bodyHash: string;
  bytes: number;
}

/** What an image takes on screen at one width of the viewport, CSS px. */
export interface ImageNeed {
  viewportWidth: number;
  /** How wide its picture is drawn, what is cut off included. */
  width: number;
}

/** A file that markup chooses from; without bytes where it was not captured. */
export interface FileOfSet {
  /** Its own, px; where it was not captured, what the markup says. */
  width: number;
  /** How many pixels it has to a CSS pixel, where the markup chooses by that. */
  density?: number;
  bytes: number | null;
}

/** An image's file, and lighter ones in its place. */
export interface LighterImage {
  /** The address of the file that they are of. */
  url: string;
  /** The hash of that file. */
  of: string;
  bytes: number;
  size: ImageSize;
  /** Where it is shown, at each width that was looked at; none where it is shown nowhere. */
  needs: ImageNeed[];
  /** How wide it is drawn goes by its file, as no style and no attribute says it. */
  sizedByFile: boolean;
  /**
   * Where the markup chooses between files by their widths or densities: all of them, the narrowest first. Versions are of
   * those that were captured, each of its own file; by widths, what is needed is what `sizes` says.
   */
  set?: FileOfSet[];
  /**
   * It stands behind elements: of its versions two are used, on narrow screens and on all others; where an element's own
   * style names it, one for all, as nothing there can say which.
   */
  behind?: 'by sheets' | 'by elements';
  /** Of each format from the narrowest to the widest that is lighter; for wider screens there is the file itself. */
  versions: LighterVersion[];
  /** Of each format the quality that was chosen, and how like the original it is then (SSIM, at most 1). */
  chosen: { format: LighterFormat; quality: number; likeness: number }[];
}

/** Why an image's file stays as it is. */
export type StaysReason = 'small' | 'drawing' | 'animated' | 'not shown' | 'unreadable' | 'not lighter';

/** What came of making a page's images lighter. */
export interface LighterImages {
  /** ISO 8601. */
  takenAt: string;
  images: LighterImage[];
  stay: { url: string; why: StaysReason }[];
}

/** The attribute of a `<picture>` that treating put around an image. */
export const LIGHTER_MARK = 'data-lighter';

/** Pixels beyond two to a CSS pixel are hardly seen, and cost as much as all others. */
const MOST_DENSITY = 2;
/** From one width to the next one at least this much: below it a version of its own saves next to nothing. */
const STEP = 1.4;
const MOST_WIDTHS = 6;
/** So much further a width may be taken for a height that is nearly whole, and so many pixels at least: a small file has few widths. */
const ROUNDER = 1.03;
const ROUNDER_PX = 64;
/** A height is whole where what is missing moves nothing by a browser's least step, 1/64 of a pixel. */
const WHOLE_PX = 0.012;

/**
 * The widths at which versions of an image are made, px, ascending: from what its narrowest place takes to what its widest
 * takes on a screen of two pixels to a CSS pixel, never beyond the file's own.
 */
export function versionWidths(size: ImageSize, needs: readonly ImageNeed[]): number[] {
  const widths = needs.map((one) => one.width).filter((one) => one > 0);
  if (widths.length === 0) return [];
  const most = Math.min(size.width, Math.ceil(Math.max(...widths) * MOST_DENSITY));
  const least = Math.min(most, Math.ceil(Math.min(...widths)));
  const found = [most];
  while (found.length < MOST_WIDTHS && found[0]! / STEP > least) found.unshift(Math.round(found[0]! / STEP));
  if (found.length < MOST_WIDTHS && found[0]! / least > 1.15) found.unshift(least);
  return [...new Set(found.map((width) => roundest(size, width)))].sort((a, b) => a - b);
}

/**
 * The first width from here on at which the height is a whole number, or the one at which it is nearest to one: a file of
 * another shape moves what stands below it, and text by a whole pixel of the screen.
 */
function roundest(size: ImageSize, from: number): number {
  const off = (width: number) => {
    const height = (width * size.height) / size.width;
    return Math.abs(Math.round(height) - height);
  };
  const most = Math.min(size.width, Math.max(from * ROUNDER, from + ROUNDER_PX));
  let best = from;
  for (let width = from; width <= most && off(best) > WHOLE_PX; width++)
    if (off(width) < off(best)) best = width;
  return best;
}

/** Screens from here on have more pixels to a CSS pixel than are worth a larger file; phones do. */
const DENSE = '(min-resolution: 2.5dppx)';
/** What they are told in the place of a width: of three pixels to a CSS pixel they then take a file for two. */
const DENSE_SHARE = MOST_DENSITY / 3;

/**
 * What a `sizes` attribute says of an image (HTML, "sizes"). Between two widths that were looked at it says the greater
 * share of both, as what happens in between is not known: a file may be larger than need be, and not smaller. Screens of
 * three pixels to a CSS pixel are told two thirds of it.
 *
 * @example
 * sizesOf([{ viewportWidth: 390, width: 360 }, { viewportWidth: 1440, width: 360 }]);
 * // '(max-width: 390px) and (min-resolution: 2.5dppx) 62vw, (max-width: 390px) 93vw, (min-resolution: 2.5dppx) 240px, 360px'
 */
export function sizesOf(needs: readonly ImageNeed[]): string {
  const shown = [...needs].sort((a, b) => a.viewportWidth - b.viewportWidth);
  const parts = shown.map((one, index) => {
    const before = shown[index - 1] ?? one;
    const [text, dense] = [sizeBetween(before, one, 1), sizeBetween(before, one, DENSE_SHARE)];
    return { upTo: one.viewportWidth, text, dense };
  });
  const last = parts.at(-1);
  if (!last) return '100vw';
  // Of two neighbours that say the same, the wider one says it for both.
  const isSame = (one: (typeof parts)[number], other = one) =>
    one.text === other.text && one.dense === other.dense;
  const told = parts.filter((one, index) => !parts[index + 1] || !isSame(one, parts[index + 1]));
  return told
    .map(({ upTo, text, dense }, index) =>
      index === told.length - 1
        ? `${DENSE} ${dense}, ${text}`
        : `(max-width: ${upTo}px) and ${DENSE} ${dense}, (max-width: ${upTo}px) ${text}`,
    )
    .join(', ');
}

/** @param share of what is needed */
function sizeBetween(one: ImageNeed, other: ImageNeed, share: number): string {
  const fixed = one !== other && Math.abs(one.width - other.width) <= 1;
  if (fixed) return `${Math.ceil(Math.max(one.width, other.width) * share)}px`;
  const widest = Math.max(...[one, other].map(({ width, viewportWidth }) => width / viewportWidth));
  return `${Math.ceil(widest * share * 100)}vw`;
}

/** The screens that savings are told of: how wide, CSS px, and how many pixels there are to a CSS pixel. */
export const PHONE = { width: 390, density: 3 } as const;
export const LAPTOP = { width: 1_440, density: 1 } as const;

/** Whether screens that are wide and sharp enough are to have the file itself, as no version for them is lighter. */
export function needsFileItself({ size, needs, versions }: LighterImage, format: LighterFormat): boolean {
  const widest = versionWidths(size, needs).at(-1) ?? 0;
  const last = versions.filter((one) => one.format === format).at(-1);
  return last === undefined || last.width < widest;
}

/** Up to this width of the viewport a screen is narrow: what stands behind elements is another file there, CSS px. */
export const NARROW_UP_TO = 820;

/** Of what stands behind elements the version for all screens, and that for narrow ones; null where there is none that is lighter. */
export function behindVersions(
  image: LighterImage,
  format: LighterFormat,
): { wide: LighterVersion | null; narrow: LighterVersion | null } {
  const versions = image.versions.filter((one) => one.format === format);
  const wide = needsFileItself(image, format) ? null : (versions.at(-1) ?? null);
  const needs = image.needs.filter((one) => one.viewportWidth <= NARROW_UP_TO).map((one) => one.width);
  const enough = Math.max(0, ...needs) * MOST_DENSITY;
  const narrow = enough > 0 ? (versions.find((one) => one.width >= enough) ?? null) : null;
  return { wide, narrow: narrow === wide || image.behind === 'by elements' ? null : narrow };
}

/** The bytes that an image takes on a screen, with the version that a browser takes there. @param density pixels to a CSS pixel */
export function bytesOn(image: LighterImage, viewportWidth: number, density: number): number {
  const [format] = formatsOf(image);
  if (image.behind && format) {
    const { wide, narrow } = behindVersions(image, format);
    return ((viewportWidth <= NARROW_UP_TO ? narrow : null) ?? wide)?.bytes ?? image.bytes;
  }
  const versions = image.versions.filter((one) => one.format === format);
  if (image.set) {
    const chosen = chosenOn(image, viewportWidth, density)?.width;
    return versions.find((one) => one.width === chosen)?.bytes ?? bytesNow(image, viewportWidth, density);
  }
  const width = widthOn(image, viewportWidth);
  const enough = versions.find((one) => one.width >= width * Math.min(density, MOST_DENSITY));
  if (enough || !format || needsFileItself(image, format)) return enough?.bytes ?? image.bytes;
  return versions.at(-1)!.bytes;
}

/** The bytes that an image takes there as it is: where the markup chooses between files, those of the one that it has for it. */
export function bytesNow(image: LighterImage, viewportWidth: number, density: number): number {
  return chosenOn(image, viewportWidth, density)?.bytes ?? image.bytes;
}

/** The file of a set for a screen: browsers may take one that is a little narrower. */
function chosenOn(image: LighterImage, viewportWidth: number, density: number): FileOfSet | null {
  const byDensity = image.set?.filter((one) => one.density !== undefined) ?? [];
  if (byDensity.length) return byDensity.find((one) => one.density! >= density) ?? byDensity.at(-1)!;
  const width = widthOn(image, viewportWidth) * density;
  return image.set?.find((one) => one.width >= width) ?? image.set?.at(-1) ?? null;
}

/** How wide it is shown on a screen, CSS px. */
function widthOn({ needs, size }: LighterImage, viewportWidth: number): number {
  const shown = [...needs].sort((a, b) => a.viewportWidth - b.viewportWidth);
  const need = shown.find((one) => one.viewportWidth >= viewportWidth) ?? shown.at(-1);
  return need?.width ?? size.width;
}

/** The formats that there are of an image, the lightest first. */
export function formatsOf({ versions }: Pick<LighterImage, 'versions'>): LighterFormat[] {
  return LIGHTER_FORMATS.filter((format) => versions.some((one) => one.format === format));
}
