import type { FoldRecord } from '../fold/record.ts';
import { readFonts, waitsForFont } from '../fonts/page-fonts.ts';
import type { Conditions } from '../measure/conditions.ts';
import { contentEncodingOf } from '../measure/headers.ts';
import { HEADLINE_NAMES, type HeadlineKey } from '../measure/headline.ts';
import { documentRequest, type RunObservation } from '../measure/run.ts';
import { completeFrom } from '../frames/speed-index.ts';
import { bytesDownTo } from '../html/document.ts';
import { findingsOf, type Finding, type FindingInput } from './findings/index.ts';
import { floorAmong, floorOf, type Floor } from './floor.ts';
import type { PaintTarget } from './graph.ts';
import { neededFor, ownTimeOf, usedFor } from './main-thread.ts';
import { mapRun, type PageMap } from './map.ts';
import { findHiding } from '../treat/hiding.ts';
import type { PageAssets } from '../page/page-assets.ts';
import type { FoldOutcome } from '../treat/scene.ts';

export type TargetKind = PaintTarget['kind'];

/** A run without what a map needs not. */
export type MappedRun = Pick<RunObservation, 'requests' | 'work' | 'metrics' | 'longTasks' | 'lcpUrl'> & {
  frames: { atMs: number; completeness: number }[];
};

/** What of fold CSS a map goes by. */
export type MappedFold = FoldOutcome &
  Pick<FoldRecord, 'foldBytes' | 'foldCompressedBytes' | 'sourceBytes' | 'fingerprint'>;

export interface MapRequest {
  assets: PageAssets;
  run: MappedRun;
  /** All runs of the measurement, that one among them: the floor is found from them. */
  runs: readonly Pick<RunObservation, 'requests' | 'work' | 'metrics'>[];
  conditions: Conditions;
  fold: MappedFold | null;
  /** What everything is told by: floor and gains are of it. */
  headline: HeadlineKey;
  /** The earliest headline of any variant measured under these conditions. */
  earliestMs: number | null;
  /** Another paint for the bill. */
  target?: TargetKind;
  /** Names the user gave to owners of third-party domains. */
  owners?: FindingInput['owners'];
  /** What any visitor's capture asked for, where this one is not such a one. */
  visitor?: FindingInput['visitor'];
}

export interface MappedPage {
  map: PageMap;
  floor: Floor | null;
  findings: Finding[];
}

/** The fold counts as complete from this share on. */
const FOLD_COMPLETE = 0.95;

/** Maps a captured page by one of its runs: holds, bill, floor and findings. */
export function mapPage(request: MapRequest): MappedPage {
  const { run, conditions, assets, fold } = request;
  const { capture } = assets.captured;
  const headline = targetOf(run, HEADLINE_NAMES[request.headline]);
  const target = request.target ? targetOf(run, request.target) : headline;
  const fonts = readFonts(assets.captured, fold?.foldFonts ?? []);
  // The observed load may have had another viewport: the run's own largest paint is asked first.
  const lcpUrl = run.lcpUrl === undefined ? (capture.observations.lcp?.url ?? null) : run.lcpUrl;
  const map = mapRun({
    documentUrl: capture.documentUrl,
    requests: run.requests,
    work: run.work,
    headline,
    blockingFonts: new Set(
      run.requests.flatMap(({ kind, url }) => {
        // Of a face that no sheet declares nothing is known but what CSS says where nothing is said.
        const font = fonts.find((one) => one.url === url) ?? { display: null, aboveFold: true };
        return kind === 'font' && waitsForFont(font) && (font.aboveFold || !fold) ? [url] : [];
      }),
    ),
    ruleUsage: capture.observations.ruleUsage,
    hidingEndedBy: findHiding(assets).flatMap((hiding) =>
      hiding.enders.map((ender) => ender.element.url ?? ''),
    ),
    contentLine: assets.document.contentLine,
    lcpUrl,
    foldImages: [...capture.observations.boxes, ...capture.observations.backgrounds].flatMap(
      (one) => one.url ?? [],
    ),
    line: {
      downKbps: conditions.downKbps,
      roundTripMs: conditions.roundTripMs,
      serverMs: new Map(capture.exchanges.map((one) => [one.url, one.serverMs])),
    },
    ...(target ? { target } : {}),
  });
  return {
    map,
    floor: floorAmong(request.runs.flatMap((one) => floorOfRun(request, one) ?? [])),
    findings: findingsOf({
      map,
      capture,
      conditions,
      work: run.work,
      longTasks: run.longTasks,
      owners: request.owners ?? new Map(),
      visitor: request.visitor ?? null,
      html: assets.document,
      text: (url) => assets.captured.text(url),
      fold: fold && {
        kept: fold.sheets.flatMap((sheet) => sheet.kept),
        rulesOf: (url) =>
          capture.observations.ruleUsage.find((one) => one.url === url)?.rules ??
          fold.sheets.find((sheet) => sheet.url === url)?.rules ??
          null,
        fonts: fold.foldFonts,
      },
    }),
  };
}

function targetOf(run: MappedRun, kind: TargetKind): PaintTarget | null {
  const at = {
    'first paint': run.metrics.firstPaintMs,
    'first contentful paint': run.metrics.firstContentfulPaintMs,
    'largest contentful paint': run.metrics.largestContentfulPaintMs,
    fold: completeFrom(run.frames, FOLD_COMPLETE),
  }[kind];
  return at === null ? null : { kind, atMs: at };
}

function floorOfRun(
  { assets, conditions, fold, headline, earliestMs }: MapRequest,
  run: MapRequest['runs'][number],
): Floor | null {
  const paint = run.metrics[headline];
  const { captured } = assets;
  const page = captured.exchange(captured.url);
  const document = documentRequest(run.requests);
  if (paint === null || !page || !document) return null;
  const html = captured.document;
  const from = document.firstByteMs ?? 0;
  const redirected = run.requests.some(
    ({ discovery, startMs }) => discovery.by === 'navigation' && startMs < document.startMs,
  );
  // Only down to the last element above the fold is the HTML needed; its compressed size goes with that.
  const toFold = fold?.fingerprint ? bytesDownTo(html, fold.fingerprint.structure.length) : html.bytes.length;
  const foldShare = html.bytes.length ? toFold / html.bytes.length : 1;
  return floorOf({
    conditions,
    secure: captured.url.startsWith('https:') || conditions.protocol === 'production',
    redirectMs: redirected ? document.startMs : 0,
    serverMs: page.serverMs,
    htmlBytes: page.wireBytes * foldShare,
    foldBytes: fold && (contentEncodingOf(page.responseHeaders) ? fold.foldCompressedBytes : fold.foldBytes),
    ownTime: ownTimeOf(run.work, from, paint),
    parseMs: usedFor(run.work, ['parse'], from, paint) * foldShare,
    workMs: neededFor(run.work, from, paint, {
      sheets: fold?.sourceBytes ? fold.foldBytes / fold.sourceBytes : 1,
      html: foldShare,
    }),
    earliestMs,
  });
}
