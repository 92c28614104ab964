import { ownPreloads } from '../../hints/own-preloads.ts';
import { attributeValue } from '../../html/markup.ts';
import { fileNameOf } from '../../path/names.ts';
import { addressIn } from '../new-files.ts';
import { NO_SETTINGS, type Treatment } from '../treatment.ts';

/**
 * What stands in the HTML browsers find by themselves: what they do not know is that it matters. What only a style
 * names is asked for with the page.
 */
export const imageEarly: Treatment<'image'> = {
  id: 'early',
  kind: 'image',
  label: 'asked for early',
  risk: { level: 'low', why: 'it is asked for sooner, and others give way to it' },
  settings: NO_SETTINGS,
  isFor: ({ url, behind, elements }, { page }) =>
    behind === null
      ? elements.some(
          ({ attributes }) => attributes['fetchpriority'] !== 'high' || attributes['loading'] === 'lazy',
        )
      : ownPreloads(page, url).length === 0,
  refuses({ aboveFold, behind }) {
    if (behind === 'sometimes') return { code: 'sometimes-shown' };
    return aboveFold === false ? { code: 'below-fold' } : null;
  },
  contributes({ url, behind, elements }, { page }) {
    if (behind !== null) {
      const href = attributeValue(addressIn(page, url));
      const tag = `<link rel="preload" as="image" href="${href}" fetchpriority="high">`;
      return { headTags: [{ title: `${fileNameOf(url)}: preload`, tag }] };
    }
    return {
      elements: elements.map((element) => ({
        element,
        attributes: {
          fetchpriority: 'high',
          ...(element.attributes['loading'] === 'lazy' ? { loading: null } : {}),
        },
      })),
    };
  },
};
