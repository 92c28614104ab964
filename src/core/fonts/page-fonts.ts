import { readImport } from '../css/flatten.ts';
import { urlsIn } from '../css/urls.ts';
import { resolve } from '../html/assets.ts';
import type { CapturedPage } from '../page/captured-page.ts';
import { partyOf } from '../path/party.ts';
import { iconFamilies } from './icon-families.ts';
import { readFace } from './faces.ts';
import type { FaceFit } from './fit.ts';
import { Fitting } from './fitting.ts';

/** A font file that a stylesheet declares and the run asked for. */
export interface PageFont {
  url: string;
  family: string;
  /** The sheet that declares it. */
  sheetUrl: string;
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

/** The font files the page asked for, each with the face that declares it. */
export function readFonts(page: CapturedPage, aboveFold: readonly string[]): PageFont[] {
  const asked = new Set(page.capture.exchanges.filter((one) => one.kind === 'font').map((one) => one.url));
  const fonts = new Map<string, PageFont>();
  const ofIcons = iconFamilies(page);
  const fitting = new Fitting(page);
  for (const style of page.styles) {
    if (style.url === null) continue;
    const flat = page.sheet(style.url);
    flat?.root.walkAtRules('font-face', (rule) => {
      const face = readFace(rule);
      for (const written of face.sources.flatMap(urlsIn)) {
        const url = resolve(written, page.url);
        if (url === null || !asked.has(url) || fonts.has(url)) continue;
        fonts.set(url, {
          url,
          family: face.family,
          sheetUrl: rule.source?.input.file ?? flat.url,
          display: face.display,
          party: partyOf(url, page.url),
          aboveFold: aboveFold.includes(url),
          icons: ofIcons.has(face.family),
          fit: ofIcons.has(face.family) ? null : fitting.of(rule, url),
        });
      }
    });
  }
  return [...fonts.values()];
}

/** The page's sheets, through imports, each once. */
export function sheetsOf(page: CapturedPage): string[] {
  const seen = new Set<string>();
  const look = (sheetUrl: string) => {
    const root = seen.has(sheetUrl) ? null : page.root(sheetUrl);
    seen.add(sheetUrl);
    root?.walkAtRules(/^import$/i, (at) => {
      const request = readImport(at.params);
      const url = request && resolve(request.url, sheetUrl);
      if (url) look(url);
    });
  };
  for (const { url } of page.styles) if (url !== null) look(url);
  return [...seen];
}

/** The sheets that declare a font file, each with the family that it calls it. */
export function facesOf(page: CapturedPage, fontUrl: string): { sheetUrl: string; family: string }[] {
  const found: { sheetUrl: string; family: string }[] = [];
  for (const sheetUrl of sheetsOf(page))
    page.root(sheetUrl)?.walkAtRules(/^font-face$/i, (rule) => {
      const face = readFace(rule);
      const named = face.sources.flatMap(urlsIn).some((one) => resolve(one, sheetUrl) === fontUrl);
      if (named && face.family) found.push({ sheetUrl, family: face.family });
    });
  return found;
}
