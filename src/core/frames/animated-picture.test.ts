import sharp from 'sharp';
import { expect, it } from 'vitest';
import { isAnimatedPicture } from './animated-picture.ts';

const frame = (background: string) => sharp({ create: { width: 4, height: 4, channels: 4, background } });
const frames = async (format: 'gif' | 'webp') => {
  const raw = await Promise.all(['#f00', '#0f0', '#00f'].map((one) => frame(one).raw().toBuffer()));
  return sharp(Buffer.concat(raw), { raw: { width: 4, height: 12, channels: 4, pageHeight: 4 } })
    .toFormat(format, { delay: [100, 100, 100] })
    .toBuffer();
};

it.each(['gif', 'webp'] as const)('tells a moving %s from a still one', async (format) => {
  expect(isAnimatedPicture(await frames(format))).toBe(true);
  expect(isAnimatedPicture(await frame('#123').toFormat(format).toBuffer())).toBe(false);
});

it('knows a moving PNG by its control chunk, and SVG by its elements', async () => {
  const still = await frame('#123').png().toBuffer();
  expect(isAnimatedPicture(still)).toBe(false);
  const control = Buffer.alloc(20);
  control.writeUInt32BE(8, 0);
  control.write('acTL', 4, 'latin1');
  // After the header chunk: 8 bytes of signature, 25 of IHDR.
  const moving = Buffer.concat([still.subarray(0, 33), control, still.subarray(33)]);
  expect(isAnimatedPicture(moving)).toBe(true);
  const svg = (inside: string) => Buffer.from(`<svg xmlns="http://www.w3.org/2000/svg">${inside}</svg>`);
  expect(isAnimatedPicture(svg('<circle r="3"><animate attributeName="r"/></circle>'))).toBe(true);
  expect(isAnimatedPicture(svg('<circle r="3"/>'))).toBe(false);
});

it('says of what is cut off or no picture that it stands still', async () => {
  expect(isAnimatedPicture(new Uint8Array())).toBe(false);
  expect(isAnimatedPicture((await frames('gif')).subarray(0, 30))).toBe(false);
  expect(isAnimatedPicture(Buffer.from('GIF89a'))).toBe(false);
});
