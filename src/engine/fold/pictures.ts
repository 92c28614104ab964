import pixelmatch from 'pixelmatch';
import sharp from 'sharp';
import type { Area } from '../../core/fold/record.ts';

export interface PictureComparison {
  /** Share of pixels that differ, 0 to 1. */
  share: number;
  /** Connected differing regions, greatest first; `pixels` is how many differ in it. */
  regions: (Area & { pixels: number })[];
  /** Share of the compared picture that masks cover, and that unsteady areas do. */
  masked: number;
  unsteady: number;
}

/** What of two pictures is compared. */
export interface Compared {
  /** How far down, px. */
  rows?: number;
  /** Areas that the user took out. */
  masks?: readonly Area[];
  /** Areas that are not the same twice. */
  unsteady?: readonly Area[];
  /** Areas whose pictures are held to their boxes instead: canvases, films, moving pictures. */
  free?: readonly Area[];
  /** Areas that show the same pictures in other files: they are blurred on both sides before they are compared. */
  soft?: readonly Area[];
}

/** More regions than these are not told apart. */
export const MOST_REGIONS = 40;
const COLOURS = { threshold: 0.1, includeAA: true };

interface Pixels {
  data: Buffer;
  width: number;
  height: number;
}

/** A picture's pixels, four bytes each. */
async function pixelsOf(picture: Uint8Array, rows = Infinity): Promise<Pixels> {
  const { data, info } = await sharp(picture).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  const height = Math.min(info.height, rows);
  return { data: data.subarray(0, info.width * height * 4), width: info.width, height };
}

/** Compares two pictures pixel by pixel; a difference in size counts as wholly different. */
export async function comparePictures(
  a: Uint8Array,
  b: Uint8Array,
  { rows = Infinity, masks = [], unsteady = [], free = [], soft = [] }: Compared = {},
): Promise<PictureComparison> {
  if (masks.length + unsteady.length === 0 && Buffer.compare(a, b) === 0)
    return { share: 0, regions: [], masked: 0, unsteady: 0 };
  const [first, second] = await Promise.all([pixelsOf(a, rows), pixelsOf(b, rows)]);
  const { width, height } = first;
  if (!sameSize(first, second))
    return {
      share: 1,
      regions: [{ left: 0, top: 0, width, height, pixels: width * height }],
      masked: 0,
      unsteady: 0,
    };
  await soften(first, soft);
  await soften(second, soft);
  cover(first, second, free);
  const masked = cover(first, second, masks);
  const notTwice = cover(first, second, unsteady);
  const pixels = pixelmatch(first.data, second.data, undefined, width, height, COLOURS);
  return {
    share: pixels / (width * height),
    masked: masked / (width * height),
    unsteady: notTwice / (width * height),
    regions: pixels ? regionsOf(first, second) : [],
  };
}

/** The difference of two pictures as a PNG, differing pixels in ink; empty where their sizes differ. */
export async function drawDifference(
  a: Uint8Array,
  b: Uint8Array,
  { rows = Infinity, masks = [], unsteady = [], free = [], soft = [] }: Compared = {},
): Promise<Uint8Array> {
  const [first, second] = await Promise.all([pixelsOf(a, rows), pixelsOf(b, rows)]);
  const { width, height } = first;
  const drawn = Buffer.alloc(width * height * 4);
  if (sameSize(first, second)) {
    await soften(first, soft);
    await soften(second, soft);
    cover(first, second, [...masks, ...unsteady, ...free]);
    const ink = { ...COLOURS, diffColor: [31, 43, 51] as [number, number, number], alpha: 0.15 };
    pixelmatch(first.data, second.data, drawn, width, height, ink);
  }
  return sharp(drawn, { raw: { width, height, channels: 4 } })
    .png({ compressionLevel: 3 })
    .toBuffer();
}

function sameSize(one: Pixels, other: Pixels): boolean {
  return one.width === other.width && one.height === other.height;
}

/** What writing a picture anew changes in a pixel, its neighbours take back: what is left is what is seen. In pixels. */
const BLUR = 3;

/** Blurs a picture where it shows what stands in another file in the other one. */
async function soften(pixels: Pixels, areas: readonly Area[]): Promise<void> {
  if (areas.length === 0) return;
  const { data, width, height } = pixels;
  const blurred = await sharp(data, { raw: { width, height, channels: 4 } })
    .blur(BLUR)
    .raw()
    .toBuffer();
  for (const area of areas) {
    const left = Math.max(0, Math.floor(area.left));
    const right = Math.min(width, Math.ceil(area.left + area.width));
    const bottom = Math.min(height, Math.ceil(area.top + area.height));
    for (let y = Math.max(0, Math.floor(area.top)); y < bottom && right > left; y++)
      blurred.copy(data, (y * width + left) * 4, (y * width + left) * 4, (y * width + right) * 4);
  }
}

/** Makes two pictures the same under the masks; gives how many pixels that are. */
function cover(first: Pixels, second: Pixels, masks: readonly Area[]): number {
  const { width, height } = first;
  const covered = new Uint8Array(masks.length ? width * height : 0);
  for (const mask of masks) {
    const left = Math.max(0, Math.floor(mask.left));
    const right = Math.min(width, Math.ceil(mask.left + mask.width));
    const bottom = Math.min(height, Math.ceil(mask.top + mask.height));
    for (let y = Math.max(0, Math.floor(mask.top)); y < bottom; y++)
      if (right > left) covered.fill(1, y * width + left, y * width + right);
  }
  let count = 0;
  covered.forEach((is, at) => {
    if (!is) return;
    count++;
    second.data.copy(first.data, at * 4, at * 4, at * 4 + 4);
  });
  return count;
}

/** Connected regions (8 neighbours) of pixels whose colours differ, found by flooding. */
function regionsOf(first: Pixels, second: Pixels): PictureComparison['regions'] {
  const { width, height } = first;
  const drawn = Buffer.alloc(width * height * 4);
  pixelmatch(first.data, second.data, drawn, width, height, { ...COLOURS, diffMask: true });
  const differs = new Uint8Array(width * height);
  for (let i = 0; i < differs.length; i++) if (drawn[i * 4 + 3]) differs[i] = 1;
  const regions: PictureComparison['regions'] = [];
  for (let start = 0; start < differs.length; start++) {
    if (differs[start] !== 1) continue;
    let [left, right, top, bottom, pixels] = [width, 0, height, 0, 0];
    const queue = [start];
    differs[start] = 2;
    while (queue.length) {
      const at = queue.pop()!;
      const [x, y] = [at % width, Math.floor(at / width)];
      pixels++;
      [left, right] = [Math.min(left, x), Math.max(right, x)];
      [top, bottom] = [Math.min(top, y), Math.max(bottom, y)];
      for (let dy = -1; dy <= 1; dy++) {
        for (let dx = -1; dx <= 1; dx++) {
          const [nx, ny] = [x + dx, y + dy];
          if (nx < 0 || ny < 0 || nx >= width || ny >= height) continue;
          const next = ny * width + nx;
          if (differs[next] !== 1) continue;
          differs[next] = 2;
          queue.push(next);
        }
      }
    }
    regions.push({ left, top, width: right - left + 1, height: bottom - top + 1, pixels });
  }
  return regions.sort((one, other) => other.pixels - one.pixels).slice(0, MOST_REGIONS);
}

/** True for a picture of one single colour: nothing was drawn, so nothing can be proved with it. */
export async function isBlank(picture: Uint8Array): Promise<boolean> {
  const { channels } = await sharp(picture).removeAlpha().stats();
  return channels.every((channel) => channel.min === channel.max);
}
