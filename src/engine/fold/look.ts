import { setTimeout as sleep } from 'node:timers/promises';
import type { Area } from '../../core/fold/record.ts';
import { foldOf, type FoldViewport } from '../../core/fold/viewports.ts';
import type { Visit } from '../chromium/visit.ts';
import { takePicture } from '../load/picture.ts';
import type { FoldBox, PageLayout } from '../../in-page/layout.ts';
import { comparePictures, type Compared, type PictureComparison } from './pictures.ts';

/** What a variant of the page looks like at a viewport. */
export interface Look {
  viewport: FoldViewport;
  picture: Uint8Array;
  /** Of what lies above and beside the fold. */
  layout: PageLayout;
  /** Of the whole page, where it was asked for. */
  whole: PageLayout | null;
  /** Where elements stand that are not compared. */
  masks: Area[];
  /** Where canvases, films and moving pictures stand: they are held to their boxes. */
  free: Area[];
  /** Of a reference: areas in which the page is not the same twice, and the elements there. */
  unsteady: { areas: Area[]; elements: string[] } | null;
}

/** What is looked at, and how. */
export interface Wanted {
  /** The whole page's layout as well. */
  whole: boolean;
  /** Wait until the picture rests. */
  atRest: boolean;
  /** Selectors of what the user took out. */
  masked: string[];
  /** Addresses of pictures that move by themselves. */
  moving: readonly string[];
}

/** Looks at a page as it stands in a visit. Its animations are frozen from then on. */
export async function lookAt(visit: Visit, viewport: FoldViewport, want: Wanted): Promise<Look> {
  const foldHeight = foldOf(viewport);
  const { width } = viewport;
  const free = await visit.inPage.call('movingBoxes', { urls: [...want.moving], width });
  const picture = await (want.atRest ? restingPicture(visit, { free }) : takePicture(visit));
  return {
    viewport,
    picture,
    layout: await visit.inPage.call('readLayout', { foldHeight, viewport, everything: false }),
    whole: want.whole
      ? await visit.inPage.call('readLayout', { foldHeight, viewport, everything: true })
      : null,
    masks: want.masked.length ? await visit.inPage.call('boxesOf', { selectors: want.masked, width }) : [],
    free,
    unsteady: null,
  };
}

/** A picture that has not changed for so long rests, ms; waited for at most so often. */
const REST_MS = 400;
const MOST_RESTS = 10;

/** The page's picture once it no longer changes; of one that never rests, the last. */
async function restingPicture(visit: Visit, compared: Compared): Promise<Uint8Array> {
  let before = await takePicture(visit);
  for (let wait = 0; wait < MOST_RESTS; wait++) {
    await sleep(REST_MS);
    const now = await takePicture(visit);
    if ((await comparePictures(before, now, compared)).regions.length === 0) return now;
    before = now;
  }
  return before;
}

/** An element that stands or looks otherwise, and in what. */
export interface OtherBox {
  box: FoldBox;
  /** The first computed value that differs; null where only its place or size does. */
  property: string | null;
}

/** How a look differs from the one it is held against. */
export interface LookDifference {
  picture: PictureComparison;
  /** Elements above the fold that are missing, placed or styled otherwise. */
  others: OtherBox[];
}

/** Boxes may differ by this much, CSS px: rounding of layout units. */
export const BOX_TOLERANCE = 1;

/** Compares what is above the fold. */
export async function compareLooks(reference: Look, test: Look): Promise<LookDifference> {
  return {
    picture: await comparePictures(reference.picture, test.picture, comparedArea(reference, test)),
    others: otherBoxes(
      reference.layout,
      test.layout,
      foldOf(reference.viewport),
      reference.viewport.width,
      reference.masks,
    ),
  };
}

/** How far down two looks are compared, and the areas that are not. */
export function comparedArea(reference: Look, test: Look): Compared {
  return {
    rows: foldOf(reference.viewport),
    masks: [...reference.masks, ...test.masks],
    unsteady: reference.unsteady?.areas ?? [],
    free: [...reference.free, ...test.free],
  };
}

/** Elements of the reference that the other layout lacks, or has elsewhere or otherwise. */
export function otherBoxes(
  reference: PageLayout,
  test: PageLayout,
  height: number,
  width: number,
  masks: readonly Area[] = [],
): OtherBox[] {
  const found = new Map(test.boxes.map((box) => [box.path, box]));
  const others: OtherBox[] = [];
  for (const box of reference.boxes) {
    if (!box.above && height !== Infinity) continue;
    if (masks.some((mask) => liesIn(box, mask))) continue;
    const other = found.get(box.path);
    if (!other) {
      others.push({ box, property: null });
      continue;
    }
    const at = box.style.findIndex((value, index) => value !== null && value !== other.style[index]);
    if (at >= 0) others.push({ box, property: reference.properties[at]! });
    else if (
      !box.loose &&
      edges(box, width, height).some(
        (edge, i) => Math.abs(edge - edges(other, width, height)[i]!) > BOX_TOLERANCE,
      )
    )
      others.push({ box, property: null });
  }
  return others;
}

/** Edges, cut to the fold: how far a box reaches below it does not matter. */
function edges(box: FoldBox, width: number, height: number): number[] {
  const clip = (value: number, most: number) => Math.min(Math.max(value, 0), most);
  return [
    clip(box.left, width),
    clip(box.top, height),
    clip(box.left + box.width, width),
    clip(box.top + box.height, height),
  ];
}

function liesIn(box: Area, mask: Area): boolean {
  return (
    box.left >= mask.left - 1 &&
    box.top >= mask.top - 1 &&
    box.left + box.width <= mask.left + mask.width + 1 &&
    box.top + box.height <= mask.top + mask.height + 1
  );
}

/**
 * Places of elements below the fold that shape what is above it: where something stands otherwise although all that
 * paints it is kept, the row or column that it stands in has another size, as something else in there has. A row that
 * centres what it holds is as high as its highest, down to that one's last line.
 *
 * @param reference whole layout of the page as authored
 * @param test whole layout with fold CSS only
 */
export function missedBelow(
  reference: PageLayout,
  test: PageLayout,
  { others }: Pick<LookDifference, 'others'>,
): string[] {
  const moved = others.filter(({ property }) => property === null).map(({ box }) => box.path);
  const outermost = moved.filter((path) => !moved.some((other) => path.startsWith(`${other}.`)));
  const around = new Set(outermost.map((path) => path.replace(/\.\d+$/, '')));
  const known = new Map(reference.boxes.map((box) => [box.path, box]));
  return test.boxes
    .filter((box) => {
      const before = known.get(box.path);
      if (!before || ![...around].some((path) => box.path.startsWith(`${path}.`))) return false;
      const size = Math.max(Math.abs(before.height - box.height), Math.abs(before.width - box.width));
      return size > BOX_TOLERANCE;
    })
    .map((box) => box.path);
}

function pathsAround(path: string): string[] {
  const steps = path.split('.');
  return steps.slice(1).map((_step, index) => steps.slice(0, index + 1).join('.'));
}

/**
 * Places of elements whose rules were missed: what stands or looks otherwise, what came into the fold
 * or reaches beyond the right edge without them, and what changed its size beside the fold.
 */
export function missedElements(reference: Look, test: Look, difference: LookDifference): string[] {
  const missed = new Set(difference.others.map(({ box }) => box.path));
  const known = new Map(reference.layout.boxes.map((box) => [box.path, box]));
  for (const box of test.layout.boxes) {
    const before = known.get(box.path);
    if (box.above && !before?.above) missed.add(box.path);
    // Beside the fold: a slide waiting at its right makes a row as high as it is itself.
    else if (before && !before.above && Math.abs(before.height - box.height) > BOX_TOLERANCE)
      missed.add(box.path);
  }
  if (test.layout.reach > reference.layout.reach) {
    const before = new Set(reference.layout.beyond);
    for (const path of test.layout.beyond) {
      // What reached as far before was held in by something around it.
      if (before.has(path)) for (const around of pathsAround(path)) missed.add(around);
      else missed.add(path);
    }
  }
  return [...missed];
}
