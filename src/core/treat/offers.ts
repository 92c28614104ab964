import type { PageScript, PageStyle } from '../page/page-assets.ts';
import { refusalWords } from '../words/refusals.ts';
import { companionsOf, companionsRefusal, settle, type Choices } from './legal.ts';
import { loneAsset, loneRefusal, type LoneKind } from './lone.ts';
import { fileName } from './places.ts';
import type { Match } from './plan.ts';
import { readersOf } from './sharing.ts';
import type { Scene, Treatment } from './treatment.ts';
import { TREATMENTS } from './treatments/index.ts';

/** A treatment as offered for an asset: refused with a reason, or open with what has to be known. */
export interface Offer {
  treatment: string;
  label: string;
  risk: Treatment['risk'];
  refused: string | null;
  note: string | null;
  /** What moves with it. */
  together: Match[];
}

/**
 * The treatments of a script, each open or refused with the line that refuses it.
 *
 * @param chosen what is chosen for the others: what reads this one may be moved already
 */
export function scriptOffers(scene: Scene, script: PageScript, chosen: Choices = new Map()): Offer[] {
  const others = new Map([...chosen].filter(([asset]) => asset !== script));
  const readers = readersOf(scene.page, script);
  return TREATMENTS.script
    .filter((treatment) => treatment.isFor(script, scene))
    .map((treatment): Offer => {
      const settled = settle(scene, others, new Map([[script, treatment.id]]));
      const refusal = settled.refused.get(script);
      // What others bring along is theirs to tell.
      const moved = [...settled.moved.keys()];
      const note = treatment.companions
        ? (treatment.note?.(script, scene) ?? null)
        : moved.length
          ? `${moved.length} inline ${moved.length === 1 ? 'script moves' : 'scripts move'} with it`
          : (treatment.note?.(script, scene) ?? readersNote(treatment.moment ? readers : []));
      return {
        treatment: treatment.id,
        label: treatment.label,
        risk: treatment.risk,
        refused: refusal ? refusalWords(refusal) : null,
        note: refusal ? null : note,
        together: refusal ? [] : moved.map((one) => one.match),
      };
    });
}

function readersNote(readers: readonly PageScript[]): string | null {
  if (readers.length === 0) return null;
  return `${readers.length} ${readers.length === 1 ? 'script reads' : 'scripts read'} it: ${readers.map(fileName).join(', ')}`;
}

/** The treatments of a stylesheet, each open or refused. @param chosen what is chosen for the others */
export function styleOffers(scene: Scene, style: PageStyle, chosen: Choices = new Map()): Offer[] {
  return TREATMENTS.stylesheet
    .filter((treatment) => treatment.isFor(style, scene))
    .map((treatment): Offer => {
      const refusal =
        treatment.refuses(style, scene) ?? companionsRefusal(scene, style, treatment.id, chosen);
      const companions = companionsOf(scene, style, treatment.id);
      return {
        treatment: treatment.id,
        label: treatment.label,
        risk: treatment.risk,
        refused: refusal ? refusalWords(refusal) : null,
        note: treatment.note?.(style, scene) ?? null,
        together: refusal ? [] : companions.map(({ match }) => match),
      };
    });
}

/** The treatments of a font, an image or a host, each open or refused. */
export function loneOffers<K extends LoneKind>(scene: Scene, kind: K, match: Match): Offer[] {
  const asset = loneAsset(scene, kind, match);
  if (!asset) return [];
  const treatments: readonly Treatment<K>[] = TREATMENTS[kind];
  return treatments
    .filter((treatment) => treatment.isFor(asset, scene))
    .map((treatment): Offer => {
      const refusal = loneRefusal(scene, kind, match, treatment.id);
      return {
        treatment: treatment.id,
        label: treatment.label,
        risk: treatment.risk,
        refused: refusal ? refusalWords(refusal) : null,
        note: treatment.note?.(asset, scene) ?? null,
        together: [],
      };
    });
}
