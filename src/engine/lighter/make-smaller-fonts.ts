import { createHash } from 'node:crypto';
import { readMeasures, type FontMeasures } from '../../core/fonts/measures.ts';
import { fontsToCut } from '../../core/fonts/page-fonts.ts';
import { MOST_RANGES, rangesOf, type CodeRange, type FontStays } from '../../core/fonts/smaller.ts';
import type { LighterFiles } from '../../core/measure/lighter-files.ts';
import { CapturedPage } from '../../core/page/captured-page.ts';
import { cutFont } from './cut-font.ts';
import { paintedCharacters, type PageOfTexts } from './painted-characters.ts';

/** What smaller fonts are made from. */
export interface SmallerFontsRequest extends PageOfTexts {
  /** Other captured pages of the site: they are set in the same files. */
  others: readonly PageOfTexts[];
  signal?: AbortSignal;
}

/** Smaller fonts with their bytes. */
export interface MadeSmaller {
  fonts: LighterFiles['fonts'];
  fontsStay: LighterFiles['fontsStay'];
  bodies: Map<string, Uint8Array>;
}

/** Of a smaller file there is little to be saved. */
const LEAST_BYTES = 8_192;
/** It has to be so much lighter: a second file of its own, for other signs, is a request more. */
const WORTH_IT = 0.8;

/** Makes, of each font file of a page, one with the signs that the captured pages of its site show. */
export async function makeSmallerFonts(
  { others, signal, ...own }: SmallerFontsRequest,
  say: (step: string) => void,
): Promise<MadeSmaller> {
  const page = new CapturedPage(own.capture, own.bodies);
  const made: MadeSmaller = { fonts: [], fontsStay: [], bodies: new Map() };
  const stays = (url: string, why: FontStays) => made.fontsStay.push({ url, why });
  const large = fontsToCut(page).filter(({ url }) => {
    const isLarge = page.body(url)!.length >= LEAST_BYTES;
    if (!isLarge) stays(url, 'small');
    return isLarge;
  });
  if (large.length === 0) return made;
  const { seen, pages } = await signsOf(own, others, say, signal);
  for (const [index, { url, family, icons }] of large.entries()) {
    signal?.throwIfAborted();
    say(`Font ${index + 1} of ${large.length}`);
    const body = page.body(url)!;
    const ranges = rangesOf(seen.get(family) ?? [], icons);
    const smaller = await cut(body, ranges);
    if (typeof smaller === 'string') {
      stays(url, smaller);
      continue;
    }
    const bodyHash = createHash('sha256').update(smaller).digest('hex');
    const of = page.exchange(url)!.bodyHash!;
    made.fonts.push({
      url,
      of,
      bytes: body.length,
      smaller: { bodyHash, bytes: smaller.length },
      pages,
      ranges,
    });
    made.bodies.set(bodyHash, smaller);
  }
  return made;
}

/** The characters of the site's pages by family; of others that cannot be shown any more none, as the whole file is there for them. */
async function signsOf(
  own: PageOfTexts,
  others: readonly PageOfTexts[],
  say: (step: string) => void,
  signal: AbortSignal | undefined,
): Promise<{ seen: Map<string, Set<string>>; pages: number }> {
  const seen = new Map<string, Set<string>>();
  let pages = 0;
  for (const [index, page] of [own, ...others].entries()) {
    say(`Which signs the site’s pages show: ${index + 1} of ${others.length + 1}`);
    let found: Map<string, Set<string>>;
    try {
      found = await paintedCharacters(page, signal);
    } catch (error) {
      signal?.throwIfAborted();
      if (page === own) throw error;
      continue;
    }
    pages++;
    for (const [family, characters] of found)
      seen.set(family, new Set([...(seen.get(family) ?? []), ...characters]));
  }
  return { seen, pages };
}

async function cut(body: Uint8Array, ranges: readonly CodeRange[]): Promise<Uint8Array | FontStays> {
  if (ranges.length > MOST_RANGES) return 'scattered';
  const whole = readMeasures(body);
  if (!whole) return 'unreadable';
  const text = ranges
    .flatMap(([low, high]) => Array.from({ length: high - low + 1 }, (_, index) => low + index))
    .map((code) => String.fromCodePoint(code))
    .join('');
  let smaller: Uint8Array;
  try {
    smaller = await cutFont(body, ranges);
  } catch {
    return 'unreadable';
  }
  if (smaller.length > body.length * WORTH_IT) return 'not smaller';
  const made = readMeasures(smaller);
  return made && isSetAlike(whole, made, text) ? smaller : 'unreadable';
}

/** Whether lines are as high, and letters as wide, in both. */
function isSetAlike(whole: FontMeasures, smaller: FontMeasures, text: string): boolean {
  return (
    (['ascent', 'descent', 'lineGap'] as const).every((one) => whole[one] === smaller[one]) &&
    [...text].every((one) => whole.advance(one.codePointAt(0)!) === smaller.advance(one.codePointAt(0)!))
  );
}
