import sharp from 'sharp';

const QUALITY = 88;

/** A PNG as WebP, for keeping and showing; what was measured on the PNG stays measured. Others stay as they are. */
export async function smallerPicture(image: Uint8Array): Promise<Uint8Array> {
  return pictureType(image) === 'image/png' ? sharp(image).webp({ quality: QUALITY }).toBuffer() : image;
}

/** The type of a picture by its first bytes. */
export function pictureType(image: Uint8Array): string {
  if (image[0] === 0x89 && image[1] === 0x50) return 'image/png';
  return image[0] === 0x52 && image[1] === 0x49 ? 'image/webp' : 'image/jpeg';
}
