import type { LighterFiles } from '../../core/measure/lighter-files.ts';
import { makeSmallerFonts, type SmallerFontsRequest } from './make-smaller-fonts.ts';
import { pictureEmbeds } from './picture-embeds.ts';
import { makeLighterImages, type LighterRequest } from './make-lighter-images.ts';

/** What lighter files are made from. */
export type LighterFilesRequest = LighterRequest & SmallerFontsRequest;

/** Lighter files with their bytes. */
export interface MadeLighter {
  lighter: LighterFiles;
  bodies: Map<string, Uint8Array>;
}

/** Makes lighter versions of a page's images, smaller files of its fonts, and pictures of its embeds. */
export async function makeLighterFiles(request: LighterFilesRequest): Promise<MadeLighter> {
  const { onProgress } = request;
  let [done, all] = [0, 1];
  const { lighter, bodies } = await makeLighterImages({
    ...request,
    onProgress: (step, index, of) => onProgress?.(step, (done = index), (all = of)),
  });
  const say = (step: string) => onProgress?.(step, done, all);
  const { fonts, fontsStay, bodies: ofFonts } = await makeSmallerFonts(request, say);
  const { embeds, bodies: ofEmbeds } = await pictureEmbeds(request, say, request.signal);
  return {
    lighter: { ...lighter, fonts, fontsStay, embeds },
    bodies: new Map([...bodies, ...ofFonts, ...ofEmbeds]),
  };
}
