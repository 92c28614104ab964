import { NO_SETTINGS, type Treatment } from '../treatment.ts';
import { preload } from './preload.ts';
import { swapFitted } from './swap-fitted.ts';

/** The file comes early; where it is late all the same, little moves when it comes. */
export const swapPreloadFitted: Treatment<'font'> = {
  id: 'swap-preload-fitted',
  kind: 'font',
  label: 'fitted swap + preload',
  risk: { level: 'low', why: 'the text is first seen in another font, of nearly the same size' },
  settings: NO_SETTINGS,
  isFor: () => true,
  refuses: (font, scene) => swapFitted.refuses(font, scene) ?? preload.refuses(font, scene),
  note: (font, scene) => swapFitted.note!(font, scene),
  contributes: (font, scene) => ({
    ...swapFitted.contributes(font, scene),
    ...preload.contributes(font, scene),
  }),
};
