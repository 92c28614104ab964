import { setTimeout as sleep } from 'node:timers/promises';
import type { Browser, BrowserContext, CDPSession, Page } from 'puppeteer-core';
import type { Conditions } from '../../core/measure/conditions.ts';
import type { PageClock } from '../../core/measure/exchange.ts';
import type { VisitState } from '../../core/measure/visit.ts';
import { inPlainWords, stopIfCancelled, Trouble, wentAway } from '../errors.ts';
import { forEachChildTarget } from './child-targets.ts';
import { readCertificate } from './certificates.ts';
import { InPage } from './in-page.ts';
import { emulateDevice } from './emulate.ts';
import { closeDialogs, refuseTheRest } from './interruptions.ts';
import { NetworkRecorder } from './network-recorder.ts';
import { applyClock } from './page-clock.ts';
import { whileConnected } from './while-connected.ts';

/** A page in a context of its own (empty cache, no cookies), its network recorded. */
export interface Visit {
  page: Page;
  session: CDPSession;
  /** What is asked of the page from inside, in a world of our own. */
  inPage: InPage;
  network: NetworkRecorder;
  /** What the page did that a visitor would have had to answer, in sentences, each once. */
  readonly notes: readonly string[];
  note(words: string): void;
  /** True once the page, or a frame of it, crashed: it is then closed, and whatever waits for it is refused. */
  readonly crashed: boolean;
  /**
   * Done with work on the page, or refused as soon as the page or the browser is gone, or when it took longer than
   * anything may: not all that waits for an answer of theirs would notice.
   */
  whileOpen<T>(work: Promise<T>): Promise<T>;
  /** Makes the visit as new: empty caches, only the state it began with, another device. */
  begin(device: VisitDevice): Promise<void>;
  close(): Promise<void>;
}

/** The part of conditions that makes a device. */
export type VisitDevice = Pick<Conditions, 'viewport' | 'pixelRatio' | 'touch' | 'agent'>;

/** What is done to the page's session and to every child target before it runs. */
export type PrepareTarget = (session: CDPSession, isPage: boolean) => Promise<void>;

export interface VisitOptions {
  prepare?: PrepareTarget;
  /** Time and chance for the page's scripts; null leaves them the real ones. */
  clock: PageClock | null;
  /** Cookies and storage to begin with; null begins empty. */
  state: VisitState | null;
}

/** Opens an empty page under a device, in a context with an empty cache; nothing is loaded yet. */
export function openVisit(browser: Browser, device: VisitDevice, options: VisitOptions): Promise<Visit> {
  return whileConnected(browser, open(browser, device, options));
}

async function open(browser: Browser, device: VisitDevice, options: VisitOptions): Promise<Visit> {
  const context: BrowserContext = await browser.createBrowserContext();
  const page = await context.newPage();
  const session = await page.createCDPSession();
  const network = new NetworkRecorder();
  const close = () => context.close().catch(() => undefined);
  const notes: string[] = [];
  const note = (words: string) => {
    if (!notes.includes(words) && notes.length < MOST_NOTES) notes.push(words);
  };
  let crashed = false;
  const gone = new Promise<never>((_, reject) => {
    const refuse = () => reject(new Error('Page crashed'));
    page.once('close', refuse);
    browser.once('disconnected', refuse);
  });
  gone.catch(() => undefined);
  const prepareTarget = async (target: CDPSession, isPage: boolean) => {
    target.once('Inspector.targetCrashed', () => {
      crashed = true;
      void close();
    });
    await target.send('Inspector.enable');
    await closeDialogs(target, note);
    await network.attach(target, isPage);
    if (options.clock) await applyClock(target, options.clock);
    await options.prepare?.(target, isPage);
  };
  await refuseTheRest(browser, context, page, note);
  await emulateDevice(session, device);
  if (options.state) {
    await session.send('Page.enable');
    await restoreCookies(session, options.state);
    await restoreStorage(session, options.state);
  }
  await prepareTarget(session, true);
  await forEachChildTarget(session, (child) => prepareTarget(child, false));
  return {
    page,
    session,
    inPage: new InPage(session),
    network,
    notes,
    note,
    get crashed() {
      return crashed;
    },
    whileOpen: (work) => withinLimit(Promise.race([work, gone]), close),
    async begin(other) {
      await page.goto('about:blank');
      await session.send('Storage.clearDataForOrigin', { origin: '*', storageTypes: 'all' });
      await session.send('Network.clearBrowserCookies');
      await session.send('Network.clearBrowserCache');
      if (options.state) await restoreCookies(session, options.state);
      await emulateDevice(session, other);
    },
    close,
  };
}

/** Puts back the cookies that the browser held after the user's steps. */
async function restoreCookies(session: CDPSession, state: VisitState): Promise<void> {
  if (state.cookies.length) await session.send('Network.setCookies', { cookies: state.cookies });
}

/** The same of what was stored, before any script runs. */
async function restoreStorage(session: CDPSession, state: VisitState): Promise<void> {
  const kept = state.storage.filter((one) => one.items.length > 0);
  if (kept.length === 0) return;
  await session.send('Page.addScriptToEvaluateOnNewDocument', {
    source: `for (const { origin, items } of ${JSON.stringify(kept)}) if (location.origin === origin) { try { for (const [key, value] of items) if (localStorage.getItem(key) === null) localStorage.setItem(key, value); } catch {} }`,
  });
}

/** Far above what any load and what is asked of it takes: only what never ends takes longer. */
const WORK_LIMIT_MS = 170_000;
const MOST_NOTES = 20;

async function withinLimit<T>(work: Promise<T>, close: () => Promise<void>): Promise<T> {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const late = new Promise<never>((_, reject) => {
    timer = setTimeout(() => {
      reject(new Trouble('measuring', NO_ANSWER));
      void close();
    }, WORK_LIMIT_MS);
  });
  try {
    return await Promise.race([work, late]);
  } finally {
    clearTimeout(timer);
  }
}

const NO_ANSWER =
  'The page does not answer any more: its main thread is busy without end. Nothing stored was changed. Look for a script that never ends.';

export interface LoadLimits {
  /** The load event has to come within this, ms. */
  loadMs: number;
  /** After the document is there, requests without any answer are given up when nothing else came for this long, ms. */
  stuckMs: number;
  /** A page whose main thread gives no sign for this long, after it has loaded, never will, ms. */
  silentMs: number;
  /** The network is quiet after this long without a request, ms. */
  quietMs: number;
  /** After the load event, quiet is waited for this long at most, ms. */
  afterLoadMs: number;
  /** All that is asked for is answered from the archive: what comes too late is this machine’s, and no host’s. */
  fromArchive?: true;
}

export const LOAD_LIMITS: LoadLimits = {
  loadMs: 90_000,
  stuckMs: 12_000,
  silentMs: 20_000,
  quietMs: 1_500,
  afterLoadMs: 15_000,
};

/**
 * Goes to an address and waits for load and a quiet network.
 *
 * @throws Trouble in plain words for what can go wrong on the way
 */
export async function goTo(
  visit: Visit,
  url: string,
  limits: LoadLimits,
  signal?: AbortSignal,
): Promise<{ status: number; documentUrl: string; mimeType: string }> {
  stopIfCancelled(signal);
  const stop = () => void visit.close();
  signal?.addEventListener('abort', stop, { once: true });
  try {
    await load(visit, url, limits);
    visit.network.hasLoaded();
    await settled(visit, limits, signal);
    await answers(visit, limits);
    // A navigation that was answered 204 went nowhere.
    const { response } =
      visit.network.records.findLast(
        ({ kind, response }) => kind === 'document' && response?.status !== 204,
      ) ?? {};
    return {
      status: response?.status ?? 0,
      documentUrl: response?.url ?? visit.page.url(),
      mimeType: (response?.mimeType ?? '').trim().toLowerCase(),
    };
  } catch (error) {
    stopIfCancelled(signal);
    throw error instanceof Trouble ? error : await loadTrouble(visit, error, url, limits);
  } finally {
    signal?.removeEventListener('abort', stop);
  }
}

/** Goes to an address and waits for its load event; what holds that up for ever is given up, and noted. */
async function load(visit: Visit, url: string, limits: LoadLimits): Promise<void> {
  const { page, session, network } = visit;
  let isParsed = false;
  const parsed = () => (isParsed = true);
  session.once('Page.domContentEventFired', parsed);
  const loaded = page.goto(url, { waitUntil: 'load', timeout: limits.loadMs });
  const watch = new AbortController();
  const givenUp = (async () => {
    while (!watch.signal.aborted) {
      await sleep(250);
      if (!isParsed || network.stuckMs() < limits.stuckMs) continue;
      for (const address of network.unanswered)
        visit.note(`${address} was never answered: it was given up after ${limits.stuckMs / 1_000} s.`);
      await session.send('Page.stopLoading');
      return;
    }
  })();
  try {
    await Promise.race([loaded, givenUp.then(() => sleep(1_000))]);
  } finally {
    watch.abort();
    session.off('Page.domContentEventFired', parsed);
    loaded.catch(() => undefined);
    givenUp.catch(() => undefined);
  }
}

/** Refuses a page whose main thread does not answer. */
async function answers(visit: Visit, { silentMs }: LoadLimits): Promise<void> {
  const silent = sleep(silentMs, 'silent', { ref: false });
  if ((await Promise.race([visit.inPage.call('timeOrigin'), silent])) !== 'silent') return;
  void visit.close();
  throw new Trouble('measuring', NO_ANSWER);
}

/** Waits until the network is quiet, at most as long as the limits say. @returns whether it was quiet */
export async function settled(visit: Visit, limits: LoadLimits, signal?: AbortSignal): Promise<boolean> {
  const end = performance.now() + limits.afterLoadMs;
  while (performance.now() < end) {
    stopIfCancelled(signal);
    if (visit.crashed || visit.page.isClosed()) throw new Error('Page crashed');
    if (visit.network.quietMs() >= limits.quietMs) return true;
    await sleep(50);
  }
  return false;
}

/** The same of what something that was just done sets off: the line may have rested for long before it asks for anything. */
export async function settledAfter(visit: Visit, limits: LoadLimits, signal?: AbortSignal): Promise<boolean> {
  await sleep(limits.quietMs);
  return settled(visit, limits, signal);
}

/** A page that is shown to those with a name and a password only. */
export function passwordTrouble(url: string): Trouble {
  return new Trouble(
    'measuring',
    `${url} asks for a name and a password. Nothing stored was changed. Give them as an Authorization header under “How it is measured”, and measure again.`,
  );
}

async function loadTrouble(visit: Visit, error: unknown, url: string, limits: LoadLimits): Promise<Trouble> {
  if (visit.crashed || visit.page.isClosed() || wentAway(error))
    return inPlainWords(new Error('Page crashed'));
  const text = error instanceof Error ? error.message : String(error);
  const code = /net::(ERR_\w+)/.exec(text)?.[1] ?? '';
  const kept = 'Nothing stored was changed.';
  if (/ERR_CERT|ERR_SSL/.test(code)) {
    // Where it was sent on from its address, that is whose certificate it is.
    const failed = new URL(visit.network.records.findLast(({ kind }) => kind === 'document')?.url ?? url);
    const offer = await readCertificate(failed);
    const { host } = failed;
    return offer
      ? new Trouble(
          'certificate',
          `${host} shows a certificate of its own making (${offer.subject}). Accept it for this host to go on.`,
          offer,
        )
      : new Trouble(
          'measuring',
          `${host} could not make a secure connection (${code}). ${kept} Check that it speaks HTTPS.`,
        );
  }
  if (code === 'ERR_CONNECTION_REFUSED' || code === 'ERR_CONNECTION_RESET' || code === 'ERR_EMPTY_RESPONSE') {
    return new Trouble(
      'measuring',
      `${url} does not answer (${code}). ${kept} Check that the server is running.`,
    );
  }
  if (code === 'ERR_NAME_NOT_RESOLVED')
    return new Trouble(
      'measuring',
      `No host of the name ${new URL(url).hostname} was found. ${kept} Check the address.`,
    );
  if (code === 'ERR_INVALID_AUTH_CREDENTIALS') return passwordTrouble(url);
  if (code === 'ERR_TOO_MANY_REDIRECTS')
    return new Trouble(
      'measuring',
      `${url} redirects for ever. ${kept} Correct the redirect, or give the address it should end at.`,
    );
  if (code === 'ERR_INVALID_RESPONSE' || code === 'ERR_ABORTED') {
    return new Trouble(
      'measuring',
      `${url} is not a web page: the browser would not show it (${code}). ${kept} Give the address of a page.`,
    );
  }
  if (/timeout|Timed? ?out/i.test(text)) {
    return new Trouble(
      'measuring',
      `${url} did not finish loading within ${Math.round(limits.loadMs / 1000)} s. ${kept} ${
        limits.fromArchive && visit.network.unanswered.length
          ? 'All that it asks for is at hand, so this machine is too slow for the page, or busy with other things: end other programs, and try again.'
          : visit.network.unanswered.length
            ? `Without an answer: ${visit.network.unanswered.slice(0, 3).join(', ')}. Measure again when they answer.`
            : 'Look for a script that never ends.'
      }`,
    );
  }
  if (code === 'ERR_UNSAFE_PORT')
    return new Trouble(
      'measuring',
      `${url} could not be loaded: browsers refuse port ${new URL(url).port}. ${kept} Serve the page at another port.`,
    );
  return new Trouble(
    'measuring',
    `${url} could not be loaded: ${code || text.split('\n')[0]}. ${kept} Open it in a browser to see what is wrong, then try again.`,
  );
}
