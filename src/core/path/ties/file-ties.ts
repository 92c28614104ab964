import { filesFor, usesOfFont } from '../../fonts/uses.ts';
import { picturesOf } from '../../html/assets.ts';
import type { Observations } from '../../measure/exchange.ts';
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
