import type { Declaration } from 'postcss';
import { imageLayers } from '../css/image-layers.ts';
import { urlsIn } from '../css/urls.ts';
import type { RulePlace } from '../fonts/rule-places.ts';
import { resolve } from '../html/assets.ts';
import { styledWith } from '../images/behind.ts';
import { namedInRules } from '../images/named-in-rules.ts';
import { styleBeside } from './style-beside.ts';
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

/** Whether another one can stand there is asked, not what it is. */
const ANY_FILE = { wide: [], narrow: null };

/** Why an image of the markup may not have other files as styles name its file as well; null where none does. */
export function alsoBehindRefusal(page: PageAssets, url: string): Refusal | null {
  const [styled] = styledWith(page.captured, url);
  if (styled) return { code: 'named-otherwise', where: `in the style of line ${styled.line}` };
  const [named] = namedInRules(page.captured, url);
  return named ? { code: 'named-otherwise', where: nameOfPlace(named.place) } : null;
}

const nameOfPlace = ({ url }: RulePlace) => `in ${url === null ? 'a style of the page' : fileNameOf(url)}`;

function namedOtherwise(page: PageAssets, url: string): string | null {
  for (const element of styledWith(page.captured, url))
    if (!element.attributeSpans['style'] || styleBeside(page, element, new Map([[url, ANY_FILE]])) === null)
      return `in the style of line ${element.line}`;
  for (const { place, base, declaration } of namedInRules(page.captured, url)) {
    const isOurs = isOwnPlace(page, place) && place.element?.isVerbatim !== false;
    if (!isOurs) return nameOfPlace(place);
    if (!isLayer(declaration, url, base)) return `in “${declaration.prop}”`;
  }
  return null;
}

function isLayer({ prop, value }: Declaration, url: string, base: string): boolean {
  if (!/^background(-image)?$/i.test(prop)) return false;
  const all = urlsIn(value).filter((one) => resolve(one, base) === url).length;
  const plain = imageLayers(value)?.filter((one) => one.url !== null && resolve(one.url, base) === url);
  return plain?.length === all;
}

/** Where a script speaks of what stands behind elements, or of the very file; one that cannot be read may. */
function scriptThatAsks({ captured }: PageAssets, url: string): string | null {
  const asks = (text: string | null) =>
    text === null || /background-?image/i.test(text) || text.includes(fileNameOf(url));
  for (const { url: file, element } of captured.scripts)
    if (asks(file === null ? element.text : captured.text(file)))
      return file === null ? `in line ${element.line} of the page` : fileNameOf(file);
  const late = captured.capture.exchanges.find(
    (one) => one.kind === 'script' && asks(captured.text(one.url)),
  );
  return late ? fileNameOf(late.url) : null;
}
