import pixelmatch from 'pixelmatch';
import { PNG } from 'pngjs';

export interface PictureComparison {
  /** Share of pixels that differ, 0 to 1. */
  share: number;
  /** The difference as a PNG, differing pixels in ink. */
  difference: Uint8Array;
}

/** Compares two PNGs pixel by pixel; a difference in size counts as wholly different. */
export function comparePictures(a: Uint8Array, b: Uint8Array): PictureComparison {
  const first = PNG.sync.read(Buffer.from(a));
  const second = PNG.sync.read(Buffer.from(b));
  const difference = new PNG({ width: first.width, height: first.height });
  if (first.width !== second.width || first.height !== second.height)
    return { share: 1, difference: PNG.sync.write(difference) };
  const pixels = pixelmatch(first.data, second.data, difference.data, first.width, first.height, {
    threshold: 0.1,
    includeAA: true,
    diffColor: [31, 43, 51],
    alpha: 0.15,
  });
  return { share: pixels / (first.width * first.height), difference: PNG.sync.write(difference) };
}

/** True for a picture of one single colour: nothing was drawn, so nothing can be proved with it. */
export function isBlank(picture: Uint8Array): boolean {
  const { data } = PNG.sync.read(Buffer.from(picture));
  for (let i = 4; i < data.length; i += 4) {
    if (data[i] !== data[0] || data[i + 1] !== data[1] || data[i + 2] !== data[2]) return false;
  }
  return true;
}
