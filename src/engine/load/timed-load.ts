import { afterTouchOf, type AfterTouch } from '../../core/trial/after-touch.ts';
import { setTimeout as sleep } from 'node:timers/promises';
import type { Browser } from 'puppeteer-core';
import type { Area } from '../../core/fold/record.ts';
import type { Areas } from '../../core/frames/areas.ts';
import type { Conditions } from '../../core/measure/conditions.ts';
import type { PageClock } from '../../core/measure/exchange.ts';
import { disagreements, percentile } from '../../core/measure/quality.ts';
import {
  documentRequest,
  type ConsoleMessage,
  type RequestTiming,
  type RunObservation,
} from '../../core/measure/run.ts';
import { readTrace, type TraceEvent, type TraceFigures } from '../../core/measure/trace.ts';
import type { VisitState } from '../../core/measure/visit.ts';
import type { AskedRequest } from '../../core/trial/requests.ts';
import { slowCpu } from '../chromium/emulate.ts';
import { toTiming, type RecordedRequest } from '../chromium/network-recorder.ts';
import {
  goTo,
  LOAD_LIMITS,
  openVisit,
  settledAfter,
  type LoadLimits,
  type PrepareTarget,
  type Visit,
} from '../chromium/visit.ts';
import { stopIfCancelled } from '../errors.ts';
import type { ReplayReport } from '../replay/messages.ts';
import type { Replay } from '../replay/replay-client.ts';
import { CpuMeter } from './cpu-meter.ts';
import { decodeFrames, type DecodedFrames } from './frames.ts';
import { MOST_MASKED, nameMovingElements } from './moving.ts';
import { lighterAreas, takePicture } from './picture.ts';
import { untilTraced } from './until-traced.ts';

export interface TimedLoadOptions {
  browser: Browser;
  replay: Replay;
  arm: string;
  url: string;
  documentUrl: string;
  conditions: Conditions;
  /** By what factor Chromium slows the CPU of this machine. */
  cpuRate: number;
  clock: PageClock | null;
  state: VisitState | null;
  /** Length of the observation window from navigation start, ms; null ends it when the page rests. */
  windowMs: number | null;
  /** Take a full-size picture after the window, once the page was touched and is at rest. */
  wantFinalPicture: boolean;
  /** Load it a second time in the same context, with what the first load cached. */
  wantReturnVisit: boolean;
  /** What else is done to the page and to each frame of another site before it runs. */
  prepare?: PrepareTarget;
  /** What is done on the page after the window; its CPU is not slowed then. */
  act?: (visit: Visit) => Promise<void>;
  limits?: LoadLimits;
  signal?: AbortSignal;
}

/** A run, and its decoded frames: Speed Index may have to be taken against another run's last one. */
export interface TimedLoad {
  observation: RunObservation;
  frames: DecodedFrames;
  /** Every request until the very end, where a final picture was taken also those of after the touch. */
  asked: AskedRequest[];
  /** Which share of the screen shows something first and something else in the end, 0 to 1. */
  redrawn: number;
  /** What its first touch came to; null where it was not touched. */
  afterTouch: AfterTouch | null;
  /** Where its final picture shows images from lighter files, in pixels of its own. */
  lighter: Area[];
}

export interface TimedVisits {
  first: TimedLoad;
  returning: TimedLoad | null;
}

const CATEGORIES = [
  '-*',
  'blink.user_timing',
  'devtools.timeline',
  'disabled-by-default-devtools.screenshot',
  'loading',
  'disabled-by-default-devtools.timeline',
];

/** Trace pictures stop here: a page that never rests has used them up. */
const FRAME_LIMIT = 450;

/** Loads the page once under the conditions, from replay, in a new context with an empty cache. */
export function timedLoad(options: TimedLoadOptions): Promise<TimedVisits> {
  return untilTraced(() => visits(options));
}

async function visits(options: TimedLoadOptions): Promise<TimedVisits> {
  stopIfCancelled(options.signal);
  const messages: ConsoleMessage[] = [];
  const visit = await openVisit(options.browser, options.conditions, {
    clock: options.clock,
    state: options.state,
    prepare: async (session, isPage) => {
      await slowCpu(session, options.cpuRate);
      if (isPage) await listenToConsole(session, messages);
      await options.prepare?.(session, isPage);
    },
  });
  try {
    const { replay } = options;
    const first = await replay.whileRunning(visit.whileOpen(loadOnce(visit, messages, options)));
    if (!options.wantReturnVisit) return { first, returning: null };
    await visit.page.goto('about:blank');
    await slowCpu(visit.session, options.cpuRate);
    const returning = await replay.whileRunning(
      visit.whileOpen(loadOnce(visit, messages, { ...options, wantFinalPicture: false })),
    );
    return { first, returning };
  } finally {
    await visit.close();
  }
}

/** One navigation, traced from its start to the end of the window. */
async function loadOnce(
  visit: Visit,
  messages: ConsoleMessage[],
  options: TimedLoadOptions,
): Promise<TimedLoad> {
  const { replay, signal } = options;
  const limits = options.limits ?? LOAD_LIMITS;
  await replay.chooseArm(options.arm);
  const [messagesBefore, requestsBefore] = [messages.length, visit.network.records.length];
  await visit.page.tracing.start({ categories: CATEGORIES, screenshots: true });
  const meter = new CpuMeter();
  const started = performance.now();
  await goTo(
    visit,
    replay.addressOf(options.url),
    { ...limits, ...(options.windowMs === null ? {} : { afterLoadMs: 0 }), fromArchive: true },
    signal,
  );
  if (options.windowMs !== null) await waitUntil(started + options.windowMs, signal);
  else await sleep(300);
  const windowMs = options.windowMs ?? performance.now() - started;
  const othersCpu = meter.othersShare();
  // A slowed page would take seconds to hand over its trace.
  await slowCpu(visit.session, 1);
  const trace = await visit.page.tracing.stop();
  const { traceEvents } = JSON.parse(Buffer.from(trace ?? new Uint8Array()).toString('utf8')) as {
    traceEvents: TraceEvent[];
  };
  const report = await replay.report();
  const figures = readTrace(traceEvents, replay.addressOf(options.documentUrl), windowMs);
  const frames = await decodeFrames(figures.screenshots);
  const requests = requestsOf(visit.network.records.slice(requestsBefore), figures, windowMs, replay);
  const loadedMs = Math.max(figures.loadMs ?? 0, drawableArrivedMs(requests));
  const areas = frames.areas(windowMs, loadedMs);
  const moving = await nameMovingElements(visit, frames, areas, windowMs);
  await options.act?.(visit);
  const touched = options.wantFinalPicture ? await touch(visit, options.cpuRate) : null;
  const observation = observe({
    requests,
    areas,
    messages: messages.slice(messagesBefore),
    figures,
    frames,
    windowMs,
    report,
    othersCpu,
    replay,
  });
  // With more than a tenth of the viewport moving, the curve says nothing about the rest.
  const tooMuchMoves = moving !== null && moving.share > MOST_MASKED;
  if (tooMuchMoves) observation.metrics.speedIndexMs = null;
  return {
    frames,
    observation: { ...observation, moving, finalPicture: touched?.picture ?? null },
    redrawn: frames.redrawn(areas.moving),
    afterTouch: touched && afterTouchOf(touched.longTasks),
    lighter: touched?.lighter ?? [],
    asked: askedOf(visit.network.records.slice(requestsBefore), replay),
  };
}

function askedOf(records: readonly RecordedRequest[], replay: Replay): AskedRequest[] {
  return records.map(({ method, url, failed, response }) => ({
    method,
    url: replay.capturedUrl(url),
    failed: failed ?? ((response?.status ?? 0) >= 400 ? String(response!.status) : null),
  }));
}

interface Observed {
  requests: RequestTiming[];
  areas: Areas;
  messages: ConsoleMessage[];
  figures: TraceFigures;
  frames: DecodedFrames;
  windowMs: number;
  report: ReplayReport;
  othersCpu: number | null;
  replay: Replay;
}

/** The requests made within the window, addresses as they were captured. */
function requestsOf(
  records: readonly RecordedRequest[],
  { navigationStartUs }: TraceFigures,
  windowMs: number,
  replay: Replay,
): RequestTiming[] {
  const navigationStartS = navigationStartUs / 1e6;
  const inWindow = records.filter((record) => (record.startedAt - navigationStartS) * 1000 <= windowMs);
  const stylesheets = new Set(
    inWindow.filter((record) => record.kind === 'stylesheet').map((record) => record.url),
  );
  return inWindow.map((record) => {
    const timing = toTiming(record, navigationStartS, (url) => stylesheets.has(url));
    const { discovery } = timing;
    return {
      ...timing,
      url: replay.capturedUrl(timing.url),
      discovery:
        discovery.by === 'parser'
          ? { ...discovery, document: replay.capturedUrl(discovery.document) }
          : 'url' in discovery
            ? { ...discovery, url: replay.capturedUrl(discovery.url) }
            : discovery,
    };
  });
}

/** Less is no picture that anybody sees: pages that count visitors ask for such again and again. */
const SEEN_BYTES = 1_000;

/** When the last picture, font or stylesheet had come, ms. */
function drawableArrivedMs(requests: readonly RequestTiming[]): number {
  return Math.max(
    0,
    ...requests
      .filter(({ kind, wireBytes }) => /^(image|font|stylesheet)$/.test(kind) && wireBytes >= SEEN_BYTES)
      .map(({ endMs }) => endMs ?? 0),
  );
}

/** Puts together what was observed of one load, addresses as they were captured. */
function observe(seen: Observed): Omit<RunObservation, 'moving' | 'finalPicture'> {
  const { figures, frames, windowMs, replay, requests } = seen;
  const captured = (url: string | null) => url && replay.capturedUrl(url);
  const document = documentRequest(requests);
  const neverRested = figures.screenshots.length >= FRAME_LIMIT;
  const points = frames.completenessAgainst(frames.last);
  const wireBytes = requests.reduce((sum, request) => sum + request.wireBytes, 0);
  const speedIndexMs = neverRested ? null : frames.speedIndex(points, windowMs);
  const { columns, rows, finalMs } = seen.areas;
  return {
    metrics: {
      firstPaintMs: figures.firstPaintMs,
      firstContentfulPaintMs: figures.firstContentfulPaintMs,
      speedIndexMs,
      visuallyCompleteMs: neverRested ? null : frames.completeFrom(points),
      largestContentfulPaintMs: figures.largestContentfulPaintMs,
      cumulativeLayoutShift: figures.cumulativeLayoutShift,
      totalBlockingMs: figures.totalBlockingMs,
      wholeLoadBlockingMs: figures.wholeLoadBlockingMs,
      timeToFirstByteMs: document?.firstByteMs ?? null,
      domReadyMs: figures.domReadyMs,
      loadMs: figures.loadMs,
      requests: requests.length,
      wireBytes,
    },
    requests,
    work: figures.work
      .filter((work) => work.endMs - work.startMs >= 0.5)
      .map((work) => ({ ...work, url: captured(work.url) })),
    longTasks: figures.longTasks.map((task) => ({ ...task, script: captured(task.script) })),
    lcpElement: figures.lcpElement,
    lcpUrl: captured(figures.lcpUrl),
    frames: frames.asFrames(points),
    console: seen.messages,
    replayNotes: seen.report.notes,
    windowMs,
    neverRested,
    heat: { columns, rows, finalMs },
    circumstances: { latenessMs: percentile(seen.report.latenessMs, 0.95), othersCpu: seen.othersCpu },
    disagreements: disagreements({
      firstPaintMs: figures.firstPaintMs,
      speedIndexMs,
      firstFrameMs: frames.firstDrawnMs,
      wireBytes,
      requests: requests.length,
      sentBytes: seen.report.sentBytes,
    }),
  };
}

/**
 * Touches the page (a key press, so that delayed scripts run, the CPU slowed as it was), lets it rest, freezes what moves
 * and takes the viewport's picture at full size. The main thread is watched meanwhile.
 */
async function touch(visit: Visit, cpuRate: number) {
  await visit.inPage.call('watchLongTasks');
  await slowCpu(visit.session, cpuRate);
  await visit.page.keyboard.press('Shift');
  await settledAfter(visit, { ...LOAD_LIMITS, quietMs: 700, afterLoadMs: 8_000 });
  await slowCpu(visit.session, 1);
  const longTasks = await visit.inPage.call('longTasksSeen');
  const picture = await takePicture(visit);
  const lighter = await lighterAreas(visit, picture, await visit.inPage.call('scrolledBy'));
  return { picture, longTasks, lighter };
}

async function listenToConsole(session: Visit['session'], messages: ConsoleMessage[]): Promise<void> {
  session.on('Runtime.exceptionThrown', ({ exceptionDetails }) => {
    const text = exceptionDetails.exception?.description?.split('\n')[0] ?? exceptionDetails.text;
    messages.push({ level: 'error', text, source: exceptionDetails.url ?? '' });
  });
  session.on('Runtime.consoleAPICalled', (event) => {
    if (event.type !== 'error' && event.type !== 'warning') return;
    const text = event.args.map((arg) => String(arg.value ?? arg.description ?? '')).join(' ');
    messages.push({ level: event.type, text, source: event.stackTrace?.callFrames[0]?.url ?? '' });
  });
  session.on('Log.entryAdded', ({ entry }) => {
    if (entry.level === 'error') messages.push({ level: 'error', text: entry.text, source: entry.url ?? '' });
  });
  await session.send('Runtime.enable');
  await session.send('Log.enable');
}

async function waitUntil(time: number, signal?: AbortSignal): Promise<void> {
  while (performance.now() < time) {
    stopIfCancelled(signal);
    await sleep(Math.min(200, Math.max(1, time - performance.now())));
  }
}
