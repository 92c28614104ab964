import type { ImageSize } from './image-size.ts';

/**
 * How wide a file is drawn behind an element, CSS px (CSS Backgrounds 3, section 3.9); what is cut off counts.
 *
 * @param size what the style says of it
 * @param box what it is placed in
 */
export function drawnBehind(size: string, box: ImageSize, natural: ImageSize): number {
  const ratio = natural.width / natural.height;
  if (!(box.width > 0 && box.height > 0) || !(ratio > 0)) return 0;
  if (size === 'cover') return Math.max(box.width, box.height * ratio);
  if (size === 'contain') return Math.min(box.width, box.height * ratio);
  const [across = 'auto', down = 'auto'] = size.split(' ');
  const width = lengthOf(across, box.width);
  if (width !== null) return width;
  const height = lengthOf(down, box.height);
  return height === null ? natural.width : height * ratio;
}

/** Null for one that goes by the file, or is more than a length. */
function lengthOf(text: string, of: number): number | null {
  const [, number, unit] = /^([\d.]+)(px|%)$/.exec(text) ?? [];
  if (number === undefined) return null;
  return unit === '%' ? (Number(number) / 100) * of : Number(number);
}
