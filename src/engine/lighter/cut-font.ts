import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { convert } from 'fontverter';
import type { CodeRange } from '../../core/fonts/smaller.ts';

/** What is used of HarfBuzz as it is built for WebAssembly; handles and addresses are numbers, 0 for none (`hb-subset.h`). */
interface HarfBuzz {
  memory: WebAssembly.Memory;
  _initialize(): void;
  malloc(bytes: number): number;
  free(address: number): void;
  hb_blob_create(address: number, bytes: number, mode: number, data: number, destroy: number): number;
  hb_blob_destroy(blob: number): void;
  hb_blob_get_data(blob: number, length: number): number;
  hb_blob_get_length(blob: number): number;
  hb_face_create(blob: number, index: number): number;
  hb_face_destroy(face: number): void;
  hb_face_reference_blob(face: number): number;
  hb_set_add(set: number, sign: number): void;
  hb_set_clear(set: number): void;
  hb_set_invert(set: number): void;
  hb_subset_input_create_or_fail(): number;
  hb_subset_input_destroy(input: number): void;
  hb_subset_input_set(input: number, which: number): number;
  hb_subset_input_set_flags(input: number, flags: number): void;
  hb_subset_input_unicode_set(input: number): number;
  hb_subset_or_fail(face: number, input: number): number;
}

const WRITABLE = 2;
const LAYOUT_FEATURES = 6;
/** What is shown for a sign that no font has stays what it was: else nothing would be. */
const NOTDEF_OUTLINE = 0x40;

let harfBuzz: Promise<HarfBuzz> | null = null;

async function load(): Promise<HarfBuzz> {
  const file = createRequire(import.meta.url).resolve('harfbuzzjs/dist/harfbuzz-subset.wasm');
  const { instance } = await WebAssembly.instantiate(await readFile(file));
  const loaded = instance.exports as unknown as HarfBuzz;
  loaded._initialize();
  return loaded;
}

/**
 * A font with the signs of some code points alone, as WOFF2, with all that its own rules make of them: ligatures, kerning,
 * variations and hints.
 *
 * @throws Error for what is no font
 */
export async function cutFont(font: Uint8Array, ranges: readonly CodeRange[]): Promise<Uint8Array> {
  const hb = await (harfBuzz ??= load());
  const whole = await convert(Buffer.from(font), 'sfnt');
  const address = hb.malloc(whole.length);
  if (address === 0) throw new Error('No memory for the font.');
  try {
    new Uint8Array(hb.memory.buffer).set(whole, address);
    return await convert(Buffer.from(cutAt(hb, address, whole.length, ranges)), 'woff2');
  } finally {
    hb.free(address);
  }
}

function cutAt(hb: HarfBuzz, address: number, bytes: number, ranges: readonly CodeRange[]): Uint8Array {
  const blob = hb.hb_blob_create(address, bytes, WRITABLE, 0, 0);
  const face = hb.hb_face_create(blob, 0);
  const input = hb.hb_subset_input_create_or_fail();
  let cut = 0;
  try {
    // All of them: of itself it keeps those alone that are on by default.
    const features = hb.hb_subset_input_set(input, LAYOUT_FEATURES);
    hb.hb_set_clear(features);
    hb.hb_set_invert(features);
    hb.hb_subset_input_set_flags(input, NOTDEF_OUTLINE);
    const signs = hb.hb_subset_input_unicode_set(input);
    for (const [low, high] of ranges) for (let sign = low; sign <= high; sign++) hb.hb_set_add(signs, sign);
    cut = hb.hb_subset_or_fail(face, input);
    if (cut === 0) throw new Error('The font cannot be cut.');
    return copyOf(hb, cut);
  } finally {
    if (cut) hb.hb_face_destroy(cut);
    hb.hb_subset_input_destroy(input);
    hb.hb_face_destroy(face);
    hb.hb_blob_destroy(blob);
  }
}

function copyOf(hb: HarfBuzz, face: number): Uint8Array {
  const blob = hb.hb_face_reference_blob(face);
  try {
    const at = hb.hb_blob_get_data(blob, 0);
    // The memory may have grown meanwhile, and be another buffer.
    return new Uint8Array(hb.memory.buffer).slice(at, at + hb.hb_blob_get_length(blob));
  } finally {
    hb.hb_blob_destroy(blob);
  }
}
