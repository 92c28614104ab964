import type { PageEmbed } from '../embeds/page-embeds.ts';
import type { Refusal } from './refusal.ts';
import type { Scene } from './treatment.ts';
import { worksWithEmbed } from './works-with-embed.ts';

/** Why what an embed shows may not come later than it does; null where it may. */
export function embedWaitRefusal(embed: PageEmbed, { page }: Scene): Refusal | null {
  if (embed.aboveFold === null) return { code: 'fold-unknown' };
  if (embed.aboveFold) return { code: 'above-fold' };
  const waits = embed.elements.find(
    ({ attributes }) => attributes['onload'] !== undefined || attributes['onerror'] !== undefined,
  );
  if (waits) return { code: 'waited-for', line: waits.line };
  const named = embed.elements.find(({ attributes }) => attributes['name']);
  if (named) return { code: 'has-name', name: named.attributes['name']! };
  return worksWithEmbed(page, embed);
}
