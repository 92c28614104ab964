import type { Exchange, Header, PageClock } from '../../core/measure/exchange.ts';
import { contentEncodingOf } from '../../core/measure/headers.ts';
import { isSendable, sendableStatus } from './headers.ts';

/** What an arm serves instead of, or besides, the captured bytes. */
export interface Override {
  url: string;
  mimeType: string;
  body: Uint8Array;
  /** A file the capture never held: it takes server time, encoding and caching from its host's other static files. */
  isNew: boolean;
  /** The server's own time for it, ms; by default that of the file it stands for, or of its like. */
  serverMs?: number;
  /** How the capture of another page had it: it is answered like that. */
  elsewhere?: Exchange;
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
  // Nobody is there to answer: what the page gets is what a visitor gets who closes the prompt.
  'www-authenticate',
  'proxy-authenticate',
  'http2-settings',
]);

/**
 * Answers requests from a capture. The rule: same method and exact address first (asked again, the next of
 * its answers, and the last one from then on); where the scripts had the capture's clock, times of that clock
 * count as equal in an address; else the same path on the same host with most query parameters in common,
 * which is a loose match; else nothing.
 */
export class Archive {
  #same = new Map<string, Exchange[]>();
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
      append(this.#same, keyOf(exchange.method, exchange.url, clock), exchange);
      append(this.#byPath, `${exchange.method} ${withoutQuery(exchange.url)}`, exchange);
    }
    for (const override of overrides) this.#overrides.set(bare(override.url), override);
  }

  /** A new load begins: repeated requests start with their first answer again. */
  rewind(): void {
    this.#served.clear();
  }

  /** Whether a request has an exact answer. */
  holds(method: string, url: string): boolean {
    const asked = method === 'HEAD' ? 'GET' : method;
    return this.#overrides.has(bare(url)) || this.#same.has(keyOf(asked, url, this.#clock));
  }

  match(method: string, url: string): Match {
    const asked = method === 'HEAD' ? 'GET' : method;
    const override = asked === 'GET' ? this.#overrides.get(bare(url)) : undefined;
    const exchange = this.#inTurn(asked, url);
    if (exchange) {
      // What stands in for a page stands in for what it shows, not for how the browser gets there.
      const answer =
        override && isShown(exchange) ? this.#overridden(override, exchange) : this.#answer(exchange);
      return { how: 'exact', answer, url };
    }
    if (override) {
      // This archive does not hold the body of what another page's capture had: the override does.
      const answer = { ...this.#overridden(override, override.elsewhere), failed: false };
      return { how: 'exact', answer, url };
    }
    const near = this.#nearest(asked, url);
    return near ? { how: 'loose', answer: this.#answer(near), url: near.url } : { how: 'missing' };
  }

  /**
   * The exchange whose turn it is: of those of one address, times of the clock being equal, the next one (a poll whose
   * query is the time has its answers in their order), or the very address where that is still to come.
   */
  #inTurn(method: string, url: string): Exchange | null {
    const key = keyOf(method, url, this.#clock);
    const alike = this.#same.get(key);
    if (!alike) return null;
    const turn = this.#served.get(key) ?? 0;
    const exact = alike.findIndex((one, index) => index >= turn && bare(one.url) === bare(url));
    const at = Math.min(exact < 0 ? turn : exact, alike.length - 1);
    this.#served.set(key, at + 1);
    return alike[at]!;
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
      status: sendableStatus(exchange.status),
      headers: exchange.responseHeaders.filter(
        (header) => !DROPPED.has(header[0].toLowerCase()) && isSendable(header),
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
    const isText = TEXT.test(override.mimeType);
    const sample = isText ? siblings.find((one) => encodingOf(one)) : undefined;
    const like = siblings.find((one) => override.mimeType.includes(TYPE_OF[one.kind] ?? '-')) ?? siblings[0];
    return {
      status: 200,
      headers: [
        ['content-type', isText ? `${override.mimeType}; charset=utf-8` : override.mimeType],
        // Kept longer than what stands beside it, it would seem to gain on a return visit.
        ...(like?.responseHeaders ?? []).filter(([name]) => CACHING.test(name)),
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

/** What is written as text: fonts and pictures are not, and are compressed already. */
const TEXT = /^text\/|javascript|json|svg/;
/** By what a static file's type is known. */
const TYPE_OF: Partial<Record<Exchange['kind'], string>> = { stylesheet: 'css', script: 'javascript' };
/** How long an answer may be kept (HTTP Caching, RFC 9111, sections 4.2 and 5). */
const CACHING = /^(cache-control|expires|last-modified|pragma)$/i;

/** Whether an answer is something to show: no redirect, and not the order to stay where one is. */
function isShown({ status, outcome }: Exchange): boolean {
  return outcome.state !== 'redirected' && status !== 204 && status !== 304;
}

/** The encoding of an exchange's body on the wire, as far as it is reproduced. */
function encodingOf(exchange: Exchange): ArchivedAnswer['encodeNear'] {
  const value = contentEncodingOf(exchange.responseHeaders);
  if (!value || exchange.bodyBytes === 0) return null;
  return { encoding: value === 'br' || value === 'zstd' ? 'br' : 'gzip', wireBytes: exchange.wireBytes };
}

function keyOf(method: string, url: string, clock: PageClock | null): string {
  return `${method} ${withoutTimes(bare(url), clock)}`;
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
