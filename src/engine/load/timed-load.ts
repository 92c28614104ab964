import { setTimeout as sleep } from 'node:timers/promises';
import type { Browser } from 'puppeteer-core';
import type { Conditions } from '../../core/measure/conditions.ts';
import type { ConsoleMessage, RunObservation } from '../../core/measure/run.ts';
import { readTrace, type TraceEvent } from '../../core/measure/trace.ts';
import { slowDown, speedUp } from '../chromium/emulate.ts';
import { toTiming } from '../chromium/network-recorder.ts';
import { goTo, LOAD_LIMITS, openVisit, settled, type LoadLimits, type Visit } from '../chromium/visit.ts';
import { stopIfCancelled } from '../errors.ts';
import type { Replay } from '../replay/replay-client.ts';
import { decodeFrames, type DecodedFrames } from './frames.ts';

export interface TimedLoadOptions {
  browser: Browser;
  replay: Replay;
  arm: string;
  url: string;
  documentUrl: string;
  conditions: Conditions;
  /** Length of the observation window from navigation start, ms; null ends it when the page rests. */
  windowMs: number | null;
  /** Take a full-size picture after the window, once the page was touched and is at rest. */
  wantFinalPicture: boolean;
  limits?: LoadLimits;
  signal?: AbortSignal;
}

/** A run, and its decoded frames: Speed Index may have to be taken against another run's last one. */
export interface TimedLoad {
  observation: RunObservation;
  frames: DecodedFrames;
}

const CATEGORIES = [
  '-*',
  'blink.user_timing',
  'devtools.timeline',
  'disabled-by-default-devtools.screenshot',
  'loading',
  'latencyInfo',
  'toplevel',
  'v8.execute',
];

/** Trace pictures stop here: a page that never rests has used them up. */
const FRAME_LIMIT = 450;

/** Loads the page once under the conditions, from replay, in a new context with an empty cache. */
export async function timedLoad(options: TimedLoadOptions): Promise<TimedLoad> {
  const { browser, replay, conditions, signal } = options;
  const limits = options.limits ?? LOAD_LIMITS;
  stopIfCancelled(signal);
  await replay.chooseArm(options.arm);
  const messages: ConsoleMessage[] = [];
  const visit = await openVisit(browser, conditions, async (session, isPage) => {
    await slowDown(session, conditions);
    if (isPage) await listenToConsole(session, messages);
  });
  try {
    await visit.page.tracing.start({ categories: CATEGORIES, screenshots: true });
    const started = performance.now();
    await goTo(
      visit,
      options.url,
      options.windowMs === null ? limits : { ...limits, afterLoadMs: 0 },
      signal,
    );
    if (options.windowMs !== null) await waitUntil(started + options.windowMs, signal);
    else await sleep(300);
    const windowMs = options.windowMs ?? performance.now() - started;
    // A slowed page would take seconds to hand over its trace.
    await speedUp(visit.session);
    const trace = await visit.page.tracing.stop();
    const events = (
      JSON.parse(Buffer.from(trace ?? new Uint8Array()).toString('utf8')) as { traceEvents: TraceEvent[] }
    ).traceEvents;
    const replayNotes = await replay.notes();
    const finalPicture = options.wantFinalPicture ? await takeFinalPicture(visit) : null;
    return await observe(visit, events, windowMs, messages, replayNotes, finalPicture, options);
  } finally {
    await visit.close();
  }
}

async function observe(
  visit: Visit,
  events: readonly TraceEvent[],
  windowMs: number,
  messages: ConsoleMessage[],
  replayNotes: RunObservation['replayNotes'],
  finalPicture: Uint8Array | null,
  options: TimedLoadOptions,
): Promise<TimedLoad> {
  const figures = readTrace(events, options.documentUrl, windowMs);
  const navigationStartS = figures.navigationStartUs / 1e6;
  const inWindow = visit.network.records.filter(
    (record) => (record.startedAt - navigationStartS) * 1000 <= windowMs,
  );
  const stylesheets = new Set(
    inWindow.filter((record) => record.kind === 'stylesheet').map((record) => record.url),
  );
  const requests = inWindow.map((record) =>
    toTiming(record, navigationStartS, (url) => stylesheets.has(url)),
  );
  const document = requests.findLast((request) => request.kind === 'document');
  const frames = await decodeFrames(figures.screenshots);
  const neverRested = figures.screenshots.length >= FRAME_LIMIT;
  const points = frames.completenessAgainst(frames.last);
  return {
    frames,
    observation: {
      metrics: {
        firstPaintMs: figures.firstPaintMs,
        firstContentfulPaintMs: figures.firstContentfulPaintMs,
        largestContentfulPaintMs: figures.largestContentfulPaintMs,
        speedIndexMs: neverRested ? null : frames.speedIndex(points, windowMs),
        cumulativeLayoutShift: figures.cumulativeLayoutShift,
        totalBlockingMs: figures.totalBlockingMs,
        timeToFirstByteMs: document?.firstByteMs ?? null,
        domReadyMs: figures.domReadyMs,
        loadMs: figures.loadMs,
        requests: requests.length,
        wireBytes: requests.reduce((sum, request) => sum + request.wireBytes, 0),
      },
      requests,
      work: figures.work.filter((work) => work.endMs - work.startMs >= 0.5),
      longTasks: figures.longTasks,
      lcpElement: figures.lcpElement,
      frames: frames.asFrames(points),
      console: messages,
      replayNotes,
      finalPicture,
      windowMs,
      neverRested,
    },
  };
}

/**
 * Touches the page (a key press, so that delayed scripts run), lets it rest, freezes what moves and takes the viewport's picture at full size.
 */
async function takeFinalPicture(visit: Visit): Promise<Uint8Array> {
  await visit.page.keyboard.press('Shift');
  await settled(visit, { ...LOAD_LIMITS, quietMs: 700, afterLoadMs: 8_000 });
  return takePicture(visit);
}

/** A PNG of the viewport at one pixel a CSS pixel, with animations frozen. */
export async function takePicture(visit: Visit): Promise<Uint8Array> {
  await visit.page.addStyleTag({
    content:
      '*,*::before,*::after{animation:none!important;transition:none!important;caret-color:transparent!important}',
  });
  await visit.page.evaluate(
    'Promise.race([document.fonts.ready, new Promise((r) => setTimeout(r, 3000))]).then(() => new Promise((r) => requestAnimationFrame(() => requestAnimationFrame(r))))',
  );
  const { data } = await visit.session.send('Page.captureScreenshot', {
    format: 'png',
    captureBeyondViewport: false,
  });
  return Buffer.from(data, 'base64');
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
