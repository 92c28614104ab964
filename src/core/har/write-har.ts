import type { Bodies, Capture, Exchange, Header } from '../measure/exchange.ts';
import { headerOf } from '../measure/headers.ts';
import type { Metrics } from '../measure/metrics.ts';
import { UNKNOWN, type HarEntry, type HarFile, type HarPair } from './format.ts';
import { redacted } from './redact.ts';

export interface HarOptions {
  /** Leave what lets somebody in as it was; off unless the user asks. */
  keepSecrets: boolean;
  /** Headers the user gave: always secret, whatever their name. */
  secretHeaders: readonly string[];
  /** Figures of the median run, where the capture was measured. */
  metrics: Pick<Metrics, 'firstPaintMs' | 'domReadyMs' | 'loadMs'> | null;
}

/** Writes a capture as HAR 1.2, with bodies. */
export function writeHar(capture: Capture, bodies: Bodies, options: HarOptions): HarFile {
  const start = Date.parse(capture.takenAt);
  const har: HarFile = {
    log: {
      version: '1.2',
      creator: { name: 'Wistrel', version: '1' },
      pages: [
        {
          startedDateTime: capture.takenAt,
          id: 'page_1',
          title: capture.title || capture.url,
          pageTimings: {
            onContentLoad: options.metrics?.domReadyMs ?? UNKNOWN,
            onLoad: options.metrics?.loadMs ?? UNKNOWN,
            ...(options.metrics?.firstPaintMs ? { _wistrelFirstPaint: options.metrics.firstPaintMs } : {}),
          },
        },
      ],
      entries: capture.exchanges.map((exchange) => entryOf(exchange, bodies, start)),
    },
  };
  return options.keepSecrets ? har : redacted(har, options.secretHeaders);
}

function entryOf(exchange: Exchange, bodies: Bodies, startMs: number): HarEntry {
  const body = exchange.bodyHash === null ? null : (bodies.get(exchange.bodyHash) ?? null);
  const pairs = (headers: readonly Header[]): HarPair[] =>
    headers.filter(([name]) => !name.startsWith(':')).map(([name, value]) => ({ name, value }));
  const timings = timingsOf(exchange);
  const httpVersion = exchange.protocol === 'h2' ? 'HTTP/2' : exchange.protocol.toUpperCase() || 'unknown';
  return {
    pageref: 'page_1',
    startedDateTime: new Date(startMs + exchange.startMs).toISOString(),
    time:
      timings.blocked +
      timings.send +
      timings.wait +
      timings.receive +
      known(timings.dns) +
      known(timings.connect),
    request: {
      method: exchange.method,
      url: exchange.url,
      httpVersion,
      cookies: [],
      headers: pairs(exchange.requestHeaders),
      queryString: [...new URL(exchange.url).searchParams].map(([name, value]) => ({ name, value })),
      ...(exchange.requestBody === null
        ? {}
        : {
            postData: {
              mimeType: headerOf(exchange.requestHeaders, 'content-type') ?? '',
              text: exchange.requestBody,
            },
          }),
      headersSize: UNKNOWN,
      bodySize: exchange.requestBody === null ? 0 : new TextEncoder().encode(exchange.requestBody).length,
    },
    response: {
      status: exchange.status,
      statusText: '',
      httpVersion,
      cookies: [],
      headers: pairs(exchange.responseHeaders),
      content: {
        size: exchange.bodyBytes,
        ...(exchange.bodyBytes > exchange.wireBytes
          ? { compression: exchange.bodyBytes - exchange.wireBytes }
          : {}),
        mimeType: headerOf(exchange.responseHeaders, 'content-type') ?? exchange.mimeType,
        ...(body ? { text: base64(body), encoding: 'base64' } : {}),
      },
      redirectURL: exchange.outcome.state === 'redirected' ? exchange.outcome.to : '',
      headersSize: UNKNOWN,
      bodySize: exchange.wireBytes,
    },
    cache: {},
    timings,
    ...(exchange.remote ? { serverIPAddress: exchange.remote.replace(/:\d*$/, '') } : {}),
    _wistrelKind: exchange.kind,
    _wistrelServerMs: exchange.serverMs,
    _wistrelBlocking: exchange.blocking,
    _wistrelPriorities: exchange.priorities,
    ...(exchange.outcome.state === 'failed' ? { _wistrelFailed: exchange.outcome.reason } : {}),
  };
}

/** HAR 1.2: `ssl` is included in `connect`; −1 where a stretch does not apply. */
function timingsOf(exchange: Exchange): HarEntry['timings'] {
  const { timings } = exchange;
  if (!timings)
    return { blocked: 0, dns: -1, connect: -1, send: 0, wait: exchange.serverMs, receive: 0, ssl: -1 };
  return {
    blocked: timings.queuedMs,
    dns: timings.dnsMs ?? UNKNOWN,
    connect: timings.connectMs ?? UNKNOWN,
    send: timings.sendMs,
    wait: timings.waitMs,
    receive: timings.receiveMs,
    ssl: timings.tlsMs ?? UNKNOWN,
  };
}

function known(value: number): number {
  return value === UNKNOWN ? 0 : value;
}

/** Base64 without Node: in pieces, so that large bodies do not overflow the argument list. */
export function base64(bytes: Uint8Array): string {
  let text = '';
  for (let i = 0; i < bytes.length; i += 0x8000)
    text += String.fromCharCode(...bytes.subarray(i, i + 0x8000));
  return btoa(text);
}
