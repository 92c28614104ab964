import { NO_SETTINGS, type Treatment } from '../treatment.ts';
import { preload } from './preload.ts';
import { swap } from './swap.ts';

/** Both: the file comes early, and where it is late all the same, text shows another font. */
export const swapPreload: Treatment<'font'> = {
  id: 'swap-preload',
  kind: 'font',
  label: 'swap + preload',
  risk: { level: 'low', why: 'the text is first seen in another font' },
  settings: NO_SETTINGS,
  isFor: () => true,
  refuses: (font, scene) => swap.refuses(font, scene) ?? preload.refuses(font, scene),
  contributes: (font, scene) => ({ ...swap.contributes(font, scene), ...preload.contributes(font, scene) }),
};
