import { createHash } from 'node:crypto';
import sharp from 'sharp';
import type { EmbedPicture } from '../../core/embeds/embed-picture.ts';
import { readEmbeds } from '../../core/embeds/page-embeds.ts';
import { CapturedPage } from '../../core/page/captured-page.ts';
import type { EmbedBox } from '../../in-page/embed-boxes.ts';
import type { Visit } from '../chromium/visit.ts';
import { AS_AUTHORED, FoldStage } from '../fold/fold-stage.ts';
import { isBlank } from '../fold/pictures.ts';
import type { PageOfTexts } from './painted-characters.ts';

/** Embeds are as wide there as anywhere. CSS px. */
const LAPTOP = { width: 1440, height: 900 };
/** A smaller one is a counter, or a frame that nobody sees. CSS px. */
const LEAST_SIDE = 60;
const MOST_PIXELS_WIDE = 1_200;
/** It is looked at for a moment, and pressed. */
const QUALITY = 55;

/**
 * Pictures of a page's embeds as they are when it is scrolled through; none of those that are not shown, or show nothing,
 * and none where the page was captured with someone's cookies or storage: what an embed shows may be theirs, and every
 * visitor would be sent it.
 */
export async function pictureEmbeds(
  { capture, bodies, state }: PageOfTexts,
  say: (step: string) => void,
  signal?: AbortSignal,
): Promise<{ embeds: EmbedPicture[]; bodies: Map<string, Uint8Array> }> {
  const made: { embeds: EmbedPicture[]; bodies: Map<string, Uint8Array> } = { embeds: [], bodies: new Map() };
  if (state) return made;
  const page = new CapturedPage(capture, bodies);
  const hashes = new Map(
    readEmbeds(page).flatMap(({ url }) => {
      const hash = page.exchange(url)?.bodyHash;
      return hash ? [[url, hash] as const] : [];
    }),
  );
  if (hashes.size === 0) return made;
  say('What embeds show');
  const stage = await FoldStage.open(capture, bodies, state, signal);
  try {
    await stage.visit(AS_AUTHORED, LAPTOP, async (visit) => {
      await visit.inPage.call('scrollThrough');
      await visit.inPage.call('holdStill');
      const boxes = await visit.inPage.call('embedBoxes');
      await visit.inPage.call('showEmbedsAlone');
      for (const box of boxes) {
        const of = hashes.get(box.url);
        const picture = of && (await pictureOf(visit, box));
        if (!picture) continue;
        // The same in another frame needs no other picture.
        hashes.delete(box.url);
        const bodyHash = createHash('sha256').update(picture).digest('hex');
        made.embeds.push({ url: box.url, of, bodyHash, bytes: picture.length });
        made.bodies.set(bodyHash, picture);
      }
    });
  } finally {
    await stage.close();
  }
  return made;
}

async function pictureOf(visit: Visit, { left, top, width, height }: EmbedBox): Promise<Uint8Array | null> {
  if (width < LEAST_SIDE || height < LEAST_SIDE) return null;
  const scale = Math.min(2, MOST_PIXELS_WIDE / width);
  const { data } = await visit.session.send('Page.captureScreenshot', {
    format: 'png',
    captureBeyondViewport: true,
    clip: { x: left, y: top, width, height, scale },
    optimizeForSpeed: true,
  });
  const png = Buffer.from(data, 'base64');
  return (await isBlank(png)) ? null : sharp(png).webp({ quality: QUALITY }).toBuffer();
}
