import type { LighterFiles } from '../../core/measure/lighter-files.ts';
import { makeSmallerFonts, type SmallerFontsRequest } from './make-smaller-fonts.ts';
import { makeLighterImages, type LighterRequest } from './make-lighter-images.ts';

/** What lighter files are made from. */
export type LighterFilesRequest = LighterRequest & SmallerFontsRequest;

/** Lighter files with their bytes. */
export interface MadeLighter {
  lighter: LighterFiles;
  bodies: Map<string, Uint8Array>;
}

/** Makes lighter versions of a page's images, and smaller files of its fonts. */
export async function makeLighterFiles(request: LighterFilesRequest): Promise<MadeLighter> {
  const { onProgress } = request;
  let [done, all] = [0, 1];
  const { lighter, bodies } = await makeLighterImages({
    ...request,
    onProgress: (step, index, of) => onProgress?.(step, (done = index), (all = of)),
  });
  const {
    fonts,
    fontsStay,
    bodies: ofFonts,
  } = await makeSmallerFonts(request, (step) => onProgress?.(step, done, all));
  return { lighter: { ...lighter, fonts, fontsStay }, bodies: new Map([...bodies, ...ofFonts]) };
}
