import { facesOf } from '../../fonts/page-fonts.ts';
import { NO_SETTINGS, type Treatment } from '../treatment.ts';

/** Text shows another font while the file is on its way (CSS Fonts 4, `font-display: swap`). */
export const swap: Treatment<'font'> = {
  id: 'swap',
  kind: 'font',
  label: 'swap',
  settings: NO_SETTINGS,
  isFor: () => true,
  refuses: ({ url }, { fonts }) =>
    fonts.find((one) => one.url === url)?.icons ? { code: 'draws-icons' } : null,
  contributes: ({ url }, { page }) => ({ faceSwaps: facesOf(page.captured, url) }),
};
