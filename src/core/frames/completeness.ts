/** A decoded picture: RGB, three bytes a pixel, row by row. */
export interface Picture {
  width: number;
  height: number;
  rgb: Uint8Array;
}

/**
 * How far two pictures of one size are apart: the sum over all pixels of the absolute channel differences.
 * Position counts as much as colour, so a rearranged page is not taken for a complete one.
 *
 * @throws RangeError when the sizes differ
 */
export function distance(a: Picture, b: Picture): number {
  if (a.width !== b.width || a.height !== b.height) throw new RangeError('The pictures differ in size.');
  let sum = 0;
  for (let i = 0; i < a.rgb.length; i++) sum += Math.abs(a.rgb[i]! - b.rgb[i]!);
  return sum;
}

/**
 * Visual completeness of each frame: 1 − distance to the final picture ÷ the first frame's distance to it,
 * kept within 0…1. When first and final picture are the same nothing was ever drawn: all frames are 0.
 */
export function completeness(frames: readonly Picture[], final: Picture): number[] {
  const first = frames[0];
  if (!first) return [];
  const whole = distance(first, final);
  if (whole === 0) return frames.map(() => 0);
  return frames.map((frame) => Math.min(1, Math.max(0, 1 - distance(frame, final) / whole)));
}
