import { CELL } from './areas.ts';
import type { Picture } from './completeness.ts';

/** Least range of a channel within a cell that shows something: an edge, a letter. A plain surface shows nothing yet. */
const DETAIL = 24;
/** Mean channel difference from which something is drawn otherwise: the same words in another font of their size are not. */
const OTHERWISE = 20;
/** A page shows something once this share of its cells does. */
const LEAST_SHOWN = 0.01;

/**
 * Which share of the screen shows something as soon as the page shows anything, and something else there in the end:
 * parts without their styles, parts that jump, what a script puts in another's place.
 *
 * @param frames in the order they came
 * @param moving cells that never rest, row by row; they say nothing
 * @returns 0 to 1; 0 for a page that shows nothing
 */
export function redrawnShare(frames: readonly Picture[], moving: readonly boolean[]): number {
  const last = frames.at(-1);
  for (const first of frames) {
    const shows = rangesOf(first).map((range, cell) => range >= DETAIL && !moving[cell]);
    if (!last || shows.filter(Boolean).length < shows.length * LEAST_SHOWN) continue;
    const apart = differences(first, last);
    return apart.filter((one, cell) => shows[cell] && one >= OTHERWISE).length / apart.length;
  }
  return 0;
}

/** The greatest range of a channel in each cell, row by row. */
function rangesOf(picture: Picture): number[] {
  const ends = cellsBy(picture, () => [255, 0, 255, 0, 255, 0]);
  eachPixel(picture, (at, cell) => {
    const of = ends[cell]!;
    for (let channel = 0; channel < 3; channel++) {
      const value = picture.rgb[at + channel]!;
      of[channel * 2] = Math.min(of[channel * 2]!, value);
      of[channel * 2 + 1] = Math.max(of[channel * 2 + 1]!, value);
    }
  });
  return ends.map((of) => Math.max(of[1]! - of[0]!, of[3]! - of[2]!, of[5]! - of[4]!));
}

/** Mean channel difference of two pictures of one size in each cell, row by row. */
function differences(one: Picture, other: Picture): number[] {
  const sums = cellsBy(one, () => [0, 0]);
  eachPixel(one, (at, cell) => {
    const of = sums[cell]!;
    for (let channel = 0; channel < 3; channel++)
      of[0]! += Math.abs(one.rgb[at + channel]! - other.rgb[at + channel]!);
    of[1]! += 3;
  });
  return sums.map(([sum, count]) => sum! / count!);
}

function cellsBy(picture: Picture, fresh: () => number[]): number[][] {
  const cells = Math.ceil(picture.width / CELL) * Math.ceil(picture.height / CELL);
  return Array.from({ length: cells }, fresh);
}

function eachPixel({ width, height }: Picture, see: (at: number, cell: number) => void): void {
  const columns = Math.ceil(width / CELL);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      see((y * width + x) * 3, Math.floor(y / CELL) * columns + Math.floor(x / CELL));
}
