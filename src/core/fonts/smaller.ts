/** From a code point to another, both of them in it. */
export type CodeRange = readonly [low: number, high: number];

/** A font file, and one with fewer signs that is asked for in its place. */
export interface SmallerFont {
  url: string;
  /** The hash of that file. */
  of: string;
  bytes: number;
  smaller: { bodyHash: string; bytes: number };
  /** How many captured pages its signs are of. */
  pages: number;
  /** The code points that the smaller one is asked for; for all others there is the file itself. */
  ranges: CodeRange[];
}

/** Why a font's file stays as it is. */
export type FontStays = 'small' | 'unreadable' | 'scattered' | 'not smaller';

/** More ranges than these would stand in the sheet twice, before its first rule: some kilobytes of them. */
export const MOST_RANGES = 200;

/**
 * What texts of tomorrow need besides those of today: Latin letters with the accents of western Europe, marks that are
 * put over letters, dashes, quotation marks and the like.
 */
const SAFE: readonly CodeRange[] = [
  [0x20, 0x7e],
  [0xa0, 0xff],
  [0x131, 0x131],
  [0x152, 0x153],
  [0x2bb, 0x2bc],
  [0x2c6, 0x2c6],
  [0x2da, 0x2da],
  [0x2dc, 0x2dc],
  [0x300, 0x304],
  [0x308, 0x309],
  [0x323, 0x323],
  [0x329, 0x329],
  [0x2000, 0x206f],
  [0x20ac, 0x20ac],
  [0x2122, 0x2122],
  [0x2191, 0x2193],
  [0x2212, 0x2215],
  [0xfeff, 0xfeff],
  [0xfffd, 0xfffd],
];
const LAST = 0x10ffff;
const SPACE = 0x20;

/**
 * The code points that a smaller file is for: those of texts that were seen, and what is safe besides. Of icons only those
 * that were seen, and the space: a line is as high as the font that has it says (CSS Fonts 4, "first available font").
 */
export function rangesOf(characters: Iterable<string>, icons: boolean): CodeRange[] {
  const seen = [...characters].map((one): CodeRange => [one.codePointAt(0)!, one.codePointAt(0)!]);
  return joined([...seen, ...(icons ? [[SPACE, SPACE] as const] : SAFE)]);
}

/** All code points that are in none of the ranges. @param ranges in their order, none next to another */
export function othersThan(ranges: readonly CodeRange[]): CodeRange[] {
  const found: CodeRange[] = [];
  let from = 0;
  for (const [low, high] of ranges) {
    if (low > from) found.push([from, low - 1]);
    from = high + 1;
  }
  return from > LAST ? found : [...found, [from, LAST]];
}

/** Ranges as a `unicode-range` says them (CSS Fonts 4, 4.5). */
export function unicodeRange(ranges: readonly CodeRange[]): string {
  const hex = (code: number) => code.toString(16).toUpperCase();
  return ranges
    .map(([low, high]) => (low === high ? `U+${hex(low)}` : `U+${hex(low)}-${hex(high)}`))
    .join(',');
}

function joined(ranges: readonly CodeRange[]): CodeRange[] {
  const found: [number, number][] = [];
  for (const [low, high] of [...ranges].sort((a, b) => a[0] - b[0])) {
    const last = found.at(-1);
    if (last && low <= last[1] + 1) last[1] = Math.max(last[1], high);
    else found.push([low, high]);
  }
  return found;
}
