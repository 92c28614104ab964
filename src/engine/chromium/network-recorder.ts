import type { CDPSession, Protocol } from 'puppeteer-core';
import type { AssetKind } from '../../core/measure/discovery.ts';
import { PollWatch } from '../../core/measure/polls.ts';
import type { RequestTiming } from '../../core/measure/run.ts';
import type { BlockingStatus, Discovery } from '../../core/measure/discovery.ts';
import { MOST_REQUESTS } from '../limits.ts';

/** One request as the DevTools protocol told it; times are seconds on the browser's monotonic clock. */
export interface RecordedRequest {
  id: string;
  url: string;
  method: string;
  kind: AssetKind;
  initiator: Protocol.Network.Initiator;
  blocking: BlockingStatus;
  priority: string;
  laterPriorities: string[];
  requestHeaders: Record<string, string>;
  requestBody: string | null;
  startedAt: number;
  response: Protocol.Network.Response | null;
  endedAt: number | null;
  encodedBytes: number;
  failed: string | null;
  redirectedTo: string | null;
  /** Answered by the browser's own cache: nothing came over the wire. */
  fromCache: boolean;
  /** A poll, or a stream of events: no sign that the page is still at work. */
  calm: boolean;
}

const BLOCKING: Record<string, BlockingStatus> = {
  Blocking: 'blocking',
  InBodyParserBlocking: 'in-body-parser-blocking',
  PotentiallyBlocking: 'potentially-blocking',
};

/** Records the network events of a page and of every child target it is given. */
export class NetworkRecorder {
  #records: RecordedRequest[] = [];
  #open = new Map<string, RecordedRequest>();
  #lastChange = performance.now();
  #polls = new PollWatch();
  /** How many requests of the present document are recorded: a page that is used again begins anew. */
  #ofDocument = 0;
  #isFull = false;

  /** Whether a document asked for more than is recorded. */
  get isFull(): boolean {
    return this.#isFull;
  }

  /** Hosts that were asked over TLS, with their ports, each once. */
  get secureHosts(): string[] {
    const urls = this.#records.map(({ url }) => url).filter((url) => /^(https|wss):/.test(url));
    return [...new Set(urls.filter((url) => URL.canParse(url)).map((url) => new URL(url).host))];
  }

  /**
   * Starts recording a session. Request ids are unique across sessions: a frame of another site is asked for
   * in its parent's session and ends in its own.
   */
  async attach(session: CDPSession, isPage: boolean): Promise<void> {
    let mainFrame: string | null = null;
    session.on('Network.requestWillBeSent', (event) => {
      if (isPage && event.type === 'Document') mainFrame ??= event.frameId ?? null;
      const key = event.requestId;
      const previous = this.#open.get(key);
      if (previous && !event.redirectResponse) return;
      const kind = kindOf(event.type, isPage && event.frameId === mainFrame);
      if (kind === 'document') this.#ofDocument = 0;
      if (this.#ofDocument >= MOST_REQUESTS) {
        this.#isFull = true;
        return;
      }
      this.#ofDocument++;
      if (event.redirectResponse && previous) {
        previous.response = event.redirectResponse;
        previous.endedAt = event.timestamp;
        previous.redirectedTo = event.request.url;
        previous.encodedBytes = event.redirectResponse.encodedDataLength;
      }
      const record: RecordedRequest = {
        id: `${key}${previous ? `:${this.#records.length}` : ''}`,
        url: event.request.url,
        method: event.request.method,
        kind,
        initiator: event.initiator,
        blocking: BLOCKING[event.renderBlockingBehavior ?? ''] ?? 'non-blocking',
        priority: event.request.initialPriority,
        laterPriorities: [],
        requestHeaders: event.request.headers,
        requestBody: event.request.postData ?? null,
        startedAt: event.timestamp,
        response: null,
        endedAt: null,
        encodedBytes: 0,
        failed: null,
        redirectedTo: null,
        fromCache: false,
        calm: event.type === 'EventSource',
      };
      record.calm ||= this.#polls.isPoll(record, event.timestamp * 1_000);
      this.#changed(record);
      this.#open.set(key, record);
      this.#records.push(record);
    });
    session.on('Network.responseReceived', (event) => {
      const record = this.#open.get(event.requestId);
      if (!record) return;
      this.#changed(record);
      record.response = event.response;
      record.fromCache ||= event.response.fromDiskCache ?? false;
    });
    session.on('Network.requestServedFromCache', (event) => {
      const record = this.#open.get(event.requestId);
      if (record) record.fromCache = true;
    });
    session.on('Network.resourceChangedPriority', (event) => {
      const record = this.#open.get(event.requestId);
      if (record) record.laterPriorities.push(event.newPriority);
    });
    session.on('Network.loadingFinished', (event) => {
      const record = this.#open.get(event.requestId);
      if (!record) return;
      this.#changed(record);
      record.endedAt = event.timestamp;
      record.encodedBytes = event.encodedDataLength;
    });
    session.on('Network.loadingFailed', (event) => {
      const record = this.#open.get(event.requestId);
      if (!record) return;
      this.#changed(record);
      record.endedAt = event.timestamp;
      record.failed = event.blockedReason ?? event.errorText;
    });
    await session.send('Network.enable', {
      maxTotalBufferSize: 300_000_000,
      maxResourceBufferSize: 30_000_000,
    });
    await session.send('Network.setBypassServiceWorker', { bypass: true });
  }

  /** The page has loaded: what it goes on asking for at a regular distance is no unrest. */
  hasLoaded(): void {
    this.#polls.hasLoaded();
  }

  #changed({ calm }: RecordedRequest): void {
    if (!calm) this.#lastChange = performance.now();
  }

  get records(): readonly RecordedRequest[] {
    return this.#records.filter((record) => /^https?:/.test(record.url));
  }

  /** Assets that stood in the page itself. */
  get dataUrls(): readonly RecordedRequest[] {
    return this.#records.filter((record) => record.url.startsWith('data:'));
  }

  /** Requests on their way that something is still expected of. */
  get inFlight(): number {
    return this.#records.filter(
      (record) => record.endedAt === null && !record.calm && /^https?:/.test(record.url),
    ).length;
  }

  /** Addresses of requests on their way that nothing has come for. */
  get unanswered(): string[] {
    return this.#records
      .filter((record) => record.endedAt === null && /^https?:/.test(record.url))
      .map((record) => record.url);
  }

  /** How long nothing has happened though something is on its way, ms; 0 while nothing is. */
  stuckMs(): number {
    return this.inFlight > 0 ? performance.now() - this.#lastChange : 0;
  }

  /** How long nothing has been asked for or arrived, ms; 0 while something is on its way. */
  quietMs(): number {
    return this.inFlight > 0 ? 0 : performance.now() - this.#lastChange;
  }
}

function kindOf(type: string | undefined, mainFrame: boolean): AssetKind {
  switch (type) {
    case 'Document':
      return mainFrame ? 'document' : 'embed';
    case 'Script':
      return 'script';
    case 'Stylesheet':
      return 'stylesheet';
    case 'Font':
      return 'font';
    case 'Image':
      return 'image';
    case 'XHR':
    case 'Fetch':
    case 'EventSource':
      return 'data';
    case 'Ping':
      return 'beacon';
    case 'Preflight':
      return 'preflight';
    default:
      return 'other';
  }
}

/** How the browser came to know of a request, from its initiator. */
export function discoveryOf(record: RecordedRequest, isStylesheet: (url: string) => boolean): Discovery {
  const { initiator } = record;
  const line = initiator.lineNumber === undefined ? null : initiator.lineNumber + 1;
  const column = initiator.columnNumber === undefined ? null : initiator.columnNumber + 1;
  if (record.kind === 'document') return { by: 'navigation' };
  if (initiator.type === 'parser' && initiator.url) {
    return isStylesheet(initiator.url)
      ? { by: 'stylesheet', url: initiator.url, line, column }
      : { by: 'parser', document: initiator.url, line, column };
  }
  if (initiator.type === 'script') {
    let stack = initiator.stack;
    while (stack && stack.callFrames.length === 0) stack = stack.parent;
    const top = stack?.callFrames.find((frame) => frame.url);
    if (top) return { by: 'script', url: top.url, line: top.lineNumber + 1, column: top.columnNumber + 1 };
  }
  if (initiator.type === 'preload') return { by: 'preload' };
  return { by: 'other' };
}

/** Bytes of a body on the wire: all that came less the response's own headers. */
export function wireBytesOf(record: RecordedRequest): number {
  const headers = record.response?.encodedDataLength ?? 0;
  const total = record.encodedBytes;
  if (record.fromCache) return 0;
  if (total === 0 && record.response) {
    // The protocol sometimes gives no size for what did arrive; the response says it itself.
    const said = Object.entries(record.response.headers).find(
      ([name]) => name.toLowerCase() === 'content-length',
    )?.[1];
    return record.endedAt !== null && !record.failed ? Number(said) || 0 : 0;
  }
  return Math.max(0, total > headers ? total - headers : total);
}

/** A record as a request of a run, on the run's own clock. */
export function toTiming(
  record: RecordedRequest,
  navigationStartS: number,
  isStylesheet: (url: string) => boolean,
): RequestTiming {
  const timing = record.response?.timing;
  const at = (offset: number | undefined) =>
    timing && offset !== undefined && offset >= 0
      ? (timing.requestTime - navigationStartS) * 1000 + offset
      : null;
  const connectStart = at(timing?.dnsStart) ?? at(timing?.connectStart);
  const connectEnd = at(timing?.connectEnd);
  return {
    id: record.id,
    url: record.url,
    method: record.method,
    kind: record.kind,
    discovery: discoveryOf(record, isStylesheet),
    blocking: record.blocking,
    priority: record.priority,
    laterPriorities: record.laterPriorities,
    startMs: Math.max(0, (record.startedAt - navigationStartS) * 1000),
    connectMs: connectStart !== null && connectEnd !== null ? { start: connectStart, end: connectEnd } : null,
    sentMs: at(timing?.sendStart),
    firstByteMs: at(timing?.receiveHeadersStart ?? timing?.receiveHeadersEnd),
    endMs: record.endedAt === null ? null : (record.endedAt - navigationStartS) * 1000,
    status: record.response?.status ?? 0,
    wireBytes: wireBytesOf(record),
    failed: record.failed,
  };
}
