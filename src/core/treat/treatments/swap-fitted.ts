import { NO_SETTINGS, type Treatment } from '../treatment.ts';
import { swap } from './swap.ts';

/** While the file is on its way, text shows a font of the system that is set as wide and as high, so that little moves when it comes. */
export const swapFitted: Treatment<'font'> = {
  id: 'swap-fitted',
  kind: 'font',
  label: 'fitted swap',
  risk: { level: 'low', why: 'the text is first seen in another font, of nearly the same size' },
  settings: NO_SETTINGS,
  isFor: () => true,
  refuses(font, scene) {
    const refusal = swap.refuses(font, scene);
    if (refusal) return refusal;
    return scene.fonts.find((one) => one.url === font.url)?.fit ? null : { code: 'no-measure' };
  },
  note: () =>
    'Browsers that do not know the descriptors that fit it (ascent-override and others, in Safari) set its lines as high as they are.',
  contributes(font, scene) {
    const fit = scene.fonts.find((one) => one.url === font.url)?.fit;
    return { ...swap.contributes(font, scene), ...(fit ? { faceFits: [fit] } : {}) };
  },
};
