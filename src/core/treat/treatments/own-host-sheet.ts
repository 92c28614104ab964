import { printSheet } from '../../css/print-sheet.ts';
import type { FlatSheet } from '../../css/flatten.ts';
import type { PageStyle } from '../../page/page-assets.ts';
import { sheetAddressRefusal } from '../addresses.ts';
import { addressIn, newFile } from '../new-files.ts';
import { ownFileRefusal } from '../policy.ts';
import { NO_SETTINGS, type Scene, type Treatment } from '../treatment.ts';

/** A copy of another host's sheet, its imports written out, stands on one's own host: one connection less, and no chain. */
export const ownHostSheet: Treatment<'stylesheet'> = {
  id: 'own-host',
  kind: 'stylesheet',
  label: 'from one’s own host',
  settings: NO_SETTINGS,
  isFor: (style, scene) => wholeElsewhere(style, scene) !== null,
  refuses({ element: { element } }, scene) {
    const nonce = element.attributes['nonce'] ?? null;
    return sheetAddressRefusal(scene) ?? ownFileRefusal(scene.page, 'style', nonce);
  },
  note: () => 'what its maker changes no longer arrives by itself; whether it may be copied its licence says',
  contributes(style, scene) {
    const { element } = style.element;
    const flat = wholeElsewhere(style, scene)!;
    const file = newFile(scene.page, 'copy', 'css', 'text/css', printSheet(flat.root));
    const href = addressIn(scene.page, file.url);
    return {
      files: [file],
      elements: [{ element, attributes: { href, integrity: null, crossorigin: null } }],
      takenOut: flat.parts.map((part) => part.url),
    };
  },
};

/** All of a sheet of another host; null where it is not of another, or was not captured whole. */
function wholeElsewhere({ element: { url, printOnly } }: PageStyle, { page }: Scene): FlatSheet | null {
  if (url === null || printOnly || new URL(url).origin === new URL(page.documentUrl).origin) return null;
  if (page.captured.text(url) === null) return null;
  const flat = page.captured.sheet(url);
  return flat && flat.problems.length === 0 ? flat : null;
}
