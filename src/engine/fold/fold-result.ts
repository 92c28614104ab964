import type { FoldRecord, StoredAnswers, ViewportProof } from '../../core/fold/record.ts';

/** A proof with its PNGs: with all CSS, with the fold CSS only, and their difference. */
export interface PicturedProof extends ViewportProof {
  allCss: Uint8Array;
  foldOnly: Uint8Array;
  difference: Uint8Array;
}

/** A set of fold CSS as it comes from the engine: with pictures, and with what the page said. */
export interface FoldResult extends Omit<FoldRecord, 'viewports'> {
  viewports: PicturedProof[];
  answers: StoredAnswers;
}
