import { nearestFaces } from '../../fonts/faces.ts';
import { picturesOf } from '../../html/assets.ts';
import type { FontFile, FontUse, Observations } from '../../measure/exchange.ts';
import type { PageAssets } from '../../page/page-assets.ts';
import { NO_TIES, type AssetTies, type Tie } from './ties.ts';

/** Texts that a font file paints; none where a capture does not tell which file a text's font is of. */
export function fontTies(url: string, observations: Observations): AssetTies {
  return {
    ...NO_TIES,
    neededBy: usesOfFont(url, observations).map((use) => ({
      who: `“${use.sample}”`,
      url: null,
      why: `${use.aboveFold ? 'above' : 'below'} the fold${
        new Set(filesFor(use, observations).map((one) => one.url)).size > 1
          ? ', painted by this or another file of its family'
          : ''
      }`,
    })),
  };
}

/** The texts that a font file may paint. */
export function usesOfFont(url: string, observations: Observations): FontUse[] {
  return observations.fonts.filter((use) => filesFor(use, observations).some((file) => file.url === url));
}

/**
 * The downloaded files that a text's font may be of: of its family those whose face is nearest to what it asks for.
 * More than one where faces share weight and slant (each for other characters).
 */
function filesFor(use: FontUse, { fontFiles }: Observations): FontFile[] {
  const files = use.custom ? fontFiles.filter((one) => one.family === use.family) : [];
  return nearestFaces(
    files.map((file) => ({ file, face: file })),
    use,
  ).map(({ file }) => file);
}

/** Where in the page a picture is shown. */
export function pictureTies(page: PageAssets, url: string, observations: Observations): AssetTies {
  const above = new Set(observations.boxes.filter((box) => box.url === url).map((box) => box.element));
  const inHtml = picturesOf(page.document, page.documentUrl)
    .filter(({ urls }) => urls.includes(url))
    .map(({ element }): Tie => ({ who: element.tag, url: null, why: `line ${element.line} of the page` }));
  const seen = [...above].map((who): Tie => ({ who, url: null, why: 'above the fold' }));
  const behind = observations.backgrounds
    .filter((one) => one.url === url)
    .map(({ element }): Tie => ({ who: element, url: null, why: 'its background, above the fold' }));
  return { ...NO_TIES, neededBy: [...seen, ...behind, ...inHtml] };
}
