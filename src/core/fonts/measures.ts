import { create, type Font } from 'fontkit';
import { CHARACTERS } from './characters.ts';

/** What a font file says of its letters, in ems: shares of the font size. */
export interface FontMeasures {
  ascent: number;
  descent: number;
  lineGap: number;
  /** How wide one of the characters that are looked at is set; null for one that the font does not have. */
  advance(codePoint: number): number | null;
}

/** Larger files, packed and unpacked, are not read: text fonts are a tenth of that. */
const MOST_BYTES = 2_000_000;
const MOST_UNPACKED_BYTES = 8_000_000;
/** Bit 7 of `fsSelection`: the typographic figures are the ones for lines (OpenType, table OS/2). */
const USES_TYPOGRAPHIC = 0x80;

/** Tables by name, of which fontkit's own types say little. */
interface Tables {
  directory: { tables: Record<string, { length: number; transformLength?: number }> };
  hhea: { ascent: number; descent: number; lineGap: number };
  'OS/2'?: {
    fsSelection: Record<string, boolean> | number;
    typoAscender: number;
    typoDescender: number;
    typoLineGap: number;
  };
}

/**
 * Reads a font file (TrueType, OpenType, WOFF, WOFF2).
 *
 * @returns null where it cannot be read, is a collection of several, or is larger than any font for text
 */
export function readMeasures(bytes: Uint8Array): FontMeasures | null {
  if (bytes.length > MOST_BYTES) return null;
  try {
    const made = create(bytes as Buffer);
    if (!('unitsPerEm' in made)) return null;
    const font: Font = made;
    const tables = made as unknown as Tables;
    // What is unpacked is as long as its directory says, which is read before: a captured font may be hostile.
    const unpacked = Object.values(tables.directory.tables).reduce(
      (sum, table) => sum + (table.transformLength ?? table.length),
      0,
    );
    if (unpacked > MOST_UNPACKED_BYTES || !(font.unitsPerEm > 0)) return null;
    const em = (units: number) => units / font.unitsPerEm;
    const widths = new Map<number, number>();
    // All at once: what a damaged font lacks shows only where it is read.
    for (const code of CHARACTERS)
      if (font.hasGlyphForCodePoint(code)) widths.set(code, em(font.glyphForCodePoint(code).advanceWidth));
    const line = lineOf(tables, em);
    if (![...Object.values(line), ...widths.values()].every(isPlausible)) return null;
    return { ...line, advance: (codePoint) => widths.get(codePoint) ?? null };
  } catch {
    return null;
  }
}

/** In ems: of letters that are set, none is as wide or as high. */
const isPlausible = (em: number) => Math.abs(em) < 10;

/** How high a line is: by the typographic figures where the font says so, else by those of its horizontal header. */
function lineOf(
  { hhea, 'OS/2': os2 }: Tables,
  em: (units: number) => number,
): Pick<FontMeasures, 'ascent' | 'descent' | 'lineGap'> {
  const typographic =
    os2 !== undefined &&
    (typeof os2.fsSelection === 'number'
      ? (os2.fsSelection & USES_TYPOGRAPHIC) !== 0
      : os2.fsSelection['useTypoMetrics'] === true);
  return typographic || (hhea.ascent === 0 && hhea.descent === 0)
    ? { ascent: em(os2!.typoAscender), descent: em(-os2!.typoDescender), lineGap: em(os2!.typoLineGap) }
    : { ascent: em(hhea.ascent), descent: em(-hhea.descent), lineGap: em(hhea.lineGap) };
}
