import type { PageStyle } from '../../page/page-assets.ts';
import { NO_SETTINGS, type Scene, type Treatment } from '../treatment.ts';

const LONGEST_MEDIA = 300;

/** All rules of the sheet stand under media queries: its link says so, and where none matches nothing waits for it. */
export const ownMedia: Treatment<'stylesheet'> = {
  id: 'own-media',
  kind: 'stylesheet',
  label: 'only under its media',
  risk: { level: 'low', why: 'it applies where it did before, and is waited for only there' },
  settings: NO_SETTINGS,
  isFor: (style, scene) => mediaOf(style, scene) !== null,
  refuses: () => null,
  contributes(style, scene) {
    return { elements: [{ element: style.element.element, attributes: { media: mediaOf(style, scene)! } }] };
  },
};

/** The media outside of which a sheet does nothing; null where there is no such thing, or its link says one already. */
export function mediaOf({ element: { url, media, element } }: PageStyle, { page }: Scene): string | null {
  if (url === null || !/^(all)?$/i.test(media.trim()) || element.attributes['onload'] !== undefined)
    return null;
  const root = page.captured.root(url);
  if (!root) return null;
  const queries = new Set<string>();
  for (const node of root.nodes) {
    if (node.type === 'comment' || (node.type === 'atrule' && node.name.toLowerCase() === 'charset'))
      continue;
    if (node.type !== 'atrule' || node.name.toLowerCase() !== 'media') return null;
    // Names that hold in all of the page are made under a query too, but may be wanted elsewhere as soon as it matches.
    queries.add(
      node.params
        .replace(/\/\*.*?\*\//gs, ' ')
        .replace(/\s+/g, ' ')
        .trim(),
    );
  }
  const list = [...queries].join(', ');
  return list === '' || list.length > LONGEST_MEDIA || /(^|[\s,(])all\b|^(only )?screen$/i.test(list)
    ? null
    : list;
}
