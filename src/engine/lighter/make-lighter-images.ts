import type { ImageNeed, LighterImages } from '../../core/images/lighter.ts';
import type { HtmlElement } from '../../core/html/document.ts';
import { styledWith } from '../../core/images/behind.ts';
import { drawnBehind } from '../../core/images/drawn-behind.ts';
import type { ImageSize } from '../../core/images/image-size.ts';
import { readImages, sizeOf, type ChosenSet, type PageImage } from '../../core/images/page-images.ts';
import type { Bodies, Capture } from '../../core/measure/exchange.ts';
import type { CapturedPage } from '../../core/page/captured-page.ts';
import type { VisitState } from '../../core/measure/visit.ts';
import type { BackgroundBox } from '../../in-page/background-boxes.ts';
import type { ImageBox } from '../../in-page/image-boxes.ts';
import { AS_AUTHORED, FoldStage, resizeTo } from '../fold/fold-stage.ts';
import { encodeVersions, type ShownImage } from './encode-versions.ts';

/** What lighter images are made from. */
export interface LighterRequest {
  capture: Capture;
  bodies: Bodies;
  state: VisitState | null;
  onProgress?: (step: string, done: number, of: number) => void;
  signal?: AbortSignal;
}

/** Lighter images with the bytes of their versions. */
export interface MadeLighterImages {
  lighter: LighterImages;
  bodies: Map<string, Uint8Array>;
}

/** Widths at which it is looked how wide images are, each line on one load: those of a phone, then the others. CSS px. */
const LOOKED_AT: readonly (readonly { width: number; height: number }[])[] = [
  [
    { width: 390, height: 844 },
    { width: 600, height: 960 },
  ],
  [
    { width: 820, height: 1180 },
    { width: 1100, height: 800 },
    { width: 1440, height: 900 },
    { width: 1920, height: 1080 },
  ],
];
const WIDTHS = LOOKED_AT.flat().length;
/** Of a smaller one there is nothing to be saved. */
const LEAST_BYTES = 4_096;

/** Makes lighter versions of the files that a page's images show, each as wide as it is shown. */
export async function makeLighterImages(request: LighterRequest): Promise<MadeLighterImages> {
  const { capture, bodies, state, onProgress, signal } = request;
  const stage = await FoldStage.open(capture, bodies, state, signal);
  let images: readonly PageImage[];
  let boxes: BoxesAt[];
  try {
    images = readImages(stage.page);
    const of = WIDTHS + images.length;
    boxes = images.length ? await boxesOn(stage, images, (step, done) => onProgress?.(step, done, of)) : [];
  } finally {
    await stage.close();
  }
  const takenAt = new Date().toISOString();
  const made: MadeLighterImages = { lighter: { takenAt, images: [], stay: [] }, bodies: new Map() };
  for (const [index, image] of images.entries()) {
    const { url, behind } = image;
    signal?.throwIfAborted();
    const name = `Image ${index + 1} of ${images.length}`;
    onProgress?.(name, WIDTHS + index, WIDTHS + images.length);
    const original = stage.page.body(url)!;
    const shown =
      behind === null ? shownIn(stage.page, image, boxes) : shownBehind(url, boxes, sizeOf(stage.page, url));
    const came = original.length < LEAST_BYTES ? 'small' : await encodeVersions(original, shown, signal);
    if (typeof came === 'string') made.lighter.stay.push({ url, why: came });
    else {
      const of = stage.page.exchange(url)!.bodyHash!;
      const where = behind === null ? {} : { behind: namedBy(stage.page, url) };
      made.lighter.images.push({ url, of, ...came.image, ...where });
      for (const [hash, bytes] of came.bodies) made.bodies.set(hash, bytes);
    }
  }
  return made;
}

function namedBy(page: CapturedPage, url: string): 'by sheets' | 'by elements' {
  return styledWith(page, url).length ? 'by elements' : 'by sheets';
}

/** The images of a page at a width of the viewport. */
interface BoxesAt {
  viewportWidth: number;
  boxes: readonly ImageBox[];
  backgrounds: readonly BackgroundBox[];
  /** How wide images are by their `sizes`. */
  slots: ReadonlyMap<string, number>;
}

async function boxesOn(
  stage: FoldStage,
  images: readonly PageImage[],
  say: (step: string, done: number) => void,
): Promise<BoxesAt[]> {
  const found: BoxesAt[] = [];
  const chosen = images.filter(({ set }) => set?.by === 'width');
  const sizes = [...new Set(chosen.flatMap(({ elements }) => elements.map(sizesIn)))];
  for (const [first, ...wider] of LOOKED_AT)
    await stage.visit(AS_AUTHORED, first!, async (visit) => {
      // What comes late has its size once it is there.
      await visit.inPage.call('scrollThrough');
      for (const viewport of [first!, ...wider]) {
        say(`How wide images are at ${viewport.width} px`, found.length);
        if (viewport !== first) await resizeTo(visit, viewport);
        const boxes = await visit.inPage.call('imageBoxes');
        const backgrounds = await visit.inPage.call('backgroundBoxes');
        const widths = await visit.inPage.call('slotWidths', sizes);
        const slots = new Map(sizes.map((one, index) => [one, widths[index]!]));
        found.push({ viewportWidth: viewport.width, boxes, backgrounds, slots });
      }
    });
  return found;
}

/** The same of a file that stands behind elements: how large it is there goes by its own size too. */
function shownBehind(url: string, all: readonly BoxesAt[], size: ImageSize | null): ShownImage {
  if (!size) return { needs: [], sizedByFile: false, set: null };
  const needs = all.flatMap(({ viewportWidth, backgrounds }): ImageNeed[] => {
    const own = backgrounds.filter((one) => one.url === url);
    const width = Math.max(0, ...own.map((one) => drawnBehind(one.size, one.box, size)));
    return width > 0 ? [{ viewportWidth, width: Math.round(width * 10) / 10 }] : [];
  });
  return { needs, sizedByFile: false, set: null };
}

/** Where a file is shown: at each width the widest place. Where it is not shown at one, the others say it. */
function shownIn(page: CapturedPage, image: PageImage, all: readonly BoxesAt[]): ShownImage {
  const { url, set } = image;
  if (set?.by === 'width') return { needs: slotsOf(image, all), sizedByFile: false, set: setOf(page, set) };
  // On the screens that are looked at it may be another one of its set.
  const urls = set ? set.files.map((one) => one.url) : [url];
  const needs = all.flatMap(({ viewportWidth, boxes }): ImageNeed[] => {
    const width = Math.max(0, ...boxes.filter((one) => urls.includes(one.url)).map((one) => one.width));
    return width > 0 ? [{ viewportWidth, width: Math.round(width * 10) / 10 }] : [];
  });
  if (set) return { needs, sizedByFile: false, set: setOf(page, set) };
  const own = all.flatMap(({ boxes }) => boxes.filter((one) => one.url === url));
  return { needs, sizedByFile: own.some((one) => one.sizedByFile), set: null };
}

/** Of the files that were captured only those that are as wide as they say. */
function setOf(page: CapturedPage, { by, files }: ChosenSet): ShownImage['set'] {
  const held = files.filter(({ url, width }) => page.exchange(url) && sizeOf(page, url)?.width === width);
  const [first] = held;
  const told = files.map(({ url, says, width }) => {
    const bytes = page.body(url)?.length ?? null;
    if (by === 'width') return { width: says, bytes };
    return { width: width ?? Math.round((first!.width! / first!.says) * says), density: says, bytes };
  });
  told.sort((a, b) => (by === 'width' ? a.width - b.width : a.density! - b.density!));
  return { files: told, held: held.map(({ url }) => page.body(url)!) };
}

/** What `sizes` says of its elements; where it says nothing, they are as wide as the viewport (HTML, "sizes"). */
function slotsOf({ elements }: PageImage, all: readonly BoxesAt[]): ImageNeed[] {
  return all.flatMap(({ viewportWidth, slots }): ImageNeed[] => {
    const width = Math.max(0, ...elements.map((one) => slots.get(sizesIn(one)) ?? 0));
    return width > 0 ? [{ viewportWidth, width }] : [];
  });
}

function sizesIn({ attributes }: HtmlElement): string {
  return attributes['sizes'] ?? '';
}
