/** The characters whose widths are looked at: Latin, Greek, Cyrillic, and what stands between words. */
export const CHARACTERS: readonly number[] = [
  [0x20, 0x7e],
  [0xa0, 0x17f],
  [0x391, 0x3c9],
  [0x400, 0x45f],
  [0x2013, 0x2026],
  [0x20ac, 0x20ac],
].flatMap(([low, high]) => Array.from({ length: high! - low! + 1 }, (_, index) => low! + index));
