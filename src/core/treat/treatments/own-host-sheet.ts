import type { FlatSheet } from '../../css/flatten.ts';
import type { PageStyle } from '../../page/page-assets.ts';
import { bytes } from '../../path/words.ts';
import { fontCopies, type FontCopy } from '../font-copies.ts';
import { bytesOfFile } from '../new-files.ts';
import { movedSheet, movedSheetRefusal, shortSheet, wholeSheet } from '../moved-files.ts';
import { NO_SETTINGS, type Scene, type Treatment } from '../treatment.ts';

/** A copy of another host's sheet, its imports written out, stands on one's own host with the fonts that the page uses: fewer connections, and no chain. */
export const ownHostSheet: Treatment<'stylesheet'> = {
  id: 'own-host',
  kind: 'stylesheet',
  label: 'from one’s own host',
  risk: { level: 'medium', why: 'what its maker changes no longer arrives by itself' },
  settings: NO_SETTINGS,
  isFor: (style, scene) => wholeElsewhere(style, scene) !== null,
  refuses: movedSheetRefusal,
  note(style, scene) {
    const fonts = fontsOf(wholeElsewhere(style, scene)!, scene);
    const size = fonts.reduce((sum, { file }) => sum + bytesOfFile(file).length, 0);
    const along = fonts.length
      ? `${fonts.length === 1 ? 'its font is' : `its ${fonts.length} fonts that the page uses are`} copied too (${bytes(size)}); `
      : '';
    return `${along}whether it may be copied its licence says`;
  },
  contributes(style, scene) {
    const sheet = wholeElsewhere(style, scene)!;
    return movedSheet(style, scene, 'copy', [sheet], fontsOf(sheet, scene));
  },
};

function fontsOf(sheet: FlatSheet, { page }: Scene): FontCopy[] {
  return fontCopies(page, shortSheet(sheet));
}

/** All of a sheet of another host; null where it is not of another, or was not captured whole. */
function wholeElsewhere(style: PageStyle, scene: Scene): FlatSheet | null {
  const { url } = style.element;
  const isOwn = url === null || new URL(url).origin === new URL(scene.page.documentUrl).origin;
  return isOwn ? null : wholeSheet(style, scene);
}
