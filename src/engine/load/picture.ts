import type { Visit } from '../chromium/visit.ts';

/** A PNG of the viewport at one pixel a CSS pixel, with animations frozen. */
export async function takePicture(visit: Visit): Promise<Uint8Array> {
  await visit.inPage.call('holdStill');
  const { data } = await visit.session.send('Page.captureScreenshot', {
    format: 'png',
    captureBeyondViewport: false,
    optimizeForSpeed: true,
  });
  return Buffer.from(data, 'base64');
}

/** The same of the whole page from its top, as far as it is scrolled through. */
export async function takeWholePicture(visit: Visit): Promise<Uint8Array> {
  await visit.inPage.call('holdStill');
  const height = await visit.inPage.call('pageHeight');
  const width = await visit.inPage.call('pageWidth');
  const { data } = await visit.session.send('Page.captureScreenshot', {
    format: 'png',
    captureBeyondViewport: true,
    clip: { x: 0, y: 0, width, height, scale: 1 },
    optimizeForSpeed: true,
  });
  return Buffer.from(data, 'base64');
}
