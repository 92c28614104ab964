import type { FlatSheet } from '../css/flatten.ts';
import { mapUrls } from '../css/urls.ts';
import { printSheet } from '../css/print-sheet.ts';
import type { PageScript, PageStyle } from '../page/page-assets.ts';
import { addressRefusal, sheetAddressRefusal } from './addresses.ts';
import type { Contribution } from './contribution.ts';
import type { FontCopy } from './font-copies.ts';
import { addressIn, newFile } from './new-files.ts';
import { ownFileRefusal } from './policy.ts';
import type { Refusal } from './refusal.ts';
import type { Scene } from './treatment.ts';

/** Why a script may not come from a new file on the page's own host; null where it may. */
export function movedScriptRefusal(script: PageScript, scene: Scene): Refusal | null {
  const nonce = script.element.element.attributes['nonce'] ?? null;
  return addressRefusal(script, scene) ?? ownFileRefusal(scene.page, 'script', nonce);
}

/** The same of a stylesheet. */
export function movedSheetRefusal({ element: { element } }: PageStyle, scene: Scene): Refusal | null {
  return (
    sheetAddressRefusal(scene) ?? ownFileRefusal(scene.page, 'style', element.attributes['nonce'] ?? null)
  );
}

/** A script element asks for a new file instead. @param stem what the file's name begins with */
export function movedScript(
  { element: { element, url } }: PageScript,
  { page }: Scene,
  stem: string,
  text: string,
): Contribution {
  const file = newFile(page, stem, 'js', 'text/javascript', text);
  const src = addressIn(page, file.url);
  return {
    files: [file],
    elements: [{ element, attributes: { src, charset: 'utf-8', integrity: null, crossorigin: null } }],
    takenOut: [url!],
  };
}

/**
 * A stylesheet's link asks for a new file instead, in which these sheets stand one after the other.
 *
 * @param fonts copies that it names in the place of what they are of
 */
export function movedSheet(
  { element: { element } }: PageStyle,
  { page }: Scene,
  stem: string,
  sheets: readonly FlatSheet[],
  fonts: readonly FontCopy[] = [],
): Contribution {
  const moved = new Map(fonts.map(({ from, file }) => [from, addressIn(page, file.url)]));
  const css = sheets.map(shortSheet).join('');
  const text = moved.size ? mapUrls(css, (url) => moved.get(url) ?? url) : css;
  const file = newFile(page, stem, 'css', 'text/css', text);
  const href = addressIn(page, file.url);
  return {
    files: [file, ...fonts.map((one) => one.file)],
    elements: [{ element, attributes: { href, integrity: null, crossorigin: null } }],
    ...(moved.size ? { moved } : {}),
    takenOut: [...sheets.flatMap(({ parts }) => parts.map((part) => part.url)), ...moved.keys()],
  };
}

/** What a comment says that has to stay with the text that it is of. */
const LICENCE = /^!|@(?:license|preserve|copyright)/i;

/** A sheet with its imports written out, without white space and comments, but those that say whose it is. */
export function shortSheet({ parts, root }: FlatSheet): string {
  return [...parts.flatMap(({ text }) => licencesIn(text)), printSheet(root)].join('');
}

function licencesIn(text: string): string[] {
  const found: string[] = [];
  for (let at = text.indexOf('/*'); at >= 0; at = text.indexOf('/*', at)) {
    const end = text.indexOf('*/', at + 2);
    if (end < 0) break;
    if (LICENCE.test(text.slice(at + 2, end))) found.push(text.slice(at, end + 2));
    at = end + 2;
  }
  return found;
}

/** All of a sheet, its imports written out; null where it was not captured whole, or is for print only. */
export function wholeSheet({ element: { url, printOnly } }: PageStyle, { page }: Scene): FlatSheet | null {
  if (url === null || printOnly || page.captured.text(url) === null) return null;
  const flat = page.captured.sheet(url);
  return flat && flat.problems.length === 0 ? flat : null;
}
