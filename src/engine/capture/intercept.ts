import type { CDPSession, Protocol } from 'puppeteer-core';
import type { Header } from '../../core/measure/exchange.ts';

/** An answer as it passed, with its exact bytes. */
export interface Answer {
  method: string;
  url: string;
  status: number;
  headers: Header[];
  body: Uint8Array | null;
  reason: string | null;
}

export interface InterceptOptions {
  /** Where exact answers are put; null leaves responses alone, so that they stream. */
  answers: Answer[] | null;
  /** Headers added to requests to this origin, and to no other. */
  add: { origin: string; headers: readonly Header[] } | null;
}

/**
 * Stands between the page and the network: takes every answer's exact bytes (Fetch at the response stage), adds
 * the user's headers to requests to the page's own origin (at the request stage, which does not stop streaming).
 */
export async function intercept(session: CDPSession, options: InterceptOptions): Promise<void> {
  const { answers, add } = options;
  const patterns: Protocol.Fetch.RequestPattern[] = [];
  if (answers) patterns.push({ urlPattern: 'http*', requestStage: 'Response' });
  if (add?.headers.length) patterns.push({ urlPattern: `${add.origin}/*`, requestStage: 'Request' });
  if (patterns.length === 0) return;
  session.on('Fetch.requestPaused', (event) => {
    const atResponse = event.responseStatusCode !== undefined || event.responseErrorReason !== undefined;
    if (atResponse && answers) void takeAnswer(session, event, answers);
    else void goOn(session, event, add?.headers ?? []);
  });
  await session.send('Fetch.enable', { patterns });
}

async function goOn(
  session: CDPSession,
  event: Protocol.Fetch.RequestPausedEvent,
  headers: readonly Header[],
): Promise<void> {
  const added = headers.map(([name, value]) => ({ name, value }));
  const own = Object.entries(event.request.headers)
    .filter(([name]) => !added.some((one) => one.name.toLowerCase() === name.toLowerCase()))
    .map(([name, value]) => ({ name, value }));
  await session
    .send('Fetch.continueRequest', { requestId: event.requestId, headers: [...own, ...added] })
    .catch(() => undefined);
}

async function takeAnswer(
  session: CDPSession,
  event: Protocol.Fetch.RequestPausedEvent,
  answers: Answer[],
): Promise<void> {
  const status = event.responseStatusCode ?? 0;
  const answer: Answer = {
    method: event.request.method,
    url: event.request.url,
    status,
    headers: (event.responseHeaders ?? []).map((header): Header => [header.name, header.value]),
    body: null,
    reason: event.responseErrorReason ?? null,
  };
  answers.push(answer);
  const redirect =
    status >= 300 &&
    status < 400 &&
    status !== 304 &&
    answer.headers.some(([name]) => name.toLowerCase() === 'location');
  if (!answer.reason && !redirect && status !== 204 && status !== 304) {
    const got = await session.send('Fetch.getResponseBody', { requestId: event.requestId }).catch(() => null);
    if (got) answer.body = got.base64Encoded ? Buffer.from(got.body, 'base64') : Buffer.from(got.body);
  }
  await session.send('Fetch.continueRequest', { requestId: event.requestId }).catch(() => undefined);
}
