import { fileNameOf } from '../../path/names.ts';
import { movedSheet, movedSheetRefusal, wholeSheet } from '../moved-files.ts';
import { sheetRow } from '../rows.ts';
import { NO_SETTINGS, type Treatment } from '../treatment.ts';

/** Stylesheets of one's own that apply one straight after the other become one file, at the place of the first. */
export const mergedSheets: Treatment<'stylesheet'> = {
  id: 'merged',
  kind: 'stylesheet',
  label: 'merged into one file',
  risk: { level: 'low', why: 'a change of one empties the cache of all' },
  settings: NO_SETTINGS,
  isFor(style, scene) {
    const row = sheetRow(style, scene.page);
    const sheets = row.map((one) => wholeSheet(one, scene));
    // A namespace holds for the sheet that declares it (CSS Namespaces 3, section 2).
    return (
      sheets.length > 0 &&
      sheets.every((one) =>
        one?.root.nodes.every((node) => node.type !== 'atrule' || !/^namespace$/i.test(node.name)),
      )
    );
  },
  refuses: movedSheetRefusal,
  companions: (style, { page }) => sheetRow(style, page).filter((one) => one !== style),
  togetherBecomes: () => 'merged',
  note(style, { page }) {
    const names = sheetRow(style, page).map(({ element }) => fileNameOf(element.url!));
    return `${names.join(', ')} in one request; a change of one has visitors fetch all of them again, and pages that use only one of them fetch it besides`;
  },
  contributes(style, scene) {
    const row = sheetRow(style, scene.page);
    const { element, url } = style.element;
    if (style !== row[0]) return { elements: [{ element, gone: true }], takenOut: [url!] };
    return movedSheet(
      style,
      scene,
      'merged',
      row.map((one) => wholeSheet(one, scene)!),
    );
  },
};
