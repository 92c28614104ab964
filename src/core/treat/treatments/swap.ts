import { facesOf } from '../../fonts/page-fonts.ts';
import { policyRefusal } from '../policy.ts';
import { NO_SETTINGS, type Treatment } from '../treatment.ts';

/** Text shows another font while the file is on its way (CSS Fonts 4, `font-display: swap`). */
export const swap: Treatment<'font'> = {
  id: 'swap',
  kind: 'font',
  label: 'swap',
  risk: { level: 'low', why: 'the text is first seen in another font' },
  settings: NO_SETTINGS,
  isFor: () => true,
  refuses({ url }, { fonts, page }) {
    if (fonts.find((one) => one.url === url)?.icons) return { code: 'draws-icons' };
    // A policy's hash lets through only what stands in a style element as it is.
    const isInHtml = facesOf(page.captured, url).some(({ place }) => place.url === null);
    return isInHtml ? policyRefusal(page, [['style']]) : null;
  },
  contributes: ({ url }, { page }) => ({ faceSwaps: facesOf(page.captured, url) }),
};
