import type { Browser, CDPSession, Protocol } from 'puppeteer-core';
import type { Header } from '../../core/measure/exchange.ts';
import type { RecordedRequest } from '../chromium/network-recorder.ts';
import { goOn, requestsTo, type AddedHeaders } from './add-headers.ts';
import { AddressSpaces } from './address-spaces.ts';
import { probeDocument } from './probe-document.ts';
import { takeBody, type TakenBody } from './take-body.ts';

/** An answer as it passed, with its exact bytes. */
export interface Answer {
  method: string;
  url: string;
  status: number;
  headers: Header[];
  body: Uint8Array | null;
  reason: string | null;
  /** Why its body was not taken, as the end of a sentence about it. */
  leftOut: string | null;
}

/** What one load of a page showed that later loads have to be helped with. */
export interface Hindrances {
  /** Addresses that ask for a name and a password: nobody is there to give them. */
  challenged: Set<string>;
  /** Addresses whose answers unpack to more than may be: no load is to have them. */
  endless: Set<string>;
  /** The page asks for itself again and again. */
  circling: boolean;
}

/** Before a load has shown any. */
export const noHindrances = (): Hindrances => ({
  challenged: new Set(),
  endless: new Set(),
  circling: false,
});

/** Whether the document that was gone to last was let go in the middle. */
export function isEndless(records: readonly RecordedRequest[], { endless }: Hindrances): boolean {
  return endless.has(records.findLast(({ kind }) => kind === 'document')?.url ?? '');
}

export interface InterceptOptions {
  /** Where exact answers are put; null leaves responses alone, so that they stream. */
  answers: Answer[] | null;
  add: AddedHeaders | null;
  /** Found in a load that takes answers, used in every other one. */
  hindrances: Hindrances;
  /** Where documents that are taken are asked for once more, to know how much they come to. */
  browser: Browser;
}

/** A page may ask for itself once more, to take effect of what it stored; the third time it goes round for ever. */
const MOST_OF_ONE = 2;
/** The same with addresses that change each time. */
const MOST_DOCUMENTS = 6;

/**
 * Stands between the page and the network: takes every answer's exact bytes (Fetch at the response stage), adds
 * the user's headers to requests to the page's own origin (at the request stage, which does not stop streaming),
 * answers as a visitor does who closes a prompt for a password, and stops a page that loads itself for ever.
 */
export async function intercept(
  session: CDPSession,
  isPage: boolean,
  options: InterceptOptions,
): Promise<void> {
  const { answers, add, hindrances, browser } = options;
  const patterns: Protocol.Fetch.RequestPattern[] = [];
  // At both stages: of what is only seen at its answer no prompt for a password is told.
  if (answers)
    for (const requestStage of ['Request', 'Response'] as const)
      patterns.push({ urlPattern: 'http*', requestStage });
  if (add) patterns.push(...requestsTo(add));
  if (isPage && !answers && hindrances.circling)
    patterns.push({ urlPattern: 'http*', resourceType: 'Document', requestStage: 'Request' });
  if (!answers)
    for (const url of [...hindrances.challenged, ...hindrances.endless])
      patterns.push({ urlPattern: exactly(url), requestStage: 'Request' });
  if (patterns.length === 0) return;
  const mainFrame = isPage ? (await session.send('Page.getFrameTree')).frameTree.frame.id : null;
  const circle = new CircleWatch(hindrances.circling);
  const spaces = new AddressSpaces(session);
  session.on('Fetch.requestPaused', (event) => {
    const atResponse = event.responseStatusCode !== undefined || event.responseErrorReason !== undefined;
    if (atResponse && answers) {
      void takeAnswer(session, event, answers, hindrances, { spaces, browser, add });
      return;
    }
    if (hindrances.endless.has(event.request.url)) {
      const { requestId } = event;
      void session.send('Fetch.failRequest', { requestId, errorReason: 'Aborted' }).catch(() => undefined);
      return;
    }
    const isDocument = event.resourceType === 'Document' && event.frameId === mainFrame;
    if (isDocument && !event.redirectedRequestId && circle.isRound(event.request.url)) {
      hindrances.circling = true;
      void stayPut(session, event, answers);
    } else void goOn(session, event, add);
  });
  session.on('Fetch.authRequired', ({ requestId, request }) => {
    hindrances.challenged.add(request.url);
    void session
      .send('Fetch.continueWithAuth', { requestId, authChallengeResponse: { response: 'CancelAuth' } })
      .catch(() => undefined);
  });
  await session.send('Fetch.enable', { patterns, handleAuthRequests: true });
}

/** Tells when a page asks for itself for ever. */
class CircleWatch {
  #times = new Map<string, number>();
  #documents = 0;
  /** That it does is known: then its first load is all there is to see. */
  #known: boolean;

  constructor(known: boolean) {
    this.#known = known;
  }

  isRound(url: string): boolean {
    const bare = url.replace(/#.*$/, '');
    const times = (this.#times.get(bare) ?? 0) + 1;
    this.#times.set(bare, times);
    this.#documents++;
    return this.#known ? this.#documents > 1 : times > MOST_OF_ONE || this.#documents > MOST_DOCUMENTS;
  }
}

/** Lets a navigation end where it began (HTML, "navigate": a 204 leaves the document as it is). */
async function stayPut(
  session: CDPSession,
  { requestId, request }: Protocol.Fetch.RequestPausedEvent,
  answers: Answer[] | null,
): Promise<void> {
  const { method, url } = request;
  answers?.push({ method, url, status: 204, headers: [], body: null, reason: null, leftOut: null });
  await session.send('Fetch.fulfillRequest', { requestId, responseCode: 204 }).catch(() => undefined);
}

async function takeAnswer(
  session: CDPSession,
  event: Protocol.Fetch.RequestPausedEvent,
  answers: Answer[],
  hindrances: Hindrances,
  { spaces, browser, add }: Pick<InterceptOptions, 'browser' | 'add'> & { spaces: AddressSpaces },
): Promise<void> {
  const status = event.responseStatusCode ?? 0;
  const answer: Answer = {
    method: event.request.method,
    url: event.request.url,
    status,
    headers: (event.responseHeaders ?? []).map((header): Header => [header.name, header.value]),
    body: null,
    reason: event.responseErrorReason ?? null,
    leftOut: null,
  };
  answers.push(answer);
  const redirect =
    status >= 300 &&
    status < 400 &&
    status !== 304 &&
    answer.headers.some(([name]) => name.toLowerCase() === 'location');
  const hasBody = !answer.reason && !redirect && status !== 204 && status !== 304;
  const taken: TakenBody = hasBody
    ? await takeBody(
        session,
        event,
        answer.headers,
        () => takenOf(answers),
        async () => (await spaces.of(event.networkId)) === 'Public',
        async () => (answer.method === 'GET' ? probeDocument(browser, answer.url, add) : null),
      )
    : { from: 'browser', body: null, leftOut: null };
  if (taken.from !== 'stream') answer.leftOut = taken.leftOut;
  if (taken.from !== 'nowhere') answer.body = taken.body;
  else if (taken.leftOut) hindrances.endless.add(answer.url);
  await goOnWith(session, event, taken).catch(() => undefined);
}

/** Lets a held answer go on to the page, with the body where that was taken from the browser. */
function goOnWith(
  session: CDPSession,
  { requestId, responseStatusCode = 200, responseHeaders = [] }: Protocol.Fetch.RequestPausedEvent,
  taken: TakenBody,
): Promise<void> {
  if (taken.from === 'browser') return session.send('Fetch.continueRequest', { requestId });
  if (taken.from === 'nowhere')
    return session.send('Fetch.failRequest', { requestId, errorReason: 'Aborted' });
  return session.send('Fetch.fulfillRequest', {
    requestId,
    responseCode: responseStatusCode,
    responseHeaders,
    body: Buffer.from(taken.body).toString('base64'),
  });
}

/** How much is held of all answers, bytes. */
function takenOf(answers: readonly Answer[]): number {
  return answers.reduce((sum, { body }) => sum + (body?.length ?? 0), 0);
}

/** A pattern for one address: `*` and `?` stand for anything in patterns. */
function exactly(url: string): string {
  return url.replace(/#.*$/, '').replace(/[*?\\]/g, (sign) => `\\${sign}`);
}
