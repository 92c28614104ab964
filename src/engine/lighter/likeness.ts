import { ssim } from 'ssim.js';
import type { Sharp } from 'sharp';

/** How like two pictures of one size are (structural similarity, Wang et al. 2004): 1 for the same, by their luma. */
export async function likeness(one: Sharp, other: Sharp): Promise<number> {
  const [a, b] = await Promise.all([pixelsOf(one), pixelsOf(other)]);
  return ssim(a, b, { ssim: 'fast', downsample: false }).mssim;
}

/** Pixels on white: what is behind a transparent one is not told. */
async function pixelsOf(picture: Sharp): Promise<ImageData> {
  const { data, info } = await picture
    .flatten({ background: '#ffffff' })
    .toColourspace('srgb')
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { data: new Uint8ClampedArray(data), width: info.width, height: info.height } as ImageData;
}
