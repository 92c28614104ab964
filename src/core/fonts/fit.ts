import { string } from 'css-tree';
import type { DeclaredFace } from './faces.ts';
import { CHARACTERS } from './characters.ts';
import type { FontMeasures } from './measures.ts';
import { standInsFor, type Generic, type StandIn } from './stand-ins.ts';

/** How often the page's text has each character, by code point. */
export type Letters = ReadonlyMap<number, number>;

/** A font of the system that is set as wide and as high as a font of the page, for as long as that one is on its way. */
export interface FittedFallback {
  /** What it is called in lists of families. */
  name: string;
  /** Its rule, for every face of the page that it stands in for. */
  css: string;
}

/** What a face's text is shown in until its file has come. */
export interface FaceFit {
  /** The face that it is for: family in lower case, weights, slant and `unicode-range` as declared. */
  face: Pick<DeclaredFace, 'family' | 'weights' | 'italic' | 'ranges'>;
  /** One for each kind of system, in the order in which they are looked for. */
  fallbacks: readonly FittedFallback[];
}

/** Fewer characters say nothing of how wide text is. */
const LEAST_CHARACTERS = 40;

/**
 * Fallbacks with the measures of a face (CSS Fonts 5, sections 3 and 4: `size-adjust` makes the average character of the page's
 * text as wide, and the `…-override` descriptors, which are shares of the adjusted size, the line as high). They have
 * only the characters that the face has, so that what is shown once it has come is what was shown before.
 *
 * @param family as it is written, for the names
 * @returns null where the text has too few characters of the face to say how wide they are
 */
export function fitFace(
  face: DeclaredFace,
  family: string,
  font: FontMeasures,
  letters: Letters,
  generic: Generic,
): FaceFit | null {
  const has = CHARACTERS.filter((code) => isIn(face.ranges, code) && font.advance(code) !== null);
  const range = rangesOf(has);
  const fallbacks = standInsFor(generic, middleOf(face.weights), face.italic).flatMap((standIn) => {
    const size = widthRatio(has, font, standIn, letters);
    if (size === null) return [];
    const name = `${standIn.family} fitted to ${family}`;
    return [{ name, css: ruleOf(name, face, font, standIn, size, range) }];
  });
  if (fallbacks.length === 0) return null;
  const { weights, italic, ranges } = face;
  return { face: { family: face.family, weights, italic, ranges }, fallbacks };
}

/** No font for text is half as wide as another, or twice. */
const LEAST_RATIO = 0.5;

/** How many times as wide the text is in the font as in its stand-in. */
function widthRatio(
  has: readonly number[],
  font: FontMeasures,
  standIn: StandIn,
  letters: Letters,
): number | null {
  let [own, other, count] = [0, 0, 0];
  for (const code of has) {
    const often = letters.get(code) ?? 0;
    const width = standIn.advance(code);
    if (often === 0 || width === null) continue;
    own += often * font.advance(code)!;
    other += often * width;
    count += often;
  }
  const ratio = own / other;
  return count >= LEAST_CHARACTERS && ratio >= LEAST_RATIO && ratio <= 1 / LEAST_RATIO ? ratio : null;
}

function ruleOf(
  name: string,
  { weights: [low, high], italic }: DeclaredFace,
  font: FontMeasures,
  standIn: StandIn,
  size: number,
  range: string,
): string {
  const of = (em: number) => percent(em / size);
  return [
    `@font-face{font-family:${string.encode(name)}`,
    `src:${standIn.locals.map((one) => `local("${one}")`).join(',')}`,
    `font-weight:${low === high ? low : `${low} ${high}`}`,
    ...(italic ? ['font-style:italic'] : []),
    `size-adjust:${percent(size)}`,
    `ascent-override:${of(font.ascent)}`,
    `descent-override:${of(font.descent)}`,
    `line-gap-override:${of(font.lineGap)}`,
    `unicode-range:${range}}`,
  ].join(';');
}

const percent = (share: number) => `${Math.round(share * 10_000) / 100}%`;

const middleOf = ([low, high]: readonly [number, number]) => (low <= 400 && high >= 400 ? 400 : low);

const isIn = (ranges: DeclaredFace['ranges'], code: number) =>
  ranges === null || ranges.some(([low, high]) => code >= low && code <= high);

/** Characters, in their order, as `unicode-range` has them. */
function rangesOf(codes: readonly number[]): string {
  const found: [number, number][] = [];
  for (const code of codes) {
    const last = found.at(-1);
    if (last && code === last[1] + 1) last[1] = code;
    else found.push([code, code]);
  }
  const hex = (code: number) => code.toString(16).toUpperCase();
  return found.map(([low, high]) => `U+${hex(low)}${low === high ? '' : `-${hex(high)}`}`).join(',');
}
