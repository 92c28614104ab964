import type { Picture } from './completeness.ts';

/** The viewport in cells, and what became of each over the frames. */
export interface Areas {
  columns: number;
  rows: number;
  /** When each cell changed for the last time, ms, row by row; 0 for one that never did. */
  finalMs: number[];
  /** Cells that keep changing: a carousel, a video, something that blinks. */
  moving: boolean[];
}

/** Side of a cell in pixels of the compared pictures. */
export const CELL = 10;
/** Mean channel difference within a cell from which it counts as changed: grain does not. */
const CHANGED = 4;
/**
 * A cell moves when it changes this often over at least this long, up to the end of the window, and still does so
 * when what was loaded has long been drawn: a slow load goes on almost to the end of a given window.
 */
const MOVES = { times: 4, spanMs: 800, tailMs: 1_500, drawnMs: 500 } as const;

/**
 * Which part of the picture became final when, and which never rests.
 *
 * @param times when each frame came, ms
 * @param windowMs end of the observation
 * @param loadedMs when the page had loaded, and the last of what can be drawn had come
 */
export function areasOf(
  frames: readonly Picture[],
  times: readonly number[],
  windowMs: number,
  loadedMs: number,
): Areas {
  const first = frames[0];
  if (!first) return { columns: 0, rows: 0, finalMs: [], moving: [] };
  const columns = Math.ceil(first.width / CELL);
  const rows = Math.ceil(first.height / CELL);
  const changes: number[][] = Array.from({ length: columns * rows }, () => []);
  for (let index = 0; index < frames.length; index++) {
    const before = frames[index - 1] ?? null;
    const cells = changedCells(before, frames[index]!, columns, rows);
    cells.forEach((changed, cell) => {
      if (changed) changes[cell]!.push(times[index]!);
    });
  }
  return {
    columns,
    rows,
    finalMs: changes.map((all) => all.at(-1) ?? 0),
    moving: changes.map(
      (all) =>
        all.length >= MOVES.times &&
        all.at(-1)! - all[all.length - MOVES.times]! >= MOVES.spanMs / 2 &&
        all.at(-1)! - all[0]! >= MOVES.spanMs &&
        all.at(-1)! >= windowMs - MOVES.tailMs &&
        all.at(-1)! >= loadedMs + MOVES.drawnMs,
    ),
  };
}

/** Cells in which two pictures differ; against nothing, those that are not white. */
function changedCells(before: Picture | null, after: Picture, columns: number, rows: number): boolean[] {
  const sums = new Float64Array(columns * rows);
  const counts = new Float64Array(columns * rows);
  for (let y = 0; y < after.height; y++) {
    for (let x = 0; x < after.width; x++) {
      const cell = Math.floor(y / CELL) * columns + Math.floor(x / CELL);
      const at = (y * after.width + x) * 3;
      for (let channel = 0; channel < 3; channel++)
        sums[cell]! += Math.abs(after.rgb[at + channel]! - (before ? before.rgb[at + channel]! : 255));
      counts[cell]! += 3;
    }
  }
  return Array.from(sums, (sum, cell) => sum / counts[cell]! >= CHANGED);
}

/** A copy of a picture with the marked cells blank, so that they no longer count. */
export function maskCells(picture: Picture, cells: readonly boolean[], columns: number): Picture {
  // Not slice(): of a Node buffer that would be the same bytes.
  const rgb = new Uint8Array(picture.rgb);
  for (let y = 0; y < picture.height; y++) {
    for (let x = 0; x < picture.width; x++) {
      if (!cells[Math.floor(y / CELL) * columns + Math.floor(x / CELL)]) continue;
      rgb.fill(255, (y * picture.width + x) * 3, (y * picture.width + x) * 3 + 3);
    }
  }
  return { ...picture, rgb };
}

/** Share of the cells that are marked, 0 to 1. */
export function shareOf(cells: readonly boolean[]): number {
  return cells.length === 0 ? 0 : cells.filter(Boolean).length / cells.length;
}
