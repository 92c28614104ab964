import { urlsIn } from '../css/urls.ts';
import { resolve } from '../html/assets.ts';
import type { CapturedPage } from '../page/captured-page.ts';
import { partyOf } from '../path/party.ts';
import { iconFamilies } from './icon-families.ts';
import { readFace } from './faces.ts';
import type { FaceFit } from './fit.ts';
import { Fitting } from './fitting.ts';
import { rulePlaces, type RulePlace } from './rule-places.ts';
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
}

/** Whether text waits for a face: `auto` and `block` have a block period of seconds, the others hardly any (CSS Fonts 4, 4.10). */
export function waitsForFont({ display }: Pick<PageFont, 'display'>): boolean {
  return display === null || /^(auto|block)$/i.test(display);
}

/** The font files the page asked for, each with the face that declares it. @param inFold font files that its fold CSS names */
export function readFonts(page: CapturedPage, inFold: readonly string[]): PageFont[] {
  const asked = new Set(page.capture.exchanges.filter((one) => one.kind === 'font').map((one) => one.url));
  const fonts = new Map<string, PageFont>();
  const ofIcons = iconFamilies(page);
  const fitting = new Fitting(page);
  for (const { place, root, base } of rulePlaces(page))
    root.walkAtRules(/^font-face$/i, (rule) => {
      const face = readFace(rule);
      for (const written of face.sources.flatMap(urlsIn)) {
        const url = resolve(written, base);
        if (url === null || !asked.has(url) || fonts.has(url)) continue;
        fonts.set(url, {
          url,
          family: face.family,
          display: face.display,
          party: partyOf(url, page.url),
          // Fold CSS is of sheets alone: of what the page’s own styles declare, the capture saw where it paints.
          aboveFold: inFold.includes(url) || (place.url === null && paintsAboveFold(page, url)),
          icons: ofIcons.has(face.family),
          fit: ofIcons.has(face.family) ? null : fitting.of(rule, url),
        });
      }
    });
  return [...fonts.values()];
}

function paintsAboveFold({ capture }: CapturedPage, url: string): boolean {
  return usesOfFont(url, capture.observations).some((use) => use.aboveFold && use.glyphs > 0);
}

/** The places that declare a font file, each with the family that it calls it. */
export function facesOf(page: CapturedPage, fontUrl: string): { place: RulePlace; family: string }[] {
  const found: { place: RulePlace; family: string }[] = [];
  for (const { place, root, base } of rulePlaces(page))
    root.walkAtRules(/^font-face$/i, (rule) => {
      const face = readFace(rule);
      const named = face.sources.flatMap(urlsIn).some((one) => resolve(one, base) === fontUrl);
      if (named && face.family) found.push({ place, family: face.family });
    });
  return found;
}
