import type { MarkedDifference } from '../../core/fold/record.ts';
import { foldOf, type FoldViewport } from '../../core/fold/viewports.ts';
import type { PageLayout } from '../../in-page/layout.ts';
import type { Visit } from '../chromium/visit.ts';
import type { PicturedProof } from './fold-result.ts';
import { AS_AUTHORED, resizeTo, type FoldStage } from './fold-stage.ts';
import { comparedArea, lookAt, type Look, type LookDifference } from './look.ts';
import { drawDifference, isBlank } from './pictures.ts';

/** Differing share of pixels above the fold up to which a picture counts as the same. */
export const PROOF_LIMIT = 0.0005;
/** No connected region may differ in more pixels than this (square CSS px, at one pixel each). */
export const REGION_LIMIT = 16;
/** More of the picture masked than this proves nothing. */
export const MOST_MASKED = 0.1;
const MOST_MARKED = 6;
const MOST_ELEMENTS = 400;

/** Looks at variants of a page at every chosen viewport and at widths between them, and tells what differs. */
export class FoldProof {
  #stage: FoldStage;
  #viewports: readonly FoldViewport[];
  #between: readonly FoldViewport[];
  #masked: string[];

  constructor(
    stage: FoldStage,
    viewports: readonly FoldViewport[],
    between: readonly FoldViewport[],
    masked: string[],
  ) {
    this.#stage = stage;
    this.#viewports = viewports;
    this.#between = between;
    this.#masked = masked;
  }

  /** The chosen viewports, then those between. */
  get everywhere(): FoldViewport[] {
    return [...this.#viewports, ...this.#between];
  }

  /** Each chosen viewport is loaded fresh; the widths between are come to from the next smaller one. */
  tours(): { fresh: FoldViewport; resized: FoldViewport[] }[] {
    const chosen = [...this.#viewports].sort((a, b) => a.width - b.width);
    return chosen.map((fresh, index) => ({
      fresh,
      resized: this.#between.filter(
        (one) => one.width > fresh.width && one.width < (chosen[index + 1]?.width ?? Infinity),
      ),
    }));
  }

  /** Looks at a variant everywhere; `first` is done at each stop before the picture is taken. */
  async look(
    variant: string,
    {
      first,
      whole = false,
      atRest = false,
    }: {
      first?: (visit: Visit, viewport: FoldViewport) => Promise<void>;
      /** The whole page's layout at the chosen viewports, too. */
      whole?: boolean;
      atRest?: boolean;
    } = {},
  ): Promise<Look[]> {
    const looks = new Map<FoldViewport, Look>();
    for (const { fresh, resized } of this.tours()) {
      await this.#stage.visit(variant, fresh, async (visit) => {
        for (const viewport of [fresh, ...resized]) {
          if (viewport !== fresh) await resizeTo(visit, viewport);
          await first?.(visit, viewport);
          looks.set(
            viewport,
            await lookAt(visit, viewport, {
              whole: whole && viewport === fresh,
              atRest,
              masked: this.#masked,
              moving: this.#stage.movingPictures,
            }),
          );
        }
      });
    }
    return this.everywhere.map((viewport) => looks.get(viewport)!);
  }

  /** The layout of the whole page as a variant, everywhere. */
  async layouts(variant: string): Promise<PageLayout[]> {
    const layouts = new Map<FoldViewport, PageLayout>();
    for (const { fresh, resized } of this.tours())
      await this.#stage.visit(variant, fresh, async (visit) => {
        for (const viewport of [fresh, ...resized]) {
          if (viewport !== fresh) await resizeTo(visit, viewport);
          await visit.inPage.call('holdStill');
          const asked = { foldHeight: foldOf(viewport), viewport, everything: true };
          layouts.set(viewport, await visit.inPage.call('readLayout', asked));
        }
      });
    return this.everywhere.map((viewport) => layouts.get(viewport)!);
  }

  /** The proof at each viewport, with the element and the rule for what still differs. */
  async at(
    references: readonly Look[],
    { looks, differences }: { looks: readonly Look[]; differences: readonly LookDifference[] },
  ): Promise<PicturedProof[]> {
    const proofs: PicturedProof[] = [];
    for (const [index, viewport] of this.everywhere.entries()) {
      const [reference, look, difference] = [references[index]!, looks[index]!, differences[index]!];
      const blank = await isBlank(reference.picture);
      const holds = !blank && holdsHere(difference);
      proofs.push({
        ...viewport,
        between: this.#between.includes(viewport),
        differingPixelShare: difference.picture.share,
        largestRegionPixels: difference.picture.regions[0]?.pixels ?? 0,
        otherElements: difference.others.length,
        maskedShare: difference.picture.masked,
        unsteady: reference.unsteady && {
          share: difference.picture.unsteady,
          elements: reference.unsteady.elements,
        },
        undecided: difference.picture.unsteady > MOST_MASKED,
        blank,
        holds,
        differences: holds ? [] : await this.#mark(viewport, difference),
        elements: reference.layout.boxes
          .filter((box) => box.above && box.width > 0 && box.height > 0)
          .slice(0, MOST_ELEMENTS)
          .map(({ selector, left, top, width, height }) => ({ selector, left, top, width, height })),
        allCss: reference.picture,
        foldOnly: look.picture,
        difference: await drawDifference(reference.picture, look.picture, comparedArea(reference, look)),
      });
    }
    return proofs;
  }

  /** Names, for what still differs, the element and the rule that it lacks. */
  async #mark(viewport: FoldViewport, difference: LookDifference): Promise<MarkedDifference[]> {
    const places = difference.picture.regions.slice(0, MOST_MARKED).map((region) => {
      const [x, y] = [region.left + region.width / 2, region.top + region.height / 2];
      const there = difference.others
        .filter(
          ({ box }) =>
            box.left <= x && box.left + box.width >= x && box.top <= y && box.top + box.height >= y,
        )
        .sort((a, b) => a.box.width * a.box.height - b.box.width * b.box.height)[0];
      return { region, other: there ?? null };
    });
    if (places.length === 0)
      for (const other of difference.others.slice(0, MOST_MARKED)) {
        const { left, top, width, height } = other.box;
        places.push({ region: { left, top, width, height, pixels: 0 }, other });
      }
    return this.#stage.visit(AS_AUTHORED, viewport, async (visit) => {
      const marked: MarkedDifference[] = [];
      for (const { region, other } of places) {
        const rule =
          other && other.property !== null
            ? await visit.inPage.call('ruleSetting', { path: other.box.path, property: other.property })
            : null;
        marked.push({
          ...region,
          element: other?.box.selector ?? null,
          property: other?.property ?? null,
          rule,
        });
      }
      return marked;
    });
  }
}

/** Whether picture, boxes and computed values are the same at a viewport. */
export function holdsHere({ picture, others }: LookDifference): boolean {
  return (
    picture.share <= PROOF_LIMIT &&
    (picture.regions[0]?.pixels ?? 0) <= REGION_LIMIT &&
    picture.masked <= MOST_MASKED &&
    picture.unsteady <= MOST_MASKED &&
    others.length === 0
  );
}
