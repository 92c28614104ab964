import { embedName, type PageEmbed } from '../../embeds/page-embeds.ts';
import { standInDocument, type StandInParts } from '../../embeds/stand-in.ts';
import type { PageAssets } from '../../page/page-assets.ts';
import type { NewFile } from '../contribution.ts';
import { embedWaitRefusal } from '../embed-waits.ts';
import { addressIn, newFile, stemOf } from '../new-files.ts';
import { lateSwitchOf, nonceFor, ownFileRefusal, policyRefusal } from '../policy.ts';
import { NO_SETTINGS, type Treatment } from '../treatment.ts';

/** Its frame shows a link with its name, and the embed itself once that is pressed; the frame stays what it is. */
export const embedOnPress: Treatment<'embed'> = {
  id: 'on-press',
  kind: 'embed',
  label: 'on a press',
  risk: {
    level: 'medium',
    why: 'a link with its name stands in its place: who wants to see it has to press, and nothing of it is read or found before',
  },
  settings: NO_SETTINGS,
  isFor: () => true,
  refuses(embed, scene) {
    const shut = embed.elements.find(({ attributes }) => 'sandbox' in attributes || 'csp' in attributes);
    if (shut) return { code: 'shut-frame', line: shut.line };
    // The document in the frame is under the page's own policies.
    return embedWaitRefusal(embed, scene) ?? policyRefusal(scene.page, [['style']]);
  },
  note: (embed) =>
    playsByItself(embed) ? 'what it plays by itself, it plays only once it is pressed' : null,
  contributes(embed, { page }) {
    const file = pictureFile(embed, page);
    const parts: StandInParts = {
      styleNonce: nonceFor(page, 'style'),
      handler: lateSwitchOf(page) === 'attribute',
      picture: file && addressIn(page, file.url),
    };
    return {
      elements: embed.elements.map((element) => ({
        element,
        attributes: { srcdoc: standInDocument(element, embedName(embed), embed.url, parts) },
      })),
      ...(file ? { files: [file] } : {}),
      takenOut: [embed.url],
    };
  },
};

/** A picture of what it showed; null where there is none, or the page's policies let no such file in: its name does. */
function pictureFile({ url, picture }: PageEmbed, page: PageAssets): NewFile | null {
  const body = picture && page.captured.bodyOf(picture.bodyHash);
  if (!body || ownFileRefusal(page, 'image', null)) return null;
  return newFile(page, stemOf(url) || 'embed', 'webp', 'image/webp', body);
}

function playsByItself({ elements }: PageEmbed): boolean {
  return elements.some(({ attributes: { src = '', allow = '' } }) => /autoplay/i.test(`${src} ${allow}`));
}
