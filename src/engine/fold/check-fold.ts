import { breakpointsIn, questionsOf } from '../../core/fold/sheet-index.ts';
import { compressedBytes, bytesOf } from '../../core/fold/fold-css.ts';
import { FOLD_VIEWPORTS, viewportsBetween, type FoldViewport } from '../../core/fold/viewports.ts';
import type { Edit } from '../../core/html/document.ts';
import { styleElement } from '../../core/html/markup.ts';
import type { Capture } from '../../core/measure/exchange.ts';
import type { VisitState } from '../../core/measure/visit.ts';
import { AS_AUTHORED, FoldStage } from './fold-stage.ts';
import { FoldProof } from './fold-proof.ts';
import type { PicturedProof } from './fold-result.ts';
import { linkedSheets, screenLinks } from '../../core/page/linked-sheets.ts';
import { References } from './references.ts';

export interface CheckRequest {
  capture: Capture;
  bodies: Map<string, Uint8Array>;
  state: VisitState | null;
  /** The fold CSS to be proved, whoever made it. */
  css: string;
  viewports?: readonly FoldViewport[];
  onProgress?: (step: string, done: number, of: number) => void;
  signal?: AbortSignal;
}

/** What came of proving a given file against a page. */
export interface FoldCheck {
  holds: boolean;
  bytes: number;
  compressedBytes: number;
  viewports: PicturedProof[];
}

/** Proves CSS that is there already: the page with it in place of its linked sheets, against the page as authored. */
export async function checkFold(request: CheckRequest): Promise<FoldCheck> {
  const { capture, css, onProgress } = request;
  const stage = await FoldStage.open(capture, request.bodies, request.state, request.signal);
  try {
    const links = screenLinks(stage.page);
    const { sheets } = linkedSheets(stage.page);
    const viewports = request.viewports?.length ? request.viewports : FOLD_VIEWPORTS;
    const between = viewportsBetween(viewports, breakpointsIn(questionsOf(sheets).media));
    const proof = new FoldProof(stage, viewports, between, []);
    onProgress?.('Taking the pictures with all CSS', 0, 2);
    const references = new References(proof, await proof.look(AS_AUTHORED));
    onProgress?.('Taking the pictures with the given CSS only', 1, 2);
    const style = styleElement(stage.document.encoding, css, '');
    const edits: Edit[] = links.length
      ? links.map(({ element }, index) => ({
          start: element.start,
          end: element.end,
          text: index === 0 ? style : '',
        }))
      : [{ start: stage.document.afterCharset, end: stage.document.afterCharset, text: style }];
    const held = await references.against(await stage.addVariant('given', edits));
    const proofs = await proof.at(references.looks, held);
    return {
      holds: proofs.every((one) => one.holds),
      bytes: bytesOf(css),
      compressedBytes: compressedBytes(css),
      viewports: proofs,
    };
  } finally {
    await stage.close();
  }
}
