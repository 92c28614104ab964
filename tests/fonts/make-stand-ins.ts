import { readFileSync, writeFileSync } from 'node:fs';
import { CHARACTERS } from '../../src/core/fonts/characters.ts';
import { readMeasures, type FontMeasures } from '../../src/core/fonts/measures.ts';

/** Where the widths are kept that the application reads. */
export const WIDTHS_FILE = 'src/core/fonts/stand-in-widths.json';

/**
 * Fonts that are made to have the widths of those that systems come with (Arimo those of Arial, Tinos of Times New
 * Roman, Cousine of Courier New), and those that systems come with themselves.
 */
const PACKAGES = {
  Arial: 'arimo',
  'DejaVu Sans': 'dejavu-sans',
  Roboto: 'roboto',
  'Times New Roman': 'tinos',
  'DejaVu Serif': 'dejavu-serif',
  'Courier New': 'cousine',
  'DejaVu Sans Mono': 'dejavu-mono',
};
const CUTS = { regular: '400-normal', bold: '700-normal', italic: '400-italic', 'bold italic': '700-italic' };
const SUBSETS = ['latin', 'latin-ext', 'greek', 'cyrillic'];
/** Widths are kept in these parts of an em. */
const PARTS = 2_048;

function read(name: string, subset: string, cut: string): FontMeasures | null {
  try {
    const file = `node_modules/@fontsource/${name}/files/${name}-${subset}-${cut}.woff2`;
    return readMeasures(readFileSync(file));
  } catch {
    return null;
  }
}

/** What the file holds, read anew from the packages. */
export function makeStandIns(): Record<
  string,
  { ascent: number; descent: number; lineGap: number; widths: string }
> {
  const made: ReturnType<typeof makeStandIns> = {};
  for (const [family, name] of Object.entries(PACKAGES))
    for (const [cut, file] of Object.entries(CUTS)) {
      const parts = SUBSETS.flatMap((subset) => read(name, subset, file) ?? []);
      const [{ ascent, descent, lineGap }] = parts as [FontMeasures];
      const widths = CHARACTERS.map((code) => {
        const width = parts.map((one) => one.advance(code)).find((one) => one !== null) ?? 0;
        return Math.round(width * PARTS);
      });
      const rounded = (em: number) => Math.round(em * 10_000) / 10_000;
      made[`${family}, ${cut}`] = {
        ascent: rounded(ascent),
        descent: rounded(descent),
        lineGap: rounded(lineGap),
        // One figure where all are as wide.
        widths: new Set(widths).size === 1 ? String(widths[0]) : widths.join(' '),
      };
    }
  return made;
}

if (process.argv[1]?.endsWith('make-stand-ins.ts'))
  writeFileSync(WIDTHS_FILE, `${JSON.stringify(makeStandIns(), null, 2)}\n`);
