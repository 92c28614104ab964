import type { Conditions } from '../../core/measure/conditions.ts';
import type { Capture, Exchange, PageClock } from '../../core/measure/exchange.ts';
import { headerOf } from '../../core/measure/headers.ts';
import { isSpecial, type VisitSettings, type VisitState } from '../../core/measure/visit.ts';
import { readHtml } from '../../core/html/document.ts';
import { trustedByUser, type AcceptedCertificate } from '../chromium/certificates.ts';
import { launchChromium, type LaunchedBrowser } from '../chromium/launch.ts';
import { newClock } from '../chromium/page-clock.ts';
import type { RecordedRequest } from '../chromium/network-recorder.ts';
import {
  goTo,
  LOAD_LIMITS,
  openVisit,
  passwordTrouble,
  type LoadLimits,
  settledAfter,
  type PrepareTarget,
  type Visit,
} from '../chromium/visit.ts';
import { stopIfCancelled, Trouble } from '../errors.ts';
import { MOST_REQUESTS } from '../limits.ts';
import { intercept, isEndless, noHindrances, type Answer, type Hindrances } from './intercept.ts';
import { joinLoads } from './join-loads.ts';
import { Observer } from './observe.ts';
import { otherFiles } from './other-files.ts';
import { prepareVisit } from './steps.ts';

/** What comes by scrolling asks for something within this, or asks for nothing. */
const SCROLLED_QUIET_MS = 700;

export interface CaptureRequest {
  url: string;
  conditions: Conditions;
  /** Certificates accepted: host and public key. */
  accepted: readonly AcceptedCertificate[];
  /** As a visitor, or as the user says. */
  visit: VisitSettings;
  /** Give scripts a clock and chance of our own, so that replay can repeat them. */
  ownClock: boolean;
  limits?: LoadLimits;
  onProgress?: (step: string) => void;
  signal?: AbortSignal;
}

export interface CaptureResult {
  capture: Capture;
  bodies: Map<string, Uint8Array>;
  /** What the browser held before the load; null for any visitor. */
  state: VisitState | null;
}

/**
 * Captures a live page in three loads: bodies from an intercepted one (interception stops streaming, so its
 * times are worth nothing), timings from one that is not, observations from a third.
 *
 * @throws Trouble when the page cannot be captured
 */
export async function capturePage(request: CaptureRequest): Promise<CaptureResult> {
  stopIfCancelled(request.signal);
  const chromium = await launchChromium({ acceptedKeys: request.accepted.map((one) => one.publicKeyHash) });
  try {
    return await new PageCapture(request, chromium).take();
  } finally {
    await chromium.close();
  }
}

class PageCapture {
  #request: CaptureRequest;
  #chromium: LaunchedBrowser;
  #limits: LoadLimits;
  #clock: PageClock | null;
  #state: VisitState | null = null;
  /** Hosts that were asked over TLS, and of these those whose certificate counts because the user said so. */
  #asked = new Set<string>();
  #trusted: string[] = [];
  #hindrances: Hindrances = noHindrances();

  constructor(request: CaptureRequest, chromium: LaunchedBrowser) {
    this.#request = request;
    this.#chromium = chromium;
    this.#limits = request.limits ?? LOAD_LIMITS;
    this.#clock = request.ownClock ? newClock() : null;
  }

  async take(): Promise<CaptureResult> {
    const { url, visit: settings, signal } = this.#request;
    const say = this.#request.onProgress ?? (() => undefined);
    if (isSpecial(settings)) {
      say('Doing the steps before the capture');
      this.#state = await this.#load(this.#headersOnly, (visit) =>
        prepareVisit(visit, url, settings, this.#limits, signal),
      );
    }

    say('Capturing the page: bodies');
    const answers: Answer[] = [];
    const bodies = await this.#load(
      (session, isPage) => intercept(session, isPage, { ...this.#help, answers }),
      async (visit) => {
        const landed = await goTo(visit, url, this.#limits, signal).catch((error: unknown) => {
          throw isEndless(visit.network.records, this.#hindrances) ? endlessTrouble(url) : error;
        });
        refuseWhatIsNoPage(url, landed, this.#hindrances);
        await this.#scrollThrough(visit);
        const others = await this.#askForOthers(visit, answers, landed.documentUrl);
        if (visit.network.isFull)
          visit.note(`It asks for more than ${MOST_REQUESTS} things: the rest is not kept.`);
        return {
          landed,
          others,
          title: await visit.page.title(),
          notes: [...visit.notes],
          ...recordsOf(visit),
        };
      },
    );

    const documentUrl = this.#hindrances.circling ? firstShown(bodies.records) : bodies.landed.documentUrl;
    say('Capturing the page: timings');
    const timed = await this.#load(this.#headersOnly, async (visit) => {
      await goTo(visit, url, this.#limits, signal);
      await this.#scrollThrough(visit);
      return recordsOf(visit).records;
    });

    say('Capturing the page: observations');
    let observer: Observer | null = null;
    const observations = await this.#load(
      async (session, isPage) => {
        await this.#headersOnly(session, isPage);
        if (isPage) observer = await Observer.start(session);
      },
      async (visit) => {
        await goTo(visit, url, this.#limits, signal);
        return observer!.finish(visit);
      },
    );

    const joined = joinLoads(bodies.records, timed, answers);
    if (this.#hindrances.circling) stayOnFirst(joined.exchanges);
    return {
      capture: {
        url,
        documentUrl,
        title: bodies.title || titleOf(joined.exchanges, joined.bodies, documentUrl),
        takenAt: new Date(this.#clock?.startMs ?? Date.now()).toISOString(),
        exchanges: joined.exchanges,
        observations,
        clock: this.#clock,
        dataUrls: bodies.dataUrls.map((one) => ({
          mimeType: /^data:([^;,]*)/.exec(one.url)?.[1] || 'text/plain',
          bytes: one.url.length,
          kind: one.kind,
        })),
        seenOnce: seenInOne(bodies.records, timed, bodies.others),
        ...(bodies.others.length ? { otherFiles: bodies.others } : {}),
        acceptedCertificates: this.#trusted,
        notes: [...bodies.notes, ...this.#hindranceNotes, ...joined.notes],
      },
      bodies: joined.bodies,
      state: this.#state,
    };
  }

  /** What comes only by scrolling is captured as well, so that replaying has an answer for those who scroll. */
  async #scrollThrough(visit: Visit): Promise<void> {
    if (this.#hindrances.circling) return;
    await visit.inPage.call('scrollThrough');
    await settledAfter(visit, { ...this.#limits, quietMs: SCROLLED_QUIET_MS }, this.#request.signal);
  }

  /** What the page shows on other screens is captured as well, so that there is an answer for those. @returns the addresses */
  async #askForOthers(visit: Visit, answers: readonly Answer[], documentUrl: string): Promise<string[]> {
    if (this.#hindrances.circling) return [];
    const asked = new Set(visit.network.records.map((record) => record.url));
    const others = otherFiles(answers, documentUrl, asked);
    if (others.length === 0) return [];
    await visit.inPage.call('askForImages', others);
    await settledAfter(visit, { ...this.#limits, quietMs: SCROLLED_QUIET_MS }, this.#request.signal);
    return others;
  }

  get #hindranceNotes(): string[] {
    const { challenged, circling } = this.#hindrances;
    return [
      ...(circling
        ? [
            'The page loads itself again and again, for ever. Only its first load is shown, here and in every replay.',
          ]
        : []),
      ...[...challenged].map((url) => `${url} asks for a name and a password: it was refused them.`),
    ];
  }

  /** The user's headers go to the page's own origin only. */
  get #added() {
    const { url, visit } = this.#request;
    return visit.headers.length ? { origin: new URL(url).origin, headers: visit.headers } : null;
  }

  get #help() {
    return { add: this.#added, hindrances: this.#hindrances, browser: this.#chromium.browser };
  }

  get #headersOnly(): PrepareTarget {
    return (session, isPage) => intercept(session, isPage, { ...this.#help, answers: null });
  }

  async #load<T>(
    prepare: PrepareTarget,
    act: (visit: Awaited<ReturnType<typeof openVisit>>) => Promise<T>,
  ): Promise<T> {
    const visit = await openVisit(this.#chromium.browser, this.#request.conditions, {
      prepare,
      clock: this.#clock,
      state: this.#state,
    });
    try {
      return await visit.whileOpen(this.#trusting(visit, act(visit)));
    } finally {
      await visit.close();
    }
  }

  /** What a load came to, where every host showed a certificate that counts for it. */
  async #trusting<T>(visit: Visit, load: Promise<T>): Promise<T> {
    const result = await load;
    const hosts = visit.network.secureHosts.filter((host) => !this.#asked.has(host));
    for (const host of hosts) this.#asked.add(host);
    this.#trusted.push(...(await trustedByUser(hosts, this.#request.accepted)));
    return result;
  }
}

/** The address of the first document that is shown. */
function firstShown(records: readonly RecordedRequest[]): string {
  const first = records.find(({ kind, redirectedTo }) => kind === 'document' && redirectedTo === null);
  return first?.response?.url ?? first?.url ?? '';
}

/** Of a page that loads itself for ever only the first load is kept: every further one leaves it where it is. */
function stayOnFirst(exchanges: Exchange[]): void {
  let shown = false;
  for (const [index, exchange] of exchanges.entries()) {
    if (exchange.kind !== 'document') continue;
    if (shown)
      exchanges[index] = {
        ...exchange,
        status: 204,
        responseHeaders: [],
        mimeType: '',
        bodyHash: null,
        bodyBytes: 0,
        wireBytes: 0,
        outcome: { state: 'answered' },
      };
    shown ||= exchange.outcome.state === 'answered' && exchange.bodyHash !== null;
  }
}

/** Addresses that one of two loads asked for and the other did not. @param others asked for by the first one alone, as it was told to */
function seenInOne(
  one: readonly RecordedRequest[],
  other: readonly RecordedRequest[],
  others: readonly string[],
): string[] {
  const urls = (records: readonly RecordedRequest[]) => new Set(records.map(({ url }) => url));
  const [first, second, told] = [urls(one), urls(other), new Set(others)];
  return [...new Set([...first, ...second])].filter(
    (url) => first.has(url) !== second.has(url) && !told.has(url),
  );
}

function recordsOf(visit: Awaited<ReturnType<typeof openVisit>>) {
  return { records: [...visit.network.records], dataUrls: [...visit.network.dataUrls] };
}

function endlessTrouble(url: string): Trouble {
  return new Trouble(
    'measuring',
    `The HTML of ${url} is over 25 MB when it is unpacked. Nothing stored was changed. Give the address of a page that a visitor could load.`,
  );
}

function refuseWhatIsNoPage(
  url: string,
  landed: { status: number; mimeType: string },
  { challenged }: Hindrances,
): void {
  if (landed.status === 401 && challenged.size > 0) throw passwordTrouble(url);
  if (landed.status >= 400)
    throw new Trouble(
      'measuring',
      `${url} answered ${landed.status}. Nothing stored was changed. Measure it again when it answers 200.`,
    );
  if (!/^(text\/html|application\/xhtml\+xml)$/.test(landed.mimeType))
    throw new Trouble(
      'measuring',
      `${url} is not HTML but ${landed.mimeType || 'of no stated type'}. Nothing stored was changed. Give the address of a page.`,
    );
}

function titleOf(
  exchanges: readonly Exchange[],
  bodies: ReadonlyMap<string, Uint8Array>,
  documentUrl: string,
): string {
  const found = exchanges.find((one) => one.url === documentUrl && one.bodyHash);
  if (!found) return '';
  return readHtml(bodies.get(found.bodyHash!)!, headerOf(found.responseHeaders, 'content-type')).title;
}
