import type { CDPSession, Protocol } from 'puppeteer-core';
import type { Header } from '../../core/measure/exchange.ts';

/** Headers that requests to one origin have beside their own, and those to no other. */
export interface AddedHeaders {
  origin: string;
  headers: readonly Header[];
}

/** The requests that have to be held for that. */
export function requestsTo({ origin, headers }: AddedHeaders): Protocol.Fetch.RequestPattern[] {
  return headers.length ? [{ urlPattern: `${origin}/*`, requestStage: 'Request' }] : [];
}

/** Lets a held request go on, with what is added to it. */
export async function goOn(
  session: CDPSession,
  { requestId, request }: Protocol.Fetch.RequestPausedEvent,
  add: AddedHeaders | null,
): Promise<void> {
  const isOwn = add !== null && request.url.startsWith(`${add.origin}/`);
  if (!isOwn || add.headers.length === 0) {
    await session.send('Fetch.continueRequest', { requestId }).catch(() => undefined);
    return;
  }
  const added = add.headers.map(([name, value]) => ({ name, value }));
  const own = Object.entries(request.headers)
    .filter(([name]) => !added.some((one) => one.name.toLowerCase() === name.toLowerCase()))
    .map(([name, value]) => ({ name, value }));
  await session
    .send('Fetch.continueRequest', { requestId, headers: [...own, ...added] })
    .catch(() => undefined);
}
