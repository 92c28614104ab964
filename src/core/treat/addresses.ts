import type { PageScript } from '../page/page-assets.ts';
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
  for (const other of page.scripts) {
    const { url, element } = other.element;
    const lines = (url === null ? element.text : (page.captured.text(url) ?? '')).split('\n');
    const at = lines.findIndex((line) => BY_ADDRESS.test(line));
    if (at >= 0)
      return {
        code: 'own-address',
        place: placeOf(other, { line: at + 1, excerpt: excerptAt(other, at + 1) }),
      };
  }
  return null;
}
