import type { Area } from '../../core/fold/record.ts';
import { AS_AUTHORED } from './fold-stage.ts';
import { holdsHere, type FoldProof } from './fold-proof.ts';
import type { PageLayout } from '../../in-page/layout.ts';
import { BOX_TOLERANCE, compareLooks, type Look, type LookDifference } from './look.ts';
import { comparePictures, MOST_REGIONS } from './pictures.ts';

/** What a variant is like, held against the page as authored. */
export interface HeldAgainst {
  looks: Look[];
  differences: LookDifference[];
}

/** A mask reaches this far beyond what differs, CSS px: the next load may differ a little further. */
const MARGIN = 3;
const MOST_NAMES = 3;

/**
 * The page as authored, which its variants are held against. Not every page is the same twice: charts draw
 * themselves, scripts compute layouts. Where a variant differs, the page is looked at a second time, fresh and at
 * rest, and what its own two looks disagree in is nobody's fault: it is masked, and not held against a variant.
 */
export class References {
  #proof: FoldProof;
  #looks: Look[];
  #isSettled = false;

  constructor(proof: FoldProof, looks: Look[]) {
    this.#proof = proof;
    this.#looks = looks;
  }

  get looks(): readonly Look[] {
    return this.#looks;
  }

  /** Looks at a variant everywhere, and tells what differs from the page as authored. */
  async against(variant: string): Promise<HeldAgainst> {
    const held = await this.#hold(variant);
    if (this.#isSettled || held.differences.every(holdsHere)) return held;
    await this.settle();
    return this.#hold(variant);
  }

  async #hold(variant: string): Promise<HeldAgainst> {
    const looks = await this.#proof.look(variant, { atRest: this.#isSettled });
    const differences = await Promise.all(
      this.#looks.map((reference, index) => compareLooks(reference, looks[index]!)),
    );
    return { looks, differences };
  }

  /** Looks at the page as authored once more, at rest; from then on variants are looked at so as well. */
  async settle(): Promise<void> {
    if (this.#isSettled) return;
    this.#isSettled = true;
    const second = await this.#proof.look(AS_AUTHORED, { atRest: true, whole: true });
    const same = await Promise.all(this.#looks.map((one, index) => isSame(one, second[index]!)));
    if (same.every(Boolean)) return;
    // The first look may have been taken before the page was at rest.
    const third = await this.#proof.look(AS_AUTHORED, { atRest: true, whole: true });
    this.#looks = await Promise.all(second.map((one, index) => agreement(one, third[index]!)));
  }
}

async function isSame(one: Look, other: Look): Promise<boolean> {
  const { picture, others } = await compareLooks(one, other);
  return picture.regions.length === 0 && others.length === 0;
}

/** What two looks of the same page agree in: differing areas masked, differing boxes and values left open. */
async function agreement(one: Look, other: Look): Promise<Look> {
  const { width, height } = one.viewport;
  const free = [...one.free, ...other.free];
  const { regions } = await comparePictures(one.picture, other.picture, { free });
  const areas: Area[] =
    regions.length < MOST_REGIONS
      ? [...regions, ...movedAreas(one.layout, other.layout)].map((area) => ({
          left: area.left - MARGIN,
          top: area.top - MARGIN,
          width: area.width + 2 * MARGIN,
          height: area.height + 2 * MARGIN,
        }))
      : [{ left: 0, top: 0, width, height }];
  return {
    ...one,
    free,
    layout: agreedLayout(one.layout, other.layout),
    whole: one.whole && other.whole && agreedLayout(one.whole, other.whole),
    unsteady: areas.length ? { areas, elements: namesAt(one.layout, areas) } : null,
  };
}

/**
 * Where elements are that stand otherwise in the two looks: all of them, since a third look may differ elsewhere in
 * them. What only holds such elements is masked with them.
 */
function movedAreas(one: PageLayout, other: PageLayout): Area[] {
  const found = new Map(other.boxes.map((box) => [box.path, box]));
  const moved = one.boxes.filter((box) => {
    const twin = found.get(box.path);
    return box.above && twin && isMoved(box, twin);
  });
  return moved
    .filter((box) => !moved.some((inner) => inner.path.startsWith(`${box.path}.`)))
    .map((box) => union(box, found.get(box.path)!));
}

function isMoved(one: Area, other: Area): boolean {
  return (['left', 'top', 'width', 'height'] as const).some(
    (edge) => Math.abs(one[edge] - other[edge]) > BOX_TOLERANCE,
  );
}

function union(one: Area, other: Area): Area {
  const [left, top] = [Math.min(one.left, other.left), Math.min(one.top, other.top)];
  const right = Math.max(one.left + one.width, other.left + other.width);
  const bottom = Math.max(one.top + one.height, other.top + other.height);
  return { left, top, width: right - left, height: bottom - top };
}

function agreedLayout(one: PageLayout, other: PageLayout): PageLayout {
  const found = new Map(other.boxes.map((box) => [box.path, box]));
  return {
    ...one,
    boxes: one.boxes.flatMap((box) => {
      const twin = found.get(box.path);
      // What is not there each time cannot be missed.
      if (!twin) return [];
      return [
        {
          ...box,
          loose: isMoved(box, twin),
          style: box.style.map((value, index) => (value === twin.style[index] ? value : null)),
        },
      ];
    }),
  };
}

/** The smallest elements around the middle of each area. */
function namesAt({ boxes }: PageLayout, areas: readonly Area[]): string[] {
  const names = areas.flatMap((area) => {
    const [x, y] = [area.left + area.width / 2, area.top + area.height / 2];
    const there = boxes.filter(
      (box) => box.left <= x && box.left + box.width >= x && box.top <= y && box.top + box.height >= y,
    );
    there.sort((a, b) => a.width * a.height - b.width * b.height);
    return there[0]?.selector ?? [];
  });
  return [...new Set(names)].slice(0, MOST_NAMES);
}
