import type { MainThreadWork } from '../measure/run.ts';

/** What a stretch of the main thread was for, as the bill says it; where it rested, what was drawn meanwhile. */
export type ThreadUse = 'running' | 'parse' | 'style' | 'paint' | 'work' | 'draw';

export const USE_OF: Record<MainThreadWork['kind'], ThreadUse> = {
  evaluate: 'running',
  call: 'running',
  'parse-html': 'parse',
  'parse-css': 'style',
  style: 'style',
  layout: 'style',
  paint: 'paint',
  task: 'work',
  draw: 'draw',
};

/** The most telling kind first: of nested slices it is the inner one that says what was done. */
const TELLING: readonly MainThreadWork['kind'][] = [
  'evaluate',
  'call',
  'parse-css',
  'style',
  'layout',
  'paint',
  'parse-html',
  'task',
  'draw',
];

/** Stretches shorter than this go with their neighbour: an account, not a log. */
export const LEAST_MS = 4;

/** A stretch of the main thread put to one use; null where it rested. */
export interface ThreadPiece {
  use: ThreadUse | null;
  /** The script that ran or the stylesheet that was read, where it has an address. */
  url: string | null;
  startMs: number;
  endMs: number;
}

/** The main thread between two moments as pieces in order, each of one use, without gap or overlap. */
export function piecesBetween(work: readonly MainThreadWork[], fromMs: number, toMs: number): ThreadPiece[] {
  const within = work.filter((one) => one.endMs > fromMs && one.startMs < toMs);
  const edges = [
    ...new Set([
      fromMs,
      toMs,
      ...within.flatMap((one) => [Math.max(fromMs, one.startMs), Math.min(toMs, one.endMs)]),
    ]),
  ].sort((a, b) => a - b);
  const pieces: ThreadPiece[] = [];
  for (let index = 0; index + 1 < edges.length; index++) {
    const [startMs, endMs] = [edges[index]!, edges[index + 1]!];
    const middle = (startMs + endMs) / 2;
    let best: MainThreadWork | null = null;
    for (const one of within) {
      if (one.startMs > middle || one.endMs < middle) continue;
      if (!best || TELLING.indexOf(one.kind) < TELLING.indexOf(best.kind)) best = one;
    }
    const use = best && USE_OF[best.kind];
    const ofAsset = use === 'running' || best?.kind === 'parse-css';
    append(pieces, { use, url: ofAsset ? best!.url : null, startMs, endMs });
  }
  return withoutCrumbs(pieces);
}

function append(pieces: ThreadPiece[], piece: ThreadPiece): void {
  const before = pieces.at(-1);
  if (before && before.use === piece.use && before.url === piece.url) before.endMs = piece.endMs;
  else pieces.push({ ...piece });
}

/** Crumbs go to the piece before them (the first one to the piece after it). */
function withoutCrumbs(pieces: readonly ThreadPiece[]): ThreadPiece[] {
  const kept: ThreadPiece[] = [];
  for (const piece of pieces) {
    const before = kept.at(-1);
    if (before && piece.endMs - piece.startMs < LEAST_MS) before.endMs = piece.endMs;
    else append(kept, piece);
  }
  const [first, second] = kept;
  if (first && second && first.endMs - first.startMs < LEAST_MS) {
    second.startMs = first.startMs;
    kept.shift();
  }
  return kept;
}

/** What the browser itself takes before it parses a page, and from its layout to the screen. */
export interface OwnTime {
  /** Its own work between a page's first byte and the beginning of parsing: it takes the new page over, ms. */
  beginMs: number;
  /** From the last layout before a paint until it is on screen, painting itself not counted, ms. */
  toScreenMs: number;
}

/** The browser's own time around a paint, as it was in a run. */
export function ownTimeOf(work: readonly MainThreadWork[], firstByteMs: number, paintMs: number): OwnTime {
  const parsing = work.filter((one) => one.kind === 'parse-html' && one.startMs >= firstByteMs);
  const begunMs = Math.min(paintMs, ...parsing.map((one) => one.startMs));
  const laidOut = work.filter((one) => USE_OF[one.kind] === 'style' && one.endMs <= paintMs);
  const laidOutMs = Math.max(...laidOut.map((one) => one.endMs), begunMs);
  return {
    beginMs: usedFor(work, ['work'], firstByteMs, begunMs),
    toScreenMs: paintMs - laidOutMs - usedFor(work, ['paint'], laidOutMs, paintMs),
  };
}

/** What of a page's work its earliest paint needs, as shares from 0 to 1. */
export interface NeededShares {
  /** What the fold CSS is of its stylesheets; 1 where none was made. */
  sheets: number;
  /** How much of its HTML leads down to the last element above the fold; 1 where that is not known. */
  html: number;
}

/**
 * Work beyond parsing that any paint of a page needs between two moments, ms: style, layout and paint, as they were.
 * Of reading stylesheets it needs only the share that the fold CSS is of them. Of matching them to elements about
 * half goes with the number of rules, and of matching and laying out about half with the number of elements (found
 * by replaying: with fold CSS alone matching took 35 to 60 % of the time; laying out a page of which 44 % leads down
 * to the fold took 62 to 71 %).
 */
export function neededFor(
  work: readonly MainThreadWork[],
  fromMs: number,
  toMs: number,
  { sheets, html }: NeededShares,
): number {
  const of = (kind: MainThreadWork['kind']) =>
    usedFor(
      work.filter((one) => one.kind === kind),
      ['style'],
      fromMs,
      toMs,
    );
  const [reading, matching, layout] = [of('parse-css'), of('style'), of('layout')];
  const painting = usedFor(work, ['style', 'paint'], fromMs, toMs) - reading - matching - layout;
  const half = (share: number) => (1 + share) / 2;
  return Math.max(0, painting + reading * sheets + (matching * half(sheets) + layout) * half(html));
}

/** How long the main thread was put to uses between two moments, ms. */
export function usedFor(
  work: readonly MainThreadWork[],
  uses: readonly ThreadUse[],
  fromMs: number,
  toMs: number,
): number {
  return piecesBetween(work, fromMs, toMs)
    .filter((piece) => piece.use !== null && uses.includes(piece.use))
    .reduce((sum, piece) => sum + piece.endMs - piece.startMs, 0);
}
