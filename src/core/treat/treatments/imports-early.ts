import { attribute } from '../../html/markup.ts';
import type { PageStyle } from '../../page/page-assets.ts';
import { fileNameOf } from '../../path/names.ts';
import { NO_SETTINGS, type Scene, type Treatment } from '../treatment.ts';

/** The sheets that a sheet imports are asked for with the page: each would be found only once the one before is there. */
export const importsEarly: Treatment<'stylesheet'> = {
  id: 'imports-early',
  kind: 'stylesheet',
  label: 'imports asked for at once',
  risk: { level: 'low', why: 'files are asked for sooner, and nothing else changes' },
  settings: NO_SETTINGS,
  isFor: (style, scene) => importsOf(style, scene).length > 0,
  refuses: () => null,
  contributes: (style, scene) => ({
    headTags: importsOf(style, scene).map((url) => ({
      title: `${fileNameOf(url)}: asked for at once`,
      tag: `<link rel="preload" as="style"${attribute('href', url)}>`,
    })),
  }),
};

/** Addresses of all that a sheet imports, and that they import; none for one that is not for screens. */
export function importsOf({ element: { url, printOnly } }: PageStyle, { page }: Scene): string[] {
  if (url === null || printOnly) return [];
  const flat = page.captured.sheet(url);
  return flat ? [...new Set(flat.parts.map((part) => part.url))].filter((one) => one !== url) : [];
}
