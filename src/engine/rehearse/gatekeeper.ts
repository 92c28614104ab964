import { setTimeout as sleep } from 'node:timers/promises';
import type { CDPSession, Protocol } from 'puppeteer-core';
import type { ArrivalOrder } from '../../core/rehearse/arrival.ts';
import type { Archive } from '../replay/archive.ts';

/** Whether these are answered decides what a page becomes. */
const TELLING = /^(document|script|stylesheet|xhr|fetch)$/;

/** Nothing was asked for or answered for so long: all else rests. */
const REST_MS = 120;
const LOOK_EVERY_MS = 20;
/** A page that is not drawn yet may take no tap at all. */
const EARLY_LIMIT_MS = 3_000;

interface Held {
  rank: number;
  answer: () => Promise<void>;
}

/** Answers what a page asks for from an archive, in a given order of arrival, without any network. */
export class Gatekeeper {
  #archive: Archive;
  #order: ArrivalOrder;
  #held: Held[] = [];
  #lastEvent = 0;
  #timer: ReturnType<typeof setInterval> | null = null;
  #early: (() => Promise<void>) | null = null;
  #acting = false;
  /** Scripts that were asked for during a touch, while there is one. */
  #duringTouch: (() => Promise<void>)[] | null = null;
  readonly asked: string[] = [];
  /** What the archive holds no answer to, without what only counts. */
  readonly unanswered: string[] = [];

  constructor(archive: Archive, order: ArrivalOrder) {
    this.#archive = archive;
    this.#order = order;
  }

  /** Whether something is still held back. */
  get holds(): boolean {
    return this.#held.length > 0;
  }

  /** Does something once, before the first of what is held back is let go, when all else rests. */
  beforeRelease(act: () => Promise<void>): void {
    this.#early = act;
  }

  /**
   * Does something that takes a visitor a tenth of a second: no line brings a script that is asked for at its beginning
   * before its end, though this one could.
   */
  async whileTouched(act: () => Promise<void>): Promise<void> {
    const waiting: (() => Promise<void>)[] = [];
    this.#duringTouch = waiting;
    try {
      await act();
    } finally {
      this.#duringTouch = null;
      for (const answer of waiting) void answer();
    }
  }

  async attach(session: CDPSession): Promise<void> {
    session.on('Fetch.requestPaused', (event) => this.#ask(session, event));
    await session.send('Fetch.enable', { patterns: [{ urlPattern: '*', requestStage: 'Request' }] });
  }

  close(): void {
    if (this.#timer) clearInterval(this.#timer);
    this.#held = [];
  }

  #ask(session: CDPSession, event: Protocol.Fetch.RequestPausedEvent): void {
    const { url, method } = event.request;
    if (!/^https?:/.test(url)) {
      void session.send('Fetch.continueRequest', { requestId: event.requestId }).catch(() => undefined);
      return;
    }
    this.#lastEvent = performance.now();
    this.asked.push(`${method} ${url.replace(/#.*$/, '')}`);
    const kind = event.resourceType.toLowerCase();
    const rank = kind === 'document' ? 0 : this.#order.rank(url, kind);
    const answer = () => this.#answer(session, event);
    if (rank === 0) {
      if (this.#duringTouch && kind === 'script') this.#duringTouch.push(answer);
      else void answer();
      return;
    }
    this.#held.push({ rank, answer });
    this.#timer ??= setInterval(() => this.#release(), LOOK_EVERY_MS);
  }

  /** One after the other, each once what came before has been dealt with. */
  #release(): void {
    if (this.#held.length === 0 || this.#acting || performance.now() - this.#lastEvent < REST_MS) return;
    if (this.#early) {
      this.#acting = true;
      const limit = sleep(EARLY_LIMIT_MS);
      void Promise.race([this.#early().catch(() => undefined), limit]).then(() => {
        this.#acting = false;
        this.#lastEvent = performance.now();
      });
      this.#early = null;
      return;
    }
    const rank = Math.min(...this.#held.map((one) => one.rank));
    const next = this.#order.lastFirst
      ? this.#held.findLastIndex((one) => one.rank === rank)
      : this.#held.findIndex((one) => one.rank === rank);
    const [held] = this.#held.splice(next, 1);
    this.#lastEvent = performance.now();
    void held?.answer();
  }

  async #answer(
    session: CDPSession,
    { requestId, request, resourceType }: Protocol.Fetch.RequestPausedEvent,
  ): Promise<void> {
    const match = this.#archive.match(request.method, request.url);
    if (match.how === 'missing' && TELLING.test(resourceType.toLowerCase()))
      this.unanswered.push(request.url);
    const failing = this.#order.failing?.has(new URL(request.url).hostname);
    const send =
      failing || match.how === 'missing' || match.answer.failed
        ? session.send('Fetch.failRequest', {
            requestId,
            errorReason: failing ? 'ConnectionRefused' : 'NameNotResolved',
          })
        : session.send('Fetch.fulfillRequest', {
            requestId,
            responseCode: match.answer.status,
            responseHeaders: match.answer.headers.map(([name, value]) => ({ name, value })),
            body: Buffer.from(match.answer.body ?? new Uint8Array()).toString('base64'),
          });
    await send.catch(() => undefined);
    this.#lastEvent = performance.now();
  }
}
