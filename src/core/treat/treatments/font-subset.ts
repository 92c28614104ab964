import { facesOf } from '../../fonts/page-fonts.ts';
import { ownPreloads } from '../../hints/own-preloads.ts';
import { hostOf } from '../../path/names.ts';
import { bytes } from '../../path/words.ts';
import { addressIn, newFile, stemOf } from '../new-files.ts';
import { isOwnPlace } from '../own-places.ts';
import { ownFileRefusal } from '../policy.ts';
import { NO_SETTINGS, type Treatment } from '../treatment.ts';

/** A file with the signs that the site's pages show, and the whole one for all others, by `unicode-range` (CSS Fonts 4, 4.5). */
export const fontSubset: Treatment<'font-file'> = {
  id: 'subset',
  kind: 'font-file',
  label: 'subset',
  risk: {
    level: 'medium',
    why: 'a sign that no captured page has asks for the whole file, and shows another font until that is there',
  },
  settings: NO_SETTINGS,
  isFor: () => true,
  refuses({ url, inParts, smaller }, { page }) {
    if (inParts) return { code: 'font-in-parts' };
    if (!smaller) return { code: 'no-smaller-font' };
    for (const { place } of facesOf(page.captured, url))
      if (!isOwnPlace(page, place))
        return { code: 'declared-elsewhere', where: place.url === null ? null : hostOf(place.url) };
    const [preload] = ownPreloads(page, url);
    return preload ? { code: 'asked-ahead', line: preload.line } : ownFileRefusal(page, 'font', null);
  },
  note: ({ smaller }) =>
    smaller &&
    `${bytes(smaller.smaller.bytes)} in the place of ${bytes(smaller.bytes)}; ask the font’s licence whether it may be changed`,
  contributes({ url, smaller }, { page }) {
    const { ranges, smaller: made } = smaller!;
    const body = page.captured.bodyOf(made.bodyHash)!;
    const file = newFile(page, stemOf(url) || 'font', 'woff2', 'font/woff2', body);
    return {
      files: [file],
      faceCuts: [{ url, smaller: file.url, ranges }],
      moved: new Map([[url, addressIn(page, file.url)]]),
      takenOut: [url],
    };
  },
};
