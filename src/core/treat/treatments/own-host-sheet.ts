import type { FlatSheet } from '../../css/flatten.ts';
import type { PageStyle } from '../../page/page-assets.ts';
import { movedSheet, movedSheetRefusal, wholeSheet } from '../moved-files.ts';
import { NO_SETTINGS, type Scene, type Treatment } from '../treatment.ts';

/** A copy of another host's sheet, its imports written out, stands on one's own host: one connection less, and no chain. */
export const ownHostSheet: Treatment<'stylesheet'> = {
  id: 'own-host',
  kind: 'stylesheet',
  label: 'from one’s own host',
  settings: NO_SETTINGS,
  isFor: (style, scene) => wholeElsewhere(style, scene) !== null,
  refuses: movedSheetRefusal,
  note: () => 'what its maker changes no longer arrives by itself; whether it may be copied its licence says',
  contributes: (style, scene) => movedSheet(style, scene, 'copy', [wholeElsewhere(style, scene)!]),
};

/** All of a sheet of another host; null where it is not of another, or was not captured whole. */
function wholeElsewhere(style: PageStyle, scene: Scene): FlatSheet | null {
  const { url } = style.element;
  const isOwn = url === null || new URL(url).origin === new URL(scene.page.documentUrl).origin;
  return isOwn ? null : wholeSheet(style, scene);
}
