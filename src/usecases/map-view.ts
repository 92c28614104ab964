import { outsideHosts, type OutsideHost } from '../core/path/outside-hosts.ts';
import { waitsOf } from '../core/trial/rule-steps.ts';
import { assetsCsv } from '../core/path/assets-csv.ts';
import { differencesOf, IN_TIME, SIDE_BY_SIDE, type MapDifference } from '../core/path/differences.ts';
import { handOversOf, type HandOver } from '../core/path/hand-overs.ts';
import type { Finding, FindingInput } from '../core/path/findings/index.ts';
import type { Floor } from '../core/path/floor.ts';
import { piecesBetween } from '../core/path/main-thread.ts';
import { mapRun, type PageMap } from '../core/path/map.ts';
import { liveRequests } from '../core/har/har-requests.ts';
import { HEADLINE_NAMES, headlineOfSpreads } from '../core/measure/headline.ts';
import { yardsticksDiffer } from '../core/measure/yardstick.ts';
import { mapPage, type MappedPage, type TargetKind } from '../core/path/map-page.ts';
import { latestCapture, latestVisitorCapture } from '../store/captures.ts';
import type { Queries } from '../store/database.ts';
import { footnotesOf, type Footnote } from '../store/footnotes.ts';
import {
  comparableWith,
  earliestPaintOf,
  findMeasurement,
  framesOf,
  type Comparable,
  type FrameInfo,
} from '../store/measurements.ts';
import { ownerNames } from '../store/owners.ts';
import { latestFold, type StoredFold } from '../store/proofs.ts';
import { isSignedIn } from '../store/states.ts';
import { caveatsOf, emptyPaintOf } from './caveats.ts';
import { measuredPage, readMeasured, type MeasuredPage } from './stored-page.ts';

/** A stretch of time that was fully used. */
export interface Busy {
  startMs: number;
  endMs: number;
}

export interface MapView extends PageMap {
  floor: Floor | null;
  findings: Finding[];
  /** Where on the bill the wait passes from one asset to the next. */
  handOvers: HandOver[];
  frames: FrameInfo[];
  windowMs: number;
  /** When the main thread had no rest, and when the line was full. */
  threadBusy: Busy[];
  lineFull: Busy[];
  footnotes: Footnote[];
  /** The hosts that it asks besides its own. */
  hosts: OutsideHost[];
  /** Measurements that this one can be held against, the one before first. */
  comparable: Comparable[];
  /** What is not as it is in the one it is held against; null where there is none. */
  differences: {
    against: Comparable;
    paintMs: number | null;
    /** Why times cannot be compared, where they cannot. */
    apart: string | null;
    all: MapDifference[];
  } | null;
  /** Said with the first sentence where the first paint shows nothing. */
  emptyPaint: string | null;
  /** What is to be known with every figure. */
  caveats: string[];
  /** True for a HAR file without bodies: nothing could be replayed. */
  live: boolean;
}

/** What a map may be made with besides its measurement. */
export interface MapOptions {
  /** Another paint than the headline. */
  target?: TargetKind | undefined;
  earliestMs?: number | null;
  owners?: FindingInput['owners'];
  visitor?: FindingInput['visitor'];
}

/** A measured page's map, floor and findings. */
export function mapOf(
  page: MeasuredPage,
  fold: StoredFold | null,
  { target, earliestMs = null, owners = new Map(), visitor = null }: MapOptions = {},
): MappedPage {
  const seen = visitor && [...(visitor.urls ?? ['nothing'])];
  const key = JSON.stringify([fold?.id, target, earliestMs, [...owners], seen]);
  let known = mapped.get(page);
  if (!known) mapped.set(page, (known = new Map()));
  const before = known.get(key);
  if (before) return before;
  const made = mapPage({
    assets: page.assets,
    run: { ...page.medianRun, frames: page.frames },
    runs: page.runs,
    conditions: page.measurement.conditions,
    fold,
    headline: headlineOfSpreads(page.measurement.spreads),
    earliestMs,
    ...(target ? { target } : {}),
    owners,
    visitor,
  });
  known.set(key, made);
  return made;
}

/** Maps of pages read before: the same measurement, fold CSS and paint give the same map. */
const mapped = new WeakMap<MeasuredPage, Map<string, MappedPage>>();

/** What the Map stage shows; null when the page was neither measured nor read from a file. */
export async function mapView(
  queries: Queries,
  pageId: number,
  conditionsId: string,
  /** Another paint for the bill than the headline. */
  target?: TargetKind,
  againstId: number | null = null,
): Promise<MapView | null> {
  const page = await measuredPage(queries, pageId, conditionsId);
  if (!page) return liveView(queries, pageId);
  const headline = headlineOfSpreads(page.measurement.spreads);
  const [fold, earliestMs, footnotes, owners, visitor, comparable] = await Promise.all([
    latestFold(queries, pageId),
    earliestPaintOf(queries, page.measurement, headline),
    footnotesOf(queries, pageId),
    ownerNames(queries),
    visitorOf(queries, page),
    comparableWith(queries, page.measurement),
  ]);
  const { map, floor, findings } = mapOf(page, fold, { target, earliestMs, owners, visitor });
  const { work, windowMs, requests } = page.medianRun;
  const floorWords =
    floor && map.target?.kind === HEADLINE_NAMES[headline]
      ? ` This page could paint at ${Math.round(floor.atMs).toLocaleString('en-GB')} ms.`
      : '';
  return {
    ...map,
    sentence: map.sentence + floorWords,
    emptyPaint: emptyPaintOf(page.measurement),
    caveats: caveatsOf(page.measurement),
    floor,
    findings,
    handOvers: handOversOf(map.paintBill, map.assets),
    frames: await framesOf(queries, page.medianRun.id),
    windowMs,
    threadBusy: piecesBetween(work, 0, windowMs).filter(
      ({ use, startMs, endMs }) => use !== null && use !== 'draw' && endMs - startMs >= 20,
    ),
    lineFull: fullLine(requests, page.measurement.conditions.downKbps),
    footnotes,
    hosts: outsideHosts(page.assets, requests, map.target?.atMs ?? null),
    comparable,
    differences: await differencesFrom(queries, page, comparable, againstId, map),
    live: false,
  };
}

/** The asset table as CSV; null when the page was not measured. */
export async function assetTable(
  queries: Queries,
  pageId: number,
  conditionsId: string,
  target?: TargetKind,
): Promise<string | null> {
  const map = await mapView(queries, pageId, conditionsId, target);
  return map && assetsCsv(map.assets);
}

/** How long the headline waited for each address, or would be earlier without it, ms; null when the page was not measured. */
export async function waitedFor(
  queries: Queries,
  pageId: number,
  conditionsId: string,
): Promise<Map<string, number> | null> {
  const map = await mapView(queries, pageId, conditionsId);
  return map && waitsOf(map.assets);
}

/** Windows of a tenth of a second in which responses took nearly all that the line carries. */
function fullLine(
  requests: readonly { firstByteMs: number | null; endMs: number | null; wireBytes: number }[],
  downKbps: number,
): Busy[] {
  const WINDOW_MS = 100;
  const full: Busy[] = [];
  const last = Math.max(0, ...requests.map((one) => one.endMs ?? 0));
  for (let at = 0; at < last; at += WINDOW_MS) {
    let carried = 0;
    for (const { firstByteMs: start, endMs: end, wireBytes } of requests) {
      if (start === null || end === null) continue;
      const overlap = Math.min(end, at + WINDOW_MS) - Math.max(start, at);
      if (overlap > 0) carried += wireBytes * Math.min(1, overlap / Math.max(1, end - start));
    }
    if (carried < 0.8 * ((WINDOW_MS * downKbps) / 8)) continue;
    const before = full.at(-1);
    if (before && before.endMs === at) before.endMs = at + WINDOW_MS;
    else full.push({ startMs: at, endMs: at + WINDOW_MS });
  }
  return full;
}

/** Against the measurement asked for; otherwise against the one before, where there is one. */
async function differencesFrom(
  queries: Queries,
  page: MeasuredPage,
  comparable: readonly Comparable[],
  againstId: number | null,
  map: PageMap,
): Promise<MapView['differences']> {
  const against =
    comparable.find((one) => one.id === againstId) ?? comparable.find((one) => one.relation === 'before');
  if (!against) return null;
  const measurement = await findMeasurement(queries, against.id);
  const other = measurement && (await readMeasured(queries, measurement));
  if (!other) return null;
  const there = mapOf(other, null, { target: map.target?.kind }).map;
  const sides = against.relation === 'before' ? IN_TIME : SIDE_BY_SIDE;
  return {
    against,
    paintMs: there.target?.atMs ?? null,
    apart: yardsticksDiffer(other.measurement.yardstick, page.measurement.yardstick),
    all: differencesOf(there, map, sides),
  };
}

/** What any visitor's newest capture asked for, where this one was made with a sign-in or steps. */
async function visitorOf(queries: Queries, page: MeasuredPage): Promise<FindingInput['visitor']> {
  if (!(await isSignedIn(queries, page.captureId))) return null;
  const capture = await latestVisitorCapture(queries, page.measurement.pageId);
  return { urls: capture && new Set(capture.exchanges.map((one) => one.url)) };
}

/** A HAR without bodies: its requests as they were, no paint and no bill. */
async function liveView(queries: Queries, pageId: number): Promise<MapView | null> {
  const stored = await latestCapture(queries, pageId);
  if (!stored) return null;
  const { capture } = stored;
  const map = mapRun({
    documentUrl: capture.documentUrl,
    requests: liveRequests(capture),
    work: [],
    headline: null,
    ruleUsage: [],
    hidingEndedBy: [],
  });
  return {
    ...map,
    sentence:
      'This page was not replayed under these conditions: its requests are listed as they were, and first paint is not known.',
    floor: null,
    findings: [],
    handOvers: [],
    frames: [],
    windowMs: 0,
    threadBusy: [],
    lineFull: [],
    footnotes: await footnotesOf(queries, pageId),
    hosts: [],
    comparable: [],
    differences: null,
    emptyPaint: null,
    caveats: [],
    live: true,
  };
}
