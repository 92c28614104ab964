import type { FlatSheet } from '../../css/flatten.ts';
import type { PageStyle } from '../../page/page-assets.ts';
import { bytes } from '../../path/words.ts';
import { movedSheet, movedSheetRefusal, shortSheet, wholeSheet } from '../moved-files.ts';
import { isWorthIt } from '../shorter.ts';
import { NO_SETTINGS, type Scene, type Treatment } from '../treatment.ts';

/** A sheet of one's own without comments and white space, its imports written out: it applies as it did, and is there sooner. */
export const minifiedSheet: Treatment<'stylesheet'> = {
  id: 'minified',
  kind: 'stylesheet',
  label: 'minified',
  risk: { level: 'low', why: 'it is the same sheet in fewer bytes' },
  settings: NO_SETTINGS,
  isFor: (style, scene) => shorter(style, scene) !== null,
  refuses: movedSheetRefusal,
  note(style, scene) {
    const { flat, before, after } = shorter(style, scene)!;
    const imports = flat.parts.length > 1 ? '; what it imports is written out in it' : '';
    return `${bytes(before.length - after.length)} of its ${bytes(before.length)} are comments and white space${imports}`;
  },
  contributes: (style, scene) => movedSheet(style, scene, 'min', [shorter(style, scene)!.flat]),
};

const known = new WeakMap<FlatSheet, { before: string; after: string }>();

function shorter(style: PageStyle, scene: Scene): { flat: FlatSheet; before: string; after: string } | null {
  const flat = style.party === 'first' ? wholeSheet(style, scene) : null;
  if (!flat) return null;
  let texts = known.get(flat);
  if (!texts) {
    texts = { before: flat.parts.map(({ text }) => text).join(''), after: shortSheet(flat) };
    known.set(flat, texts);
  }
  return isWorthIt(texts.before, texts.after) ? { flat, ...texts } : null;
}
