import type { AtRule } from 'postcss';
import { isInParts } from '../css/cut-faces.ts';
import { urlsIn } from '../css/urls.ts';
import { resolve } from '../html/assets.ts';
import type { CapturedPage } from '../page/captured-page.ts';
import { partyOf } from '../path/party.ts';
import { iconFamilies } from './icon-families.ts';
import { readFace, type DeclaredFace } from './faces.ts';
import type { FaceFit } from './fit.ts';
import { Fitting } from './fitting.ts';
import { rulePlaces, type RulePlace } from './rule-places.ts';
import type { SmallerFont } from './smaller.ts';
import { usesOfFont } from './uses.ts';

/** A font file that a style declares and the run asked for. */
export interface PageFont {
  url: string;
  family: string;
  display: string | null;
  party: 'first' | 'third';
  aboveFold: boolean;
  /** Its signs are of the private use area (Unicode, section 23.5): no other font has them. */
  icons: boolean;
  /** What its text can be shown in until it has come; null where that is not known. */
  fit: FaceFit | null;
  /** Its sheets say of it already which signs it is for. */
  inParts: boolean;
  /** One with fewer signs, where that was made of it. */
  smaller: SmallerFont | null;
}

/** Whether text waits for a face: `auto` and `block` have a block period of seconds, the others hardly any (CSS Fonts 4, 4.10). */
export function waitsForFont({ display }: Pick<PageFont, 'display'>): boolean {
  return display === null || /^(auto|block)$/i.test(display);
}

/** What they read of a page's rules and its text serves the next time as well. */
const fittings = new WeakMap<CapturedPage, Fitting>();

/** The font files the page asked for, each with the face that declares it. @param inFold font files that its fold CSS names */
export function readFonts(page: CapturedPage, inFold: readonly string[]): PageFont[] {
  const asked = new Set(page.capture.exchanges.filter((one) => one.kind === 'font').map((one) => one.url));
  const fonts = new Map<string, PageFont>();
  const ofIcons = iconFamilies(page);
  const fitting = fittings.get(page) ?? new Fitting(page);
  fittings.set(page, fitting);
  for (const { place, rule, face, urls } of placedFaces(page))
    for (const url of urls) {
      if (!asked.has(url) || fonts.has(url)) continue;
      fonts.set(url, {
        url,
        family: face.family,
        display: face.display,
        party: partyOf(url, page.url),
        // Fold CSS is of sheets alone: of what the page’s own styles declare, the capture saw where it paints.
        aboveFold: inFold.includes(url) || (place.url === null && paintsAboveFold(page, url)),
        icons: ofIcons.has(face.family),
        fit: ofIcons.has(face.family) ? null : fitting.of(rule, url),
        inParts: false,
        smaller: page.capture.lighter?.fonts.find((one) => one.url === url) ?? null,
      });
    }
  for (const { rule, urls } of placedFaces(page))
    if (isInParts(rule)) for (const url of urls) if (fonts.has(url)) fonts.get(url)!.inParts = true;
  return [...fonts.values()];
}

function paintsAboveFold({ capture }: CapturedPage, url: string): boolean {
  return usesOfFont(url, capture.observations).some((use) => use.aboveFold && use.glyphs > 0);
}

/** A face as it is declared, with the files that it names, by their full addresses. */
interface PlacedFace {
  place: RulePlace;
  rule: AtRule;
  face: DeclaredFace;
  urls: readonly string[];
}

/** A page never changes: its faces are read once. */
const known = new WeakMap<CapturedPage, readonly PlacedFace[]>();

function placedFaces(page: CapturedPage): readonly PlacedFace[] {
  const faces = known.get(page) ?? placedIn(page);
  known.set(page, faces);
  return faces;
}

function placedIn(page: CapturedPage): PlacedFace[] {
  const found: PlacedFace[] = [];
  for (const { place, root, base } of rulePlaces(page))
    root.walkAtRules(/^font-face$/i, (rule) => {
      const face = readFace(rule);
      const urls = face.sources.flatMap(urlsIn).flatMap((written) => resolve(written, base) ?? []);
      found.push({ place, rule, face, urls });
    });
  return found;
}

/** The fonts of which smaller files may be made: those whose faces the site declares itself, each for all signs. */
export function fontsToCut(page: CapturedPage): PageFont[] {
  const isOwn = ({ place: { url } }: { place: RulePlace }) =>
    url === null || partyOf(url, page.url) === 'first';
  return readFonts(page, []).filter(
    ({ inParts, url }) => !inParts && page.body(url) !== null && facesOf(page, url).every(isOwn),
  );
}

/** The places that declare a font file, each with the family that it calls it. */
export function facesOf(page: CapturedPage, fontUrl: string): { place: RulePlace; family: string }[] {
  return placedFaces(page).flatMap(({ place, face, urls }) =>
    face.family && urls.includes(fontUrl) ? [{ place, family: face.family }] : [],
  );
}
