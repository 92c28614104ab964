import sharp from 'sharp';
import { areasOf, maskCells, type Areas } from '../../core/frames/areas.ts';
import { redrawnShare } from '../../core/frames/redrawn.ts';
import { completeness, distance, type Picture } from '../../core/frames/completeness.ts';
import { completeFrom, speedIndex, type CompletenessPoint } from '../../core/frames/speed-index.ts';
import type { Frame } from '../../core/measure/run.ts';

/** Frames are compared at this width: positions still show, grain does not. */
const COMPARED_WIDTH = 120;
/** From this share on a picture counts as complete: the last grain of a JPEG is nobody's content. */
const COMPLETE = 0.995;

/** The trace's pictures, decoded; only those that differ from the one before are kept. */
export class DecodedFrames {
  #times: number[];
  #images: Uint8Array[];
  #pictures: Picture[];

  constructor(times: number[], images: Uint8Array[], pictures: Picture[]) {
    this.#times = times;
    this.#images = images;
    this.#pictures = pictures;
  }

  get last(): Picture | null {
    return this.#pictures.at(-1) ?? null;
  }

  /** When the first picture came that is not blank, ms. */
  get firstDrawnMs(): number | null {
    const index = this.#pictures.findIndex((picture) => distance(picture, blank(picture)) > 0);
    return this.#times[index] ?? null;
  }

  /** The visual completeness curve against a final picture, this run's own or another's. */
  completenessAgainst(final: Picture | null): CompletenessPoint[] {
    return this.#curve(this.#pictures, final);
  }

  #curve(pictures: readonly Picture[], final: Picture | null): CompletenessPoint[] {
    const first = pictures[0];
    if (!final || !first || first.width !== final.width || first.height !== final.height) return [];
    // The first frame of a load is blank; its own drawing starts from there.
    const values = completeness([blank(final), ...pictures], final).slice(1);
    return values.map((value, index) => ({ atMs: this.#times[index]!, completeness: value }));
  }

  speedIndex(points: readonly CompletenessPoint[], windowMs: number): number | null {
    return speedIndex(points, windowMs);
  }

  completeFrom(points: readonly CompletenessPoint[]): number | null {
    return completeFrom(points, COMPLETE);
  }

  /** Speed Index with cells masked in every picture. */
  speedIndexMasked(cells: readonly boolean[], columns: number, windowMs: number): number | null {
    const masked = this.#pictures.map((picture) => maskCells(picture, cells, columns));
    return speedIndex(this.#curve(masked, masked.at(-1) ?? null), windowMs);
  }

  areas(windowMs: number, loadedMs: number): Areas {
    return areasOf(this.#pictures, this.#times, windowMs, loadedMs);
  }

  /** Which share of the screen shows something first and something else in the end, 0 to 1. */
  redrawn(moving: readonly boolean[]): number {
    return redrawnShare(this.#pictures, moving);
  }

  asFrames(points: readonly CompletenessPoint[]): Frame[] {
    return this.#images.map((image, index) => ({
      atMs: this.#times[index]!,
      image,
      completeness: points[index]?.completeness ?? 0,
    }));
  }
}

/**
 * Decodes trace screenshots (base64 JPEG), dropping those that show no change, and those of another size: a new
 * tab is now and then pictured once before it has taken the viewport of the conditions.
 */
export async function decodeFrames(
  screenshots: readonly { atMs: number; base64: string }[],
): Promise<DecodedFrames> {
  let times: number[] = [];
  let images: Uint8Array[] = [];
  let pictures: Picture[] = [];
  let before = '';
  for (const { atMs, base64 } of screenshots) {
    if (base64 === before) continue;
    before = base64;
    const image = Buffer.from(base64, 'base64');
    const { data, info } = await sharp(image)
      .resize(COMPARED_WIDTH)
      .removeAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    const picture: Picture = { width: info.width, height: info.height, rgb: data };
    const last = pictures.at(-1);
    const resized = last && (last.width !== picture.width || last.height !== picture.height);
    if (resized) [times, images, pictures] = [[], [], []];
    else if (last && distance(last, picture) === 0) continue;
    times.push(Math.max(0, atMs));
    images.push(image);
    pictures.push(picture);
  }
  return new DecodedFrames(times, images, pictures);
}

function blank(like: Picture): Picture {
  return { width: like.width, height: like.height, rgb: new Uint8Array(like.rgb.length).fill(255) };
}
