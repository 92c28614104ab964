import type { PageAssets, PageScript } from '../page/page-assets.ts';
import { excerptAt, findingIn, placeOf } from './places.ts';
import type { Refusal } from './refusal.ts';
import type { Scene } from './treatment.ts';

/** A selector, or a part of one, that finds script elements by their address. */
const BY_ADDRESS = /script\s*\[\s*src\b/i;

/** Why a script's text may not come from another address, or from none; null where nothing goes by its address. */
export function addressRefusal(script: PageScript, { page }: Scene): Refusal | null {
  const { unreadable } = script.facts;
  if (unreadable) return { code: 'unreadable', why: unreadable };
  const current = findingIn(script, 'currentScript', 'last-script', 'import');
  if (current) return { code: 'own-address', place: placeOf(script, current) };
  return mentionedIn(page, BY_ADDRESS);
}

/** A selector that finds links by their address, and reading rules out of sheets, which those of other hosts refuse. */
const SHEET_BY_ADDRESS = /link\s*\[\s*href\b|\bcssRules\b|\bdocument\s*\.\s*styleSheets\b/i;

/** Why sheets may not come from other addresses; null where nothing goes by those. */
export function sheetAddressRefusal({ page }: Scene): Refusal | null {
  return mentionedIn(page, SHEET_BY_ADDRESS);
}

/** The first line of a page's scripts that a pattern is found in, as a refusal. */
function mentionedIn(page: PageAssets, pattern: RegExp): Refusal | null {
  for (const script of page.scripts) {
    const { url, element } = script.element;
    const lines = (url === null ? element.text : (page.captured.text(url) ?? '')).split('\n');
    const at = lines.findIndex((line) => pattern.test(line));
    if (at >= 0)
      return {
        code: 'own-address',
        place: placeOf(script, { line: at + 1, excerpt: excerptAt(script, at + 1) }),
      };
  }
  return null;
}
