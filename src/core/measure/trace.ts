import { countedShifts, cumulativeShift, type LayoutShift } from './layout-shift.ts';
import type { LongTask, MainThreadWork } from './run.ts';

/** One event of Chromium's trace, as far as it is read here. Times are microseconds on the monotonic clock. */
export interface TraceEvent {
  name: string;
  cat?: string;
  ph: string;
  ts: number;
  dur?: number;
  pid: number;
  tid: number;
  args?: {
    frame?: string;
    snapshot?: string;
    url?: string;
    styleSheetUrl?: string;
    name?: string;
    data?: {
      url?: string;
      frame?: string;
      isMainFrame?: boolean;
      isOutermostMainFrame?: boolean;
      documentLoaderURL?: string;
      score?: number;
      /** The score weighted by the share of the window that a frame within the page takes. */
      weighted_score_delta?: number;
      candidateIndex?: number;
      nodeName?: string;
      nodeId?: number;
      type?: string;
      styleSheetUrl?: string;
    };
    beginData?: { url?: string; frame?: string };
  };
}

export interface TraceFigures {
  /** Navigation start on the trace's clock, microseconds. */
  navigationStartUs: number;
  firstPaintMs: number | null;
  firstContentfulPaintMs: number | null;
  largestContentfulPaintMs: number | null;
  lcpElement: string | null;
  lcpUrl: string | null;
  domReadyMs: number | null;
  loadMs: number | null;
  cumulativeLayoutShift: number;
  totalBlockingMs: number;
  wholeLoadBlockingMs: number;
  longTasks: LongTask[];
  work: MainThreadWork[];
  /** Base64 JPEGs with their time. */
  screenshots: { atMs: number; base64: string }[];
}

const LONG_TASK_MS = 50;

const WORK: ReadonlyMap<string, MainThreadWork['kind']> = new Map([
  ['EvaluateScript', 'evaluate'],
  ['FunctionCall', 'call'],
  ['ParseHTML', 'parse-html'],
  ['ParseAuthorStyleSheet', 'parse-css'],
  ['UpdateLayoutTree', 'style'],
  ['Layout', 'layout'],
  ['Paint', 'paint'],
  ['RunTask', 'task'],
]);

/** What the page's renderer does outside its main thread to bring pixels on the screen. */
const DRAWING = new Set(['RasterTask', 'ImageDecodeTask']);

/** A trace of another page, or one that the page's own process did not hand over in time. */
export class NoNavigation extends Error {
  constructor() {
    super('The trace holds no navigation to the page.');
  }
}

/**
 * Reads the figures of one page load out of a trace.
 *
 * @param events the trace's events, in any order
 * @param documentUrl the page's address after redirects: of several navigations, its own is read
 * @param untilMs end of the observation window; what came later is not counted
 * @throws NoNavigation when the trace holds none to the page
 */
export function readTrace(
  events: readonly TraceEvent[],
  documentUrl: string,
  untilMs = Infinity,
): TraceFigures {
  const sorted = events.filter((e) => !isOfScripts(e)).sort((a, b) => a.ts - b.ts);
  const navigation = findNavigation(sorted, documentUrl);
  if (!navigation) throw new NoNavigation();
  const { pid, tid } = navigation;
  const frame = navigation.args?.frame;
  const since = (ts: number) => (ts - navigation.ts) / 1000;

  const mark = (name: string) => {
    const found = sorted.filter(
      (e) => e.name === name && e.pid === pid && e.ts >= navigation.ts && ofFrame(e, frame),
    );
    return found.map((e) => ({ atMs: since(e.ts), event: e })).filter((m) => m.atMs <= untilMs);
  };
  const candidates = mark('largestContentfulPaint::Candidate');
  const lcp = candidates.at(-1);
  const mainThread = sorted.filter(
    (e) => e.pid === pid && e.tid === tid && e.ph === 'X' && e.ts >= navigation.ts,
  );

  const drawing = sorted.filter(
    (e) => e.pid === pid && e.tid !== tid && e.ph === 'X' && e.ts >= navigation.ts && DRAWING.has(e.name),
  );

  const longTasks: LongTask[] = mainThread
    .filter((e) => e.name === 'RunTask' && (e.dur ?? 0) / 1000 > LONG_TASK_MS && since(e.ts) <= untilMs)
    .map((e) => ({
      startMs: since(e.ts),
      endMs: Math.min(since(e.ts + (e.dur ?? 0)), untilMs),
      script: longestScript(mainThread, e),
    }));
  const fcp = mark('firstContentfulPaint')[0]?.atMs ?? null;

  return {
    navigationStartUs: navigation.ts,
    firstPaintMs: mark('firstPaint')[0]?.atMs ?? null,
    firstContentfulPaintMs: fcp,
    largestContentfulPaintMs: lcp?.atMs ?? null,
    lcpElement: lcp?.event.args?.data?.nodeName ?? lcp?.event.args?.data?.type ?? null,
    lcpUrl: lcp ? paintedImage(mainThread, lcp.event) : null,
    // The empty document that was there before ends its loading after navigation start too: the last counts.
    domReadyMs: mark('domContentLoadedEventEnd').at(-1)?.atMs ?? null,
    loadMs: mark('loadEventEnd').at(-1)?.atMs ?? null,
    // Nothing is pressed and no viewport changed while a load is traced: every shift counts.
    cumulativeLayoutShift: cumulativeShift(countedShifts(shiftsIn(sorted, navigation, untilMs))),
    totalBlockingMs: blockingTime(longTasks, fcp),
    wholeLoadBlockingMs: blockingTime(longTasks, null),
    longTasks,
    work: [...mainThread, ...drawing].flatMap((e) => {
      const kind = DRAWING.has(e.name) ? 'draw' : WORK.get(e.name);
      if (!kind) return [];
      const url =
        e.args?.data?.url ??
        e.args?.beginData?.url ??
        e.args?.data?.styleSheetUrl ??
        e.args?.styleSheetUrl ??
        null;
      return [{ kind, url: url || null, startMs: since(e.ts), endMs: since(e.ts + (e.dur ?? 0)) }];
    }),
    screenshots: sorted
      .filter((e) => e.name === 'Screenshot' && e.args?.snapshot && since(e.ts) <= untilMs)
      .map((e) => ({ atMs: since(e.ts), base64: e.args!.snapshot! })),
  };
}

/** The image that was drawn for the node of a largest contentful paint; null where it is text. */
function paintedImage(mainThread: readonly TraceEvent[], candidate: TraceEvent): string | null {
  const { type, nodeId } = candidate.args?.data ?? {};
  if (type !== 'image') return null;
  const painted = mainThread.findLast(
    (e) =>
      e.name === 'PaintImage' &&
      e.ts <= candidate.ts &&
      e.args?.data?.nodeId === nodeId &&
      /^https?:/.test(e.args?.data?.url ?? ''),
  );
  return painted?.args?.data?.url ?? null;
}

/** The script that ran longest within a task: its evaluation and the calls of its functions. */
function longestScript(mainThread: readonly TraceEvent[], task: TraceEvent): string | null {
  const took = new Map<string, number>();
  const end = task.ts + (task.dur ?? 0);
  for (const event of mainThread) {
    if (event.name !== 'EvaluateScript' && event.name !== 'FunctionCall') continue;
    const url = event.args?.data?.url;
    if (!url || event.ts < task.ts || event.ts >= end) continue;
    took.set(url, (took.get(url) ?? 0) + (event.dur ?? 0));
  }
  return [...took].sort((a, b) => b[1] - a[1])[0]?.[0] ?? null;
}

function ofFrame(event: TraceEvent, frame: string | undefined): boolean {
  const own = event.args?.frame ?? event.args?.data?.frame;
  return own === undefined || frame === undefined || own === frame;
}

/** What a page's scripts put into the trace (User Timing): it may bear any name, the browser's own included. */
function isOfScripts({ cat, args }: TraceEvent): boolean {
  return cat === 'blink.user_timing' && args?.frame === undefined;
}

function findNavigation(sorted: readonly TraceEvent[], documentUrl: string): TraceEvent | undefined {
  const starts = sorted.filter(
    (e) => e.name === 'navigationStart' && e.args?.data?.isOutermostMainFrame !== false,
  );
  const bare = (url: string) => url.replace(/#.*$/, '');
  return (
    starts.findLast((e) => bare(e.args?.data?.documentLoaderURL ?? '') === bare(documentUrl)) ??
    starts.findLast((e) => (e.args?.data?.documentLoaderURL ?? '').startsWith('http'))
  );
}

/**
 * Total blocking time: what each long task took beyond 50 ms, after first contentful paint, over the whole
 * window (work that is put off still counts).
 */
export function blockingTime(
  tasks: readonly Pick<LongTask, 'startMs' | 'endMs'>[],
  fromMs: number | null,
): number {
  let sum = 0;
  for (const task of tasks) {
    const start = Math.max(task.startMs, fromMs ?? 0);
    sum += Math.max(0, task.endMs - start - LONG_TASK_MS);
  }
  return sum;
}

/** The layout shifts of the page and of frames in its process, until the window's end. */
function shiftsIn(sorted: readonly TraceEvent[], navigation: TraceEvent, untilMs: number): LayoutShift[] {
  return sorted.flatMap((event) => {
    if (event.name !== 'LayoutShift' || event.pid !== navigation.pid || event.ts < navigation.ts) return [];
    const data = event.args?.data;
    const atMs = (event.ts - navigation.ts) / 1000;
    return data && atMs <= untilMs ? [{ atMs, score: data.weighted_score_delta ?? data.score ?? 0 }] : [];
  });
}
