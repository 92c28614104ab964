import type { Bodies, Capture } from '../../core/measure/exchange.ts';
import type { VisitState } from '../../core/measure/visit.ts';
import { AS_AUTHORED, FoldStage, resizeTo } from '../fold/fold-stage.ts';

/** A captured page whose texts are looked at. */
export interface PageOfTexts {
  capture: Capture;
  bodies: Bodies;
  state: VisitState | null;
}

const PHONE = { width: 390, height: 844 };
const LAPTOP = { width: 1440, height: 900 };

/** The characters of a page's texts, hidden ones too, by the families that they ask for, lower case: on a phone and on a laptop. */
export async function paintedCharacters(
  { capture, bodies, state }: PageOfTexts,
  signal?: AbortSignal,
): Promise<Map<string, Set<string>>> {
  const found = new Map<string, Set<string>>();
  const stage = await FoldStage.open(capture, bodies, state, signal);
  try {
    await stage.visit(AS_AUTHORED, PHONE, async (visit) => {
      // Some texts are there only once they are near.
      await visit.inPage.call('scrollThrough');
      for (const viewport of [PHONE, LAPTOP]) {
        if (viewport !== PHONE) await resizeTo(visit, viewport);
        for (const { families, characters } of await visit.inPage.call('paintedFaces'))
          for (const family of families) {
            const known = found.get(family) ?? new Set<string>();
            for (const one of characters) known.add(one);
            found.set(family, known);
          }
      }
    });
  } finally {
    await stage.close();
  }
  return found;
}
