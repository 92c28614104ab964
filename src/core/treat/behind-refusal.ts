import type { Declaration } from 'postcss';
import { imageLayers } from '../css/image-layers.ts';
import { urlsIn } from '../css/urls.ts';
import { rulePlaces } from '../fonts/rule-places.ts';
import { resolve } from '../html/assets.ts';
import { isInMarkup } from '../images/behind.ts';
import type { PageAssets } from '../page/page-assets.ts';
import { fileNameOf } from '../path/names.ts';
import { isOwnPlace } from './own-places.ts';
import type { Refusal } from './refusal.ts';

/**
 * Why no other files may stand beside one that styles put behind elements; null where they may. Where it stays named
 * alone anywhere, both would come; and a script that asks a browser what stands behind an element reads the address in
 * the answer as if there were one.
 */
export function behindRefusal(page: PageAssets, url: string): Refusal | null {
  const where = namedOtherwise(page, url);
  if (where !== null) return { code: 'named-otherwise', where };
  const script = scriptThatAsks(page, url);
  return script === null ? null : { code: 'script-asks-behind', script };
}

function namedOtherwise(page: PageAssets, url: string): string | null {
  if (isInMarkup(page.captured, url)) return 'in a style attribute';
  for (const { place, root, base } of rulePlaces(page.captured)) {
    let where: string | null = null;
    const isOurs = isOwnPlace(page, place) && place.element?.isVerbatim !== false;
    root.walkDecls((declaration) => {
      if (where !== null || !declaration.value.includes('(')) return;
      if (!urlsIn(declaration.value).some((one) => resolve(one, base) === url)) return;
      if (!isOurs) where = `in ${place.url === null ? 'a style of the page' : fileNameOf(place.url)}`;
      else if (!isLayer(declaration, url, base)) where = `in “${declaration.prop}”`;
    });
    if (where !== null) return where;
  }
  return null;
}

function isLayer({ prop, value }: Declaration, url: string, base: string): boolean {
  if (!/^background(-image)?$/i.test(prop)) return false;
  const all = urlsIn(value).filter((one) => resolve(one, base) === url).length;
  const plain = imageLayers(value)?.filter((one) => one.url !== null && resolve(one.url, base) === url);
  return plain?.length === all;
}

/** Where a script speaks of what stands behind elements, or of the very file. */
function scriptThatAsks({ captured }: PageAssets, url: string): string | null {
  const asks = (text: string) => /background-?image/i.test(text) || text.includes(fileNameOf(url));
  for (const { url: file, element } of captured.scripts)
    if (file === null && asks(element.text)) return `in line ${element.line} of the page`;
  const file = captured.capture.exchanges.find(
    (one) => one.kind === 'script' && asks(captured.text(one.url) ?? ''),
  );
  return file ? fileNameOf(file.url) : null;
}
