import { NO_SETTINGS, type Treatment } from '../treatment.ts';
import { worksWithEmbed } from '../works-with-embed.ts';

/** It is asked for when a visitor comes near it (HTML: lazy loading). Its room is kept: an embed has a size without its page. */
export const embedLate: Treatment<'embed'> = {
  id: 'late',
  kind: 'embed',
  label: 'when scrolled near',
  risk: { level: 'low', why: 'it comes when it is scrolled near: who jumps there waits for it' },
  settings: NO_SETTINGS,
  isFor: ({ elements }) => elements.some(({ attributes }) => attributes['loading'] !== 'lazy'),
  refuses(embed, { page }) {
    if (embed.aboveFold === null) return { code: 'fold-unknown' };
    if (embed.aboveFold) return { code: 'above-fold' };
    const waits = embed.elements.find(
      ({ attributes }) => attributes['onload'] !== undefined || attributes['onerror'] !== undefined,
    );
    if (waits) return { code: 'waited-for', line: waits.line };
    const named = embed.elements.find(({ attributes }) => attributes['name']);
    if (named) return { code: 'has-name', name: named.attributes['name']! };
    return worksWithEmbed(page, embed);
  },
  note: () => 'above the fold of a screen of another shape it comes later',
  contributes: ({ url, elements }) => ({
    elements: elements.map((element) => ({ element, attributes: { loading: 'lazy' } })),
    takenOut: [url],
  }),
};
