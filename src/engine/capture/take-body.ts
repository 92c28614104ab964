import type { CDPSession, Protocol } from 'puppeteer-core';
import type { Header } from '../../core/measure/exchange.ts';
import { headerOf } from '../../core/measure/headers.ts';
import { tooLarge } from '../limits.ts';

/** What was taken of an answer that is held up, and what is to become of it. */
export type TakenBody =
  /** The browser has it still: it goes on to the page as it is. */
  | { from: 'browser'; body: Uint8Array | null; leftOut: string | null }
  /** It was taken from the browser piece by piece: the page is given it by us. */
  | { from: 'stream'; body: Uint8Array }
  /** It broke off, or came to more than may be and was let go in the middle: the page cannot have it. */
  | { from: 'nowhere'; leftOut: string | null };

/** Sitemaps: read, and not shown. */
const XML = /^\s*(application|text)\/xml\b/i;
const HTML = /^\s*(text\/html|application\/xhtml\+xml)\b/i;
/** A piece of a body at a time, bytes. */
const PIECE = 1_000_000;

/**
 * Takes the body of an answer that is held up at its headers, as it is unpacked. What tells its size beforehand is held
 * to that; what does not (compressed, or of no stated length) is taken piece by piece, so that two megabytes that unpack
 * to two gigabytes are let go after the first 25 MB of them. Not so a document that shows a page and came from this
 * machine or its network: given by us, it would come from no address, and one that comes from nowhere may ask nothing of
 * them (Local Network Access, "integration with fetch"). Of the public network's documents none may. It is probed first.
 *
 * @param taken how much is held of other answers, bytes
 * @param isPublic whether the answer came from the public network
 * @param probe why the document may not be taken whole, asked for by itself; null where it may
 */
export async function takeBody(
  session: CDPSession,
  { requestId, resourceType }: Pick<Protocol.Fetch.RequestPausedEvent, 'requestId' | 'resourceType'>,
  headers: readonly Header[],
  taken: () => number,
  isPublic: () => Promise<boolean>,
  probe: () => Promise<string | null>,
): Promise<TakenBody> {
  const stated = headerOf(headers, 'content-length');
  const leftOut = tooLarge(Number(stated ?? 0), taken());
  if (leftOut) return { from: 'browser', body: null, leftOut };
  const isPacked = !/^(identity)?$/i.test((headerOf(headers, 'content-encoding') ?? '').trim());
  const type = headerOf(headers, 'content-type') ?? '';
  const isShown = resourceType === 'Document' && !XML.test(type);
  if (isPacked || stated === undefined) {
    if (!isShown || (await isPublic())) return takePieces(session, requestId, taken);
    const isFile = /^\s*attachment/i.test(headerOf(headers, 'content-disposition') ?? '');
    const endless = HTML.test(type) && !isFile ? await probe() : null;
    if (endless) return { from: 'nowhere', leftOut: endless };
  }
  const got = await session.send('Fetch.getResponseBody', { requestId }).catch(() => null);
  const body = got && Buffer.from(got.body, got.base64Encoded ? 'base64' : 'utf8');
  const tooMuch = body && tooLarge(body.length, taken());
  return { from: 'browser', body: tooMuch ? null : body, leftOut: tooMuch };
}

/** Takes the body of an answer piece by piece, as it is unpacked: the page has it from nobody else then. */
export async function takePieces(
  session: CDPSession,
  requestId: Protocol.Fetch.RequestId,
  taken: () => number,
): Promise<TakenBody> {
  const begun = await session.send('Fetch.takeResponseBodyAsStream', { requestId }).catch(() => null);
  if (!begun) return { from: 'browser', body: null, leftOut: null };
  const handle = begun.stream;
  const pieces: Buffer[] = [];
  let bytes = 0;
  try {
    for (let isOver = false; !isOver;) {
      const { data, base64Encoded, eof } = await session.send('IO.read', { handle, size: PIECE });
      const piece = Buffer.from(data, base64Encoded ? 'base64' : 'utf8');
      bytes += piece.length;
      const leftOut = tooLarge(bytes, taken());
      if (leftOut) return { from: 'nowhere', leftOut };
      pieces.push(piece);
      isOver = eof;
    }
    return { from: 'stream', body: Buffer.concat(pieces) };
  } catch {
    return { from: 'nowhere', leftOut: null };
  } finally {
    void session.send('IO.close', { handle }).catch(() => undefined);
  }
}
