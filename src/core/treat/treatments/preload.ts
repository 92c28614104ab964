import { fitsFont, ownPreloads } from '../../hints/own-preloads.ts';
import { attributeValue } from '../../html/markup.ts';
import { fileNameOf } from '../../path/names.ts';
import { addressIn } from '../new-files.ts';
import { NO_SETTINGS, type Treatment } from '../treatment.ts';

/** The file is asked for with the page, not only once a stylesheet has named it. */
export const preload: Treatment<'font'> = {
  id: 'preload',
  kind: 'font',
  label: 'preload',
  risk: { level: 'low', why: 'it is asked for sooner, and others give way to it' },
  settings: NO_SETTINGS,
  isFor: () => true,
  refuses({ url }, { page }) {
    const own = ownPreloads(page, url).find(fitsFont);
    return own ? { code: 'hinted', line: own.line } : null;
  },
  contributes({ url }, { page }) {
    const type = /\.woff2(\?|$)/i.test(url) ? ' type="font/woff2"' : '';
    const href = attributeValue(addressIn(page, url));
    return {
      headTags: [
        {
          title: `${fileNameOf(url)}: preload`,
          tag: `<link rel="preload" as="font"${type} href="${href}" crossorigin>`,
        },
      ],
      // What asks for it in another way has it come twice.
      elements: ownPreloads(page, url).map((element) => ({ element, gone: true })),
    };
  },
};
