import sharp from 'sharp';
import { NEW_FILES } from '../../core/treat/new-files.ts';
import type { Area } from '../../core/fold/record.ts';
import type { Visit } from '../chromium/visit.ts';

/** A PNG of the viewport in the device's own pixels, with animations frozen. */
export async function takePicture(visit: Visit): Promise<Uint8Array> {
  await visit.inPage.call('holdStill');
  const { data } = await visit.session.send('Page.captureScreenshot', {
    format: 'png',
    captureBeyondViewport: false,
    optimizeForSpeed: true,
  });
  return Buffer.from(data, 'base64');
}

/** The same of the whole page from its top, as far as it is scrolled through, at one pixel a CSS pixel. */
export async function takeWholePicture(visit: Visit): Promise<Uint8Array> {
  await visit.inPage.call('holdStill');
  const height = await visit.inPage.call('pageHeight');
  const width = await visit.inPage.call('pageWidth');
  const scale = 1 / (await visit.inPage.call('pixelRatio'));
  const { data } = await visit.session.send('Page.captureScreenshot', {
    format: 'png',
    captureBeyondViewport: true,
    clip: { x: 0, y: 0, width, height, scale },
    optimizeForSpeed: true,
  });
  return Buffer.from(data, 'base64');
}

/** How many pixels of a picture a CSS pixel of the page takes: neither one nor the device's where the page is zoomed out. */
export async function pixelsPerCssPixel(visit: Visit, picture: Uint8Array): Promise<number> {
  const { width } = await sharp(picture).metadata();
  return width / (await visit.inPage.call('pageWidth'));
}

/**
 * Where a picture shows images of a treated page from lighter files, in its own pixels.
 *
 * @param top how far down the page it begins, CSS px
 */
export async function lighterAreas(visit: Visit, picture: Uint8Array, top: number): Promise<Area[]> {
  const scale = await pixelsPerCssPixel(visit, picture);
  const shown = await visit.inPage.call('lighterBoxes');
  const behind = await visit.inPage.call('lighterBehind', NEW_FILES);
  return [...shown, ...behind].map((area) => ({
    left: area.left * scale,
    top: (area.top - top) * scale,
    width: area.width * scale,
    height: area.height * scale,
  }));
}
