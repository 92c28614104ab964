import type { FontFile, FontUse, Observations } from '../measure/exchange.ts';
import { nearestFaces } from './faces.ts';

/** The texts that a font file may paint. */
export function usesOfFont(url: string, observations: Observations): FontUse[] {
  return observations.fonts.filter((use) => filesFor(use, observations).some((file) => file.url === url));
}

/**
 * The downloaded files that a text's font may be of: of its family those whose face is nearest to what it asks for.
 * More than one where faces share weight and slant (each for other characters).
 */
export function filesFor(use: FontUse, { fontFiles }: Observations): FontFile[] {
  const files = use.custom ? fontFiles.filter((one) => one.family === use.family) : [];
  return nearestFaces(
    files.map((file) => ({ file, face: file })),
    use,
  ).map(({ file }) => file);
}
