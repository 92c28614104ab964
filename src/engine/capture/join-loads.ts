import { createHash } from 'node:crypto';
import type { Exchange, ExchangeTimings, Header, Outcome } from '../../core/measure/exchange.ts';
import { discoveryOf, type RecordedRequest, wireBytesOf } from '../chromium/network-recorder.ts';
import type { Answer } from './intercept.ts';
import { tooLarge } from '../limits.ts';

export interface JoinedLoads {
  exchanges: Exchange[];
  bodies: Map<string, Uint8Array>;
  /** What was left out for its size, in words. */
  notes: string[];
}

/** Joins what the loads told: bodies by method and address in their order, times from the load that streamed. */
export function joinLoads(
  records: readonly RecordedRequest[],
  timed: readonly RecordedRequest[],
  answers: readonly Answer[],
): JoinedLoads {
  const bodies = new Map<string, Uint8Array>();
  const exchanges: Exchange[] = [];
  const notes: string[] = [];
  // An intercepted cross-origin request may be paused once as failed and again with its answer.
  const left = [...answers].sort((a, b) => Number(a.reason !== null) - Number(b.reason !== null));
  const leftTimed = [...timed];
  const take = <T extends { method: string; url: string }>(list: T[], record: RecordedRequest): T | null => {
    const bare = record.url.replace(/#.*$/, '');
    const index = list.findIndex(
      (one) => one.method === record.method && one.url.replace(/#.*$/, '') === bare,
    );
    return index < 0 ? null : list.splice(index, 1)[0]!;
  };
  const stylesheets = new Set(records.filter((one) => one.kind === 'stylesheet').map((one) => one.url));
  const roundTrips = connectTimes(timed);
  const startS = (timed[0] ?? records[0])?.startedAt ?? 0;
  let total = 0;
  for (const record of records) {
    const answer = take(left, record);
    const other = take(leftTimed, record) ?? record;
    let body = answer?.body ?? null;
    const why = answer?.leftOut ?? (body && (brokenOff(other) ?? tooLarge(body.length, total)));
    if (why) {
      notes.push(`${record.url} ${why}; it is replayed as a failure.`);
      body = null;
    }
    let hash: string | null = null;
    if (body) {
      total += body.length;
      hash = createHash('sha256').update(body).digest('hex');
      bodies.set(hash, body);
    }
    const status = answer?.status || record.response?.status || 0;
    exchanges.push({
      order: exchanges.length,
      method: record.method,
      url: record.url,
      kind: record.kind,
      status,
      responseHeaders: answer?.headers ?? headersOf(record),
      mimeType: record.response?.mimeType ?? '',
      bodyHash: hash,
      bodyBytes: body?.length ?? 0,
      wireBytes: wireBytesOf(other),
      serverMs: serverTime(other, roundTrips),
      protocol: other.response?.protocol ?? '',
      outcome: outcomeOf(record, answer, status),
      requestHeaders: Object.entries(record.requestHeaders),
      requestBody: record.requestBody,
      startMs: Math.max(0, (other.startedAt - startS) * 1000),
      timings: timingsOf(other),
      priorities: [other.priority, ...other.laterPriorities],
      blocking: other.blocking,
      discovery: discoveryOf(other, (url) => stylesheets.has(url)),
      remote: other.response?.remoteIPAddress
        ? `${other.response.remoteIPAddress}:${other.response.remotePort ?? ''}`
        : '',
    });
  }
  return { exchanges, bodies, notes };
}

/** What ends an answer before all of it has come (Chromium's net errors): the page has nothing of such a script. */
const BROKEN_OFF =
  /ERR_(INCOMPLETE_CHUNKED_ENCODING|CONTENT_LENGTH_MISMATCH|CONTENT_DECODING_FAILED|CONNECTION_(CLOSED|RESET|ABORTED)|HTTP2_\w+|QUIC_PROTOCOL_ERROR)/;

/** Why a body is not whole, by the load that nobody stood between: taken piece by piece, its end is like any other end. */
function brokenOff({ kind, failed, response }: RecordedRequest): string | null {
  // Of a document a browser shows what has come.
  if (kind === 'document' || kind === 'embed') return null;
  return response && failed && BROKEN_OFF.test(failed) ? 'broke off on its way' : null;
}

function headersOf(record: RecordedRequest): Header[] {
  return Object.entries(record.response?.headers ?? {});
}

function outcomeOf(record: RecordedRequest, answer: Answer | null, status: number): Outcome {
  if (record.redirectedTo !== null) return { state: 'redirected', to: record.redirectedTo };
  if (answer?.reason || status === 0)
    return { state: 'failed', reason: record.failed ?? answer?.reason ?? 'no answer' };
  return { state: 'answered' };
}

function timingsOf(record: RecordedRequest): ExchangeTimings | null {
  const timing = record.response?.timing;
  if (!timing) return null;
  const first = timing.receiveHeadersStart ?? timing.receiveHeadersEnd;
  const between = (from: number, to: number) => (from >= 0 && to >= from ? to - from : null);
  const endMs = record.endedAt === null ? null : (record.endedAt - timing.requestTime) * 1000;
  const asked = [timing.dnsStart, timing.connectStart, timing.sendStart].find((one) => one >= 0) ?? 0;
  return {
    queuedMs: Math.max(0, (timing.requestTime - record.startedAt) * 1000 + asked),
    dnsMs: between(timing.dnsStart, timing.dnsEnd),
    connectMs: between(timing.connectStart, timing.connectEnd),
    tlsMs: between(timing.sslStart, timing.sslEnd),
    sendMs: between(timing.sendStart, timing.sendEnd) ?? 0,
    waitMs: between(timing.sendEnd, first) ?? 0,
    receiveMs: endMs === null ? 0 : Math.max(0, endMs - first),
  };
}

/** The least connection set-up seen for each host: its measured round trip, ms. */
function connectTimes(records: readonly RecordedRequest[]): Map<string, number> {
  const least = new Map<string, number>();
  for (const record of records) {
    const timing = record.response?.timing;
    if (!timing || timing.connectStart < 0) continue;
    const end = timing.sslStart > 0 ? timing.sslStart : timing.connectEnd;
    const host = new URL(record.url).host;
    const took = end - timing.connectStart;
    if (took >= 0) least.set(host, Math.min(least.get(host) ?? Infinity, took));
  }
  return least;
}

/** The server's own time: the wait for the first byte less the connection's round trip, never below 0. */
function serverTime(record: RecordedRequest, roundTrips: ReadonlyMap<string, number>): number {
  const timing = record.response?.timing;
  if (!timing) return 0;
  const first = timing.receiveHeadersStart ?? timing.receiveHeadersEnd;
  return Math.max(0, first - timing.sendEnd - (roundTrips.get(new URL(record.url).host) ?? 0));
}
