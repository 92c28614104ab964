import { flattenSheet } from '../css/flatten.ts';
import { urlsIn } from '../css/urls.ts';
import { readFace } from './faces.ts';
import { resolve } from '../html/assets.ts';
import type { Exchange } from '../measure/exchange.ts';
import { partyOf } from '../path/party.ts';
import type { PageAssets, TextSource } from '../treat/page-assets.ts';
import type { PageFont } from '../treat/recommend.ts';

/** Whether text waits for a face: `auto` and `block` have a block period of seconds, the others hardly any (CSS Fonts 4, 4.10). */
export function waitsForFont({ display }: Pick<PageFont, 'display'>): boolean {
  return display === null || /^(auto|block)$/i.test(display);
}

/** The font files the page asked for, each with the face that declares it. */
export function readFonts(
  page: PageAssets,
  exchanges: readonly Exchange[],
  aboveFold: readonly string[],
  text: TextSource,
): PageFont[] {
  const asked = new Set(exchanges.filter((one) => one.kind === 'font').map((one) => one.url));
  const fonts = new Map<string, PageFont>();
  for (const style of page.styles) {
    if (style.element.url === null) continue;
    const flat = flattenSheet(style.element.url, text, page.documentUrl);
    flat?.root.walkAtRules('font-face', (rule) => {
      const face = readFace(rule);
      for (const written of face.sources.flatMap(urlsIn)) {
        const url = resolve(written, page.documentUrl);
        if (url === null || !asked.has(url) || fonts.has(url)) continue;
        fonts.set(url, {
          url,
          family: face.family,
          sheetUrl: rule.source?.input.file ?? flat.url,
          display: face.display,
          party: partyOf(url, page.documentUrl),
          aboveFold: aboveFold.includes(url),
        });
      }
    });
  }
  return [...fonts.values()];
}
