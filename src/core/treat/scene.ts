import { countKept } from '../fold/count-kept.ts';
import type { FoldRecord } from '../fold/record.ts';
import { readData } from '../data/page-data.ts';
import { readEmbeds } from '../embeds/page-embeds.ts';
import { readFonts } from '../fonts/page-fonts.ts';
import { readImages } from '../images/page-images.ts';
import type { NextAsset } from '../next/next-assets.ts';
import type { PageAssets } from '../page/page-assets.ts';
import { findHiding } from './hiding.ts';
import type { Scene } from './treatment.ts';

/** What of a fold result treating needs. */
export type FoldOutcome = Pick<FoldRecord, 'sheets' | 'proved' | 'foldFonts' | 'late'> & {
  /** The user decided to use it although it is not proved. */
  accepted?: boolean;
};

/** All that treatments of a captured page are decided on. */
export function sceneOf(page: PageAssets, fold: FoldOutcome | null, next: readonly NextAsset[] = []): Scene {
  return {
    page,
    fold: (fold?.sheets ?? []).map((sheet) => ({
      url: sheet.url,
      css: sheet.css,
      rest: fold?.late?.files.find((file) => file.sheetUrl === sheet.url)?.css ?? null,
      keptRules: countKept(sheet.kept),
      rules: sheet.rules,
      foldBytes: sheet.foldBytes,
    })),
    foldUsable: fold !== null && (fold.proved || (fold.accepted ?? false)),
    fonts: readFonts(page.captured, fold?.foldFonts ?? []),
    images: readImages(page.captured),
    embeds: readEmbeds(page.captured),
    data: readData(page.captured),
    hidings: findHiding(page),
    next,
  };
}
