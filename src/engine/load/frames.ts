import sharp from 'sharp';
import { completeness, distance, type Picture } from '../../core/frames/completeness.ts';
import { speedIndex, type CompletenessPoint } from '../../core/frames/speed-index.ts';
import type { Frame } from '../../core/measure/run.ts';

/** Frames are compared at this width: positions still show, grain does not. */
const COMPARED_WIDTH = 120;

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

  /** The visual completeness curve against a final picture, this run's own or another's. */
  completenessAgainst(final: Picture | null): CompletenessPoint[] {
    const first = this.#pictures[0];
    if (!final || !first || first.width !== final.width || first.height !== final.height) return [];
    // The first frame of a load is blank; its own drawing starts from there.
    const values = completeness([blank(final), ...this.#pictures], final).slice(1);
    return values.map((value, index) => ({ atMs: this.#times[index]!, completeness: value }));
  }

  speedIndex(points: readonly CompletenessPoint[], windowMs: number): number | null {
    return speedIndex(points, windowMs);
  }

  asFrames(points: readonly CompletenessPoint[]): Frame[] {
    return this.#images.map((image, index) => ({
      atMs: this.#times[index]!,
      image,
      completeness: points[index]?.completeness ?? 0,
    }));
  }
}

/** Decodes trace screenshots (base64 JPEG), dropping those that show no change. */
export async function decodeFrames(
  screenshots: readonly { atMs: number; base64: string }[],
): Promise<DecodedFrames> {
  const times: number[] = [];
  const images: Uint8Array[] = [];
  const pictures: Picture[] = [];
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
    if (
      last &&
      last.width === picture.width &&
      last.height === picture.height &&
      distance(last, picture) === 0
    )
      continue;
    times.push(Math.max(0, atMs));
    images.push(image);
    pictures.push(picture);
  }
  return new DecodedFrames(times, images, pictures);
}

function blank(like: Picture): Picture {
  return { width: like.width, height: like.height, rgb: new Uint8Array(like.rgb.length).fill(255) };
}
