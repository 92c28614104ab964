import type { Exchange, ExchangeTimings, Header, Outcome } from '../measure/exchange.ts';
import type { AssetKind } from '../measure/discovery.ts';
import type { BlockingStatus } from '../measure/discovery.ts';
import { UNKNOWN } from './format.ts';

/** A value that came from a file: nothing about it is certain. */
type Loose = unknown;

/** An entry of a HAR as an exchange, and its body where the file holds one. */
export interface ReadEntry {
  exchange: Omit<Exchange, 'bodyHash' | 'order'>;
  body: Uint8Array | null;
  startedMs: number;
  /** True where the file says the server's own time; otherwise `serverMs` is the whole wait until `serverTimes`. */
  saysServerMs: boolean;
}

const KINDS: ReadonlySet<string> = new Set<AssetKind>([
  'document',
  'script',
  'stylesheet',
  'font',
  'image',
  'embed',
  'data',
  'beacon',
  'preflight',
  'other',
]);

/**
 * Reads one entry of a HAR of any program's making.
 *
 * @returns null for an entry that is no HTTP exchange (a data: URL, a web socket)
 * @throws Error that says what is missing, when it is not an entry at all
 */
export function readEntry(entry: Loose): ReadEntry | null {
  const request = record(field(entry, 'request'));
  const response = record(field(entry, 'response'));
  if (!request || !response) throw new Error('An entry has no request or no response.');
  const url = text(request['url']);
  if (!/^https?:/i.test(url)) return null;
  if (!URL.canParse(url)) throw new Error(`An entry has no valid address (“${url.slice(0, 80)}”).`);
  const content = record(response['content']) ?? {};
  const body = bodyOf(content);
  const status = number(response['status']) ?? 0;
  const responseHeaders = headersOf(response['headers']);
  const mimeType = (text(content['mimeType']).split(';')[0] ?? '').trim().toLowerCase();
  const timings = timingsOf(record(field(entry, 'timings')) ?? {});
  const wire = number(response['bodySize']) ?? UNKNOWN;
  const size = body?.length ?? number(content['size']) ?? 0;
  const redirect = text(response['redirectURL']);
  const failed = text(field(entry, '_wistrelFailed'));
  const ownServerMs = number(field(entry, '_wistrelServerMs'));
  return {
    saysServerMs: ownServerMs !== null,
    startedMs: Date.parse(text(field(entry, 'startedDateTime'))) || 0,
    body,
    exchange: {
      method: text(request['method']).toUpperCase() || 'GET',
      url,
      kind: kindOf(text(field(entry, '_wistrelKind')), mimeType, url),
      status,
      responseHeaders,
      mimeType,
      bodyBytes: body?.length ?? 0,
      wireBytes: wire > 0 ? wire : Math.max(0, size - (number(content['compression']) ?? 0)),
      serverMs: ownServerMs ?? timings.waitMs,
      protocol: protocolOf(text(response['httpVersion'])),
      outcome: outcomeOf(status, redirect, failed, url),
      requestHeaders: headersOf(request['headers']),
      requestBody: text(field(request['postData'], 'text')) || null,
      startMs: 0,
      timings,
      priorities: strings(field(entry, '_wistrelPriorities')),
      blocking: blockingOf(text(field(entry, '_wistrelBlocking'))),
      discovery: { by: 'other' },
      remote: text(field(entry, 'serverIPAddress')),
    },
  };
}

/**
 * Each entry's own server time, ms: what the file says of it, or else its wait less the round trip of its host,
 * which is the least connection set-up seen (HAR 1.2: `ssl` is included in `connect`), never below 0.
 */
export function serverTimes(
  entries: readonly { exchange: Pick<Exchange, 'url' | 'serverMs' | 'timings'>; saysServerMs: boolean }[],
): number[] {
  const roundTrips = new Map<string, number>();
  for (const { exchange } of entries) {
    const { connectMs, tlsMs } = exchange.timings ?? { connectMs: null, tlsMs: null };
    // Nought is what programs write for a connection that stood already.
    if (!connectMs) continue;
    const { host } = new URL(exchange.url);
    const took = Math.max(0, connectMs - (tlsMs ?? 0));
    roundTrips.set(host, Math.min(roundTrips.get(host) ?? Infinity, took));
  }
  return entries.map(({ exchange, saysServerMs }) =>
    saysServerMs
      ? exchange.serverMs
      : Math.max(0, exchange.serverMs - (roundTrips.get(new URL(exchange.url).host) ?? 0)),
  );
}

function outcomeOf(status: number, redirect: string, failed: string, base: string): Outcome {
  if (failed || status === 0) return { state: 'failed', reason: failed || 'no answer' };
  if (redirect && status >= 300 && status < 400)
    return {
      state: 'redirected',
      to: URL.canParse(redirect, base) ? new URL(redirect, base).href : redirect,
    };
  return { state: 'answered' };
}

/** HAR 1.2, content: text is decoded already, unless `encoding` says how it is encoded. */
function bodyOf(content: Record<string, Loose>): Uint8Array | null {
  const body = content['text'];
  if (typeof body !== 'string') return null;
  if (text(content['encoding']).toLowerCase() !== 'base64') return new TextEncoder().encode(body);
  try {
    return Uint8Array.from(atob(body), (character) => character.charCodeAt(0));
  } catch {
    return null;
  }
}

function timingsOf(timings: Record<string, Loose>): ExchangeTimings {
  const ms = (name: string) => {
    const value = number(timings[name]);
    return value === null || value < 0 ? null : value;
  };
  return {
    queuedMs: ms('blocked') ?? 0,
    dnsMs: ms('dns'),
    connectMs: ms('connect'),
    tlsMs: ms('ssl'),
    sendMs: ms('send') ?? 0,
    waitMs: ms('wait') ?? 0,
    receiveMs: ms('receive') ?? 0,
  };
}

/** Our own mark first; then the type and the ending. */
function kindOf(own: string, mimeType: string, url: string): AssetKind {
  if (KINDS.has(own)) return own as AssetKind;
  const path = new URL(url).pathname.toLowerCase();
  if (/html/.test(mimeType)) return 'document';
  if (/css/.test(mimeType) || path.endsWith('.css')) return 'stylesheet';
  if (/javascript|ecmascript/.test(mimeType) || /\.m?js$/.test(path)) return 'script';
  if (/^font\/|font-/.test(mimeType) || /\.(woff2?|ttf|otf|eot)$/.test(path)) return 'font';
  if (mimeType.startsWith('image/')) return 'image';
  if (/json|xml/.test(mimeType)) return 'data';
  return 'other';
}

const BLOCKING: ReadonlySet<string> = new Set<BlockingStatus>([
  'blocking',
  'in-body-parser-blocking',
  'potentially-blocking',
  'non-blocking',
]);

function blockingOf(value: string): BlockingStatus {
  return BLOCKING.has(value) ? (value as BlockingStatus) : 'non-blocking';
}

function protocolOf(version: string): string {
  return /^(http\/)?(h?2(\.0)?|h3|3)$/i.test(version) ? 'h2' : 'http/1.1';
}

function headersOf(value: Loose): Header[] {
  if (!Array.isArray(value)) return [];
  return value.flatMap((one): Header[] => {
    const name = text(field(one, 'name'));
    return name ? [[name, text(field(one, 'value'))]] : [];
  });
}

function record(value: Loose): Record<string, Loose> | null {
  return typeof value === 'object' && value !== null && !Array.isArray(value)
    ? (value as Record<string, Loose>)
    : null;
}

function field(value: Loose, name: string): Loose {
  return record(value)?.[name];
}

function text(value: Loose): string {
  return typeof value === 'string' ? value : '';
}

function number(value: Loose): number | null {
  return typeof value === 'number' && Number.isFinite(value) ? value : null;
}

function strings(value: Loose): string[] {
  return Array.isArray(value) ? value.filter((one): one is string => typeof one === 'string') : [];
}
