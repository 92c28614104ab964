import type { Exchange, Header, PageClock } from '../../core/measure/exchange.ts';
import { contentEncodingOf } from '../../core/measure/headers.ts';

/** What an arm serves instead of, or besides, the captured bytes. */
export interface Override {
  url: string;
  mimeType: string;
  body: Uint8Array;
  /** A file the capture never held: it takes the server time of its host's other static files. */
  isNew: boolean;
  /** The server's own time for it, ms; by default that of the file it stands for, or of its like. */
  serverMs?: number;
}

/** An answer as it is to be sent. */
export interface ArchivedAnswer {
  status: number;
  headers: Header[];
  body: Uint8Array | null;
  serverMs: number;
  /** Encoding and size on the wire to come near to; null sends the bytes as they are. */
  encodeNear: { encoding: 'gzip' | 'br'; wireBytes: number } | null;
  failed: boolean;
}

export type Match = { how: 'exact' | 'loose'; answer: ArchivedAnswer; url: string } | { how: 'missing' };

/** Headers that belong to the connection, or that replay sets itself. */
const DROPPED = new Set([
  'connection',
  'keep-alive',
  'transfer-encoding',
  'content-length',
  'content-encoding',
  'upgrade',
  'proxy-connection',
  'te',
  'trailer',
  'alt-svc',
  'date',
  'strict-transport-security',
  'http2-settings',
]);

/**
 * Answers requests from a capture. The rule: same method and exact address first (asked again, the next of
 * its answers, and the last one from then on); where the scripts had the capture's clock, times of that clock
 * count as equal in an address; else the same path on the same host with most query parameters in common,
 * which is a loose match; else nothing.
 */
export class Archive {
  #exact = new Map<string, Exchange[]>();
  #timeless = new Map<string, Exchange[]>();
  #byPath = new Map<string, Exchange[]>();
  #served = new Map<string, number>();
  #overrides = new Map<string, Override>();
  #bodies: ReadonlyMap<string, Uint8Array>;
  #exchanges: readonly Exchange[];
  #clock: PageClock | null;

  constructor(
    exchanges: readonly Exchange[],
    bodies: ReadonlyMap<string, Uint8Array>,
    overrides: readonly Override[],
    clock: PageClock | null,
  ) {
    this.#clock = clock;
    this.#bodies = bodies;
    this.#exchanges = exchanges;
    for (const exchange of exchanges) {
      append(this.#exact, `${exchange.method} ${bare(exchange.url)}`, exchange);
      append(this.#timeless, `${exchange.method} ${withoutTimes(bare(exchange.url), clock)}`, exchange);
      append(this.#byPath, `${exchange.method} ${withoutQuery(exchange.url)}`, exchange);
    }
    for (const override of overrides) this.#overrides.set(bare(override.url), override);
  }

  /** A new load begins: repeated requests start with their first answer again. */
  rewind(): void {
    this.#served.clear();
  }

  match(method: string, url: string): Match {
    const asked = method === 'HEAD' ? 'GET' : method;
    const override = asked === 'GET' ? this.#overrides.get(bare(url)) : undefined;
    const key = `${asked} ${bare(url)}`;
    const same =
      this.#exact.get(key) ?? this.#timeless.get(`${asked} ${withoutTimes(bare(url), this.#clock)}`);
    if (override) return { how: 'exact', answer: this.#overridden(override, same?.[0]), url };
    if (same) {
      const turn = this.#served.get(key) ?? 0;
      this.#served.set(key, turn + 1);
      return { how: 'exact', answer: this.#answer(same[Math.min(turn, same.length - 1)]!), url };
    }
    const near = this.#nearest(asked, url);
    return near ? { how: 'loose', answer: this.#answer(near), url: near.url } : { how: 'missing' };
  }

  #nearest(method: string, url: string): Exchange | null {
    const candidates = this.#byPath.get(`${method} ${withoutQuery(url)}`) ?? [];
    const wanted = [...new URL(url).searchParams].map(([name, value]) => `${name}=${value}`);
    let best: Exchange | null = null;
    let most = -1;
    for (const candidate of candidates) {
      const has = new Set(
        [...new URL(candidate.url).searchParams].map(([name, value]) => `${name}=${value}`),
      );
      const common = wanted.filter((one) => has.has(one)).length;
      if (common > most) {
        most = common;
        best = candidate;
      }
    }
    return best;
  }

  #answer(exchange: Exchange): ArchivedAnswer {
    const body = exchange.bodyHash === null ? null : (this.#bodies.get(exchange.bodyHash) ?? null);
    const unusable =
      exchange.outcome.state === 'failed' ||
      (exchange.outcome.state === 'answered' &&
        body === null &&
        exchange.status !== 204 &&
        exchange.wireBytes > 0);
    return {
      status: exchange.status || 502,
      headers: exchange.responseHeaders.filter(
        ([name]) => !DROPPED.has(name.toLowerCase()) && !name.startsWith(':'),
      ),
      body,
      serverMs: exchange.serverMs,
      encodeNear: encodingOf(exchange),
      failed: unusable,
    };
  }

  /** Both arms of a trial take this way for the document: same headers, same encoder, same server time. */
  #overridden(override: Override, original: Exchange | undefined): ArchivedAnswer {
    if (original) {
      const answer = this.#answer(original);
      const scale = original.bodyBytes > 0 ? override.body.length / original.bodyBytes : 1;
      return {
        ...answer,
        body: override.body,
        serverMs: override.serverMs ?? answer.serverMs,
        encodeNear: answer.encodeNear && {
          ...answer.encodeNear,
          wireBytes: answer.encodeNear.wireBytes * scale,
        },
      };
    }
    const origin = new URL(override.url).origin;
    const siblings = this.#exchanges.filter(
      (one) => new URL(one.url).origin === origin && /^(script|stylesheet)$/.test(one.kind),
    );
    const times = siblings.map((one) => one.serverMs).sort((a, b) => a - b);
    const sample = siblings.find((one) => encodingOf(one));
    return {
      status: 200,
      headers: [
        ['content-type', `${override.mimeType}; charset=utf-8`],
        ['cache-control', 'public, max-age=3600'],
      ],
      body: override.body,
      serverMs: override.serverMs ?? times[times.length >> 1] ?? 0,
      encodeNear: sample
        ? { encoding: encodingOf(sample)!.encoding, wireBytes: override.body.length / 3 }
        : null,
      failed: false,
    };
  }
}

/** The encoding of an exchange's body on the wire, as far as it is reproduced. */
function encodingOf(exchange: Exchange): ArchivedAnswer['encodeNear'] {
  const value = contentEncodingOf(exchange.responseHeaders);
  if (!value || exchange.bodyBytes === 0) return null;
  return { encoding: value === 'br' || value === 'zstd' ? 'br' : 'gzip', wireBytes: exchange.wireBytes };
}

function bare(url: string): string {
  return url.replace(/#.*$/, '');
}

/** Longer than any load takes. */
const CLOCK_SPAN_MS = 600_000;

/** An address with the times of a clock (ms or seconds since 1970, since its start) made equal. */
function withoutTimes(url: string, clock: PageClock | null): string {
  if (!clock) return url;
  return url.replace(/(?<!\d)\d{10}(?:\d{3})?(?!\d)/g, (digits) => {
    const ms = digits.length === 13 ? Number(digits) : Number(digits) * 1_000;
    const since = ms - clock.startMs;
    return since > -1_000 && since < CLOCK_SPAN_MS ? '{time}' : digits;
  });
}

function withoutQuery(url: string): string {
  return bare(url).replace(/\?.*$/, '');
}

function append<T>(map: Map<string, T[]>, key: string, value: T): void {
  const list = map.get(key);
  if (list) list.push(value);
  else map.set(key, [value]);
}
