import { picturesOf } from '../../html/assets.ts';
import type { FontUse, Observations } from '../../measure/exchange.ts';
import type { PageAssets } from '../../treat/page-assets.ts';
import { NO_TIES, type AssetTies, type Tie } from './ties.ts';

/** Texts that a font file paints; none where a capture does not tell which file a text's font is of. */
export function fontTies(url: string, observations: Observations): AssetTies {
  return {
    ...NO_TIES,
    neededBy: usesOfFont(url, observations).map(({ sample, family, aboveFold }) => ({
      who: `“${sample}”`,
      url: null,
      why: `${aboveFold ? 'above' : 'below'} the fold${
        filesOf(family, observations) > 1 ? ', painted by this or another file of its family' : ''
      }`,
    })),
  };
}

const filesOf = (family: string, { fontFiles }: Observations) =>
  (fontFiles ?? []).filter((one) => one.family === family).length;

/**
 * The texts painted with a font file's family. Faces of one family are not told apart: of a family with two
 * files, both count as used when one is.
 */
export function usesOfFont(url: string, { fonts, fontFiles }: Observations): FontUse[] {
  const families = new Set((fontFiles ?? []).filter((one) => one.url === url).map((one) => one.family));
  return fonts.filter((use) => use.custom && families.has(use.family));
}

/** Where in the page a picture is shown. */
export function pictureTies(page: PageAssets, url: string, observations: Observations): AssetTies {
  const above = new Set(observations.boxes.filter((box) => box.url === url).map((box) => box.element));
  const inHtml = picturesOf(page.document, page.documentUrl)
    .filter(({ urls }) => urls.includes(url))
    .map(({ element }): Tie => ({ who: element.tag, url: null, why: `line ${element.line} of the page` }));
  const seen = [...above].map((who): Tie => ({ who, url: null, why: 'above the fold' }));
  const behind = (observations.backgrounds ?? [])
    .filter((one) => one.url === url)
    .map(({ element }): Tie => ({ who: element, url: null, why: 'its background, above the fold' }));
  return { ...NO_TIES, neededBy: [...seen, ...behind, ...inHtml] };
}
