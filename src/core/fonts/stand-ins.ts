import { CHARACTERS } from './characters.ts';
import type { FontMeasures } from './measures.ts';
import WIDTHS from './stand-in-widths.json' with { type: 'json' };

/** What kind of letters a list of families ends in. */
export type Generic = 'sans-serif' | 'serif' | 'monospace';

/** A font that systems come with, in one cut, and what is known of its letters. */
export interface StandIn extends FontMeasures {
  family: string;
  /** By which names it may be found on a system, its metric-compatible kin as well (CSS Fonts 4, `local()`). */
  locals: readonly string[];
}

const PLACES = new Map(CHARACTERS.map((code, index) => [code, index]));
/** Widths are kept in these parts of an em. */
const PARTS = 2_048;

type Cut = 'regular' | 'bold' | 'italic' | 'bold italic';

/** Families of systems: of Windows, macOS and iOS, and of those that have its kin; of other Linux systems; of Android. */
const FAMILIES: Record<
  Generic,
  readonly { family: string; kin: readonly string[]; postScript: Partial<Record<Cut, string>> }[]
> = {
  'sans-serif': [
    {
      family: 'Arial',
      kin: ['Liberation Sans', 'Arimo'],
      postScript: {
        regular: 'ArialMT',
        bold: 'Arial-BoldMT',
        italic: 'Arial-ItalicMT',
        'bold italic': 'Arial-BoldItalicMT',
      },
    },
    { family: 'DejaVu Sans', kin: [], postScript: {} },
    { family: 'Roboto', kin: [], postScript: { bold: 'Roboto-Bold', italic: 'Roboto-Italic' } },
  ],
  serif: [
    {
      family: 'Times New Roman',
      kin: ['Liberation Serif', 'Tinos'],
      postScript: {
        regular: 'TimesNewRomanPSMT',
        bold: 'TimesNewRomanPS-BoldMT',
        italic: 'TimesNewRomanPS-ItalicMT',
        'bold italic': 'TimesNewRomanPS-BoldItalicMT',
      },
    },
    { family: 'DejaVu Serif', kin: [], postScript: {} },
  ],
  monospace: [
    {
      family: 'Courier New',
      kin: ['Liberation Mono', 'Cousine'],
      postScript: {
        regular: 'CourierNewPSMT',
        bold: 'CourierNewPS-BoldMT',
        italic: 'CourierNewPS-ItalicMT',
        'bold italic': 'CourierNewPS-BoldItalicMT',
      },
    },
    { family: 'DejaVu Sans Mono', kin: [], postScript: {} },
  ],
};

/** From here on a face is set in the bold cut of another font (CSS Fonts 4, section 5.2). */
const BOLD_FROM = 600;

/**
 * What systems would show in a font's place, one for each kind of system.
 *
 * @param generic what the author's list of families ends in
 * @param weight of the face, 1 to 1,000
 */
export function standInsFor(generic: Generic, weight: number, italic: boolean): StandIn[] {
  const bold = weight >= BOLD_FROM;
  const cut: Cut = bold ? (italic ? 'bold italic' : 'bold') : italic ? 'italic' : 'regular';
  return FAMILIES[generic].map(({ family, kin, postScript }) => {
    const { widths, ...line } = (WIDTHS as Record<string, (typeof WIDTHS)['Arial, regular']>)[
      `${family}, ${cut}`
    ]!;
    const list = widths.split(' ').map(Number);
    return {
      family,
      ...line,
      locals: [
        ...[family, ...kin].map((name) => (cut === 'regular' ? name : `${name} ${titled(cut)}`)),
        ...(postScript[cut] ? [postScript[cut]] : []),
      ],
      advance: (codePoint) => {
        const place = PLACES.get(codePoint);
        if (place === undefined) return null;
        return (list.length === 1 ? list[0]! : list[place]!) / PARTS || null;
      },
    };
  });
}

const titled = (cut: string) => cut.replace(/\b[a-z]/g, (letter) => letter.toUpperCase());
