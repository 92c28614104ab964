import { mayHold, type AssetNode, type PathGraph } from './graph.ts';
import { LEAST_MS, piecesBetween, type ThreadUse } from './main-thread.ts';
import { fileNameOf, hostOf } from './party.ts';

export type SegmentKind =
  | 'start'
  | 'redirect'
  | 'connect'
  | 'server'
  | 'bytes'
  | 'queue'
  | 'discovery'
  | 'running'
  | 'parse'
  | 'style'
  | 'paint'
  | 'work'
  | 'unexplained';

/** One line of the paint bill. */
export interface BillSegment {
  kind: SegmentKind;
  label: string;
  /** Why this time passed, in a sentence. */
  why: string;
  url?: string;
  startMs: number;
  endMs: number;
}

/** A rest this short right before a paint, or before the work that makes one, is the wait for the screen's next frame. */
const FRAME_WAIT_MS = 34;

/**
 * The paint bill: walks back from a paint to navigation start along what it waited for last. Segments follow
 * each other without gap or overlap, so they sum to the paint exactly.
 */
export function billOf(graph: PathGraph, atMs: number): BillSegment[] {
  return new Walk(graph, atMs).run();
}

class Walk {
  #graph: PathGraph;
  #cursor: number;
  #paintMs: number;
  #segments: BillSegment[] = [];
  #used = new Set<AssetNode>();
  /** When the parser first worked on the page: before that, the browser is handing it over. */
  #parsedFromMs: number;

  constructor(graph: PathGraph, atMs: number) {
    this.#graph = graph;
    this.#cursor = atMs;
    this.#paintMs = atMs;
    const firstByteMs = graph.document?.request.firstByteMs ?? 0;
    this.#parsedFromMs = Math.min(
      ...graph.work.flatMap((one) =>
        one.kind === 'parse-html' && one.startMs >= firstByteMs ? one.startMs : [],
      ),
    );
  }

  run(): BillSegment[] {
    let next = this.#lastGate(this.#cursor);
    while (next && this.#cursor > 0) {
      this.#work(next.doneMs!);
      next = this.#asset(next);
    }
    this.#toStart();
    return this.#segments.reverse();
  }

  /** What the paint waited for that was done last by a moment. */
  #lastGate(byMs: number, afterMs = 0, counts: (gate: AssetNode) => boolean = () => true): AssetNode | null {
    let last: AssetNode | null = null;
    for (const node of this.#graph.nodes) {
      if (node.doneMs === null || this.#used.has(node) || node.doneMs > byMs + 0.5 || node.doneMs <= afterMs)
        continue;
      if (counts(node) && (!last || node.doneMs > last.doneMs!)) last = node;
    }
    return last;
  }

  /** Bills an asset back to when it was asked for. @returns the gate that its run had to wait for, or null */
  #asset(node: AssetNode): AssetNode | null {
    this.#used.add(node);
    const { request, use } = node;
    const name = fileNameOf(request.url);
    if (use && use.start <= this.#cursor && use.end >= this.#cursor - 0.5) {
      const isSheet = request.kind === 'stylesheet';
      this.#emit(
        use.start,
        isSheet ? 'style' : 'running',
        `${isSheet ? 'reading' : 'running'} ${name}`,
        `${name} ${isSheet ? 'was read' : 'ran'} on the main thread${node.blocks ? `: ${node.blocks}` : ''}.`,
        request.url,
      );
      const waitedFor = this.#lastGate(this.#cursor, request.endMs ?? 0, (gate) => mayHold(gate, node));
      if (waitedFor) return waitedFor;
    }
    if (request.endMs !== null && request.endMs < this.#cursor) this.#work(request.endMs);
    this.#transfer(node);
    return this.#discovered(node);
  }

  /** From the last byte back to the moment the browser asked. */
  #transfer(node: AssetNode): void {
    const { request } = node;
    const name = fileNameOf(request.url);
    const url = request.url;
    const reason = node.blocks ?? 'needed by what waited';
    const received = request.firstByteMs ?? request.sentMs ?? request.startMs;
    this.#emit(received, 'bytes', `receiving ${name}`, `${name} was arriving: ${reason}.`, url);
    const sent = request.sentMs ?? request.connectMs?.end ?? request.startMs;
    this.#emit(
      sent,
      'server',
      `the server and the way for ${name}`,
      'Its own time, a round trip, and what stood in the line before it.',
      url,
    );
    if (request.connectMs) {
      this.#emit(
        request.connectMs.end,
        'queue',
        `${name} waiting to be sent`,
        'The browser held it back.',
        url,
      );
      this.#emit(
        request.connectMs.start,
        'connect',
        `connecting to ${hostOf(url)}`,
        'A new connection: a round trip for TCP, one for TLS.',
        url,
      );
    }
    this.#emit(
      request.startMs,
      'queue',
      `${name} waiting in the browser’s queue`,
      'Known to the browser, not yet sent.',
      url,
    );
  }

  /** From the moment an asset was asked for back to what made the browser ask. */
  #discovered(node: AssetNode): AssetNode | null {
    const { parent, request } = node;
    const name = fileNameOf(request.url);
    if (!parent || parent === this.#graph.document || this.#used.has(parent)) {
      // A parser that stood still could not meet what comes after; the preload scanner mostly could.
      const { document } = this.#graph;
      if (parent && document) {
        const { firstByteMs, endMs, url } = document.request;
        this.#work(Math.max(firstByteMs ?? 0, endMs ?? 0));
        this.#work(firstByteMs ?? 0, url);
      }
      return null;
    }
    const { use } = parent;
    const known = use && use.start <= this.#cursor ? use.end : parent.request.endMs;
    if (known !== null && known < this.#cursor)
      this.#emit(
        known,
        'discovery',
        `${name} not yet discovered`,
        `Nobody could ask for it before ${fileNameOf(parent.request.url)} had got to it.`,
        request.url,
      );
    return this.#asset(parent);
  }

  /**
   * What the main thread did between a moment and the cursor.
   *
   * @param arriving the page's address while its HTML is still coming in: a rest is then the wait for it
   */
  #work(fromMs: number, arriving?: string): void {
    if (fromMs >= this.#cursor) return;
    for (const piece of piecesBetween(this.#graph.work, fromMs, this.#cursor).reverse()) {
      const isLast = this.#cursor >= this.#paintMs - 0.01;
      const rest = piece.use === null;
      const short = this.#cursor - piece.startMs <= FRAME_WAIT_MS;
      if (rest && short && isLast)
        this.#emit(piece.startMs, 'paint', 'painting', 'Ready, and waiting for the screen’s next frame.');
      else if (rest && arriving)
        this.#emit(piece.startMs, 'bytes', 'the HTML arriving', HTML_ARRIVING, arriving);
      // HTML, "update the rendering": style and layout are done at rendering opportunities, once a frame.
      else if (rest && short && this.#rendersAt(this.#cursor))
        this.#emit(
          piece.startMs,
          'paint',
          'waiting for a frame',
          'Style and layout are done once a frame of the screen.',
        );
      else if (rest && this.#parsedFromMs < Infinity && this.#cursor <= this.#parsedFromMs + 0.5)
        this.#emit(
          piece.startMs,
          'start',
          'taking the page over',
          'The HTML was there; the browser was handing it to the page’s own process.',
        );
      else if (rest)
        this.#emit(
          piece.startMs,
          'unexplained',
          'unexplained',
          'Neither the network nor the main thread shows what this time went to.',
        );
      else {
        const said = WORK_WORDS[piece.use!];
        // What stands in the page itself is told under its address.
        const isInline = piece.url === this.#graph.document?.request.url;
        if (piece.url && !isInline) {
          const name = fileNameOf(piece.url);
          const isSheet = piece.use === 'style';
          this.#emit(
            piece.startMs,
            said.kind,
            `${isSheet ? 'reading' : 'running'} ${name}`,
            `${name} ${isSheet ? 'was read' : 'ran'} on the main thread before it could go on.`,
            piece.url,
          );
        } else this.#emit(piece.startMs, said.kind, said.label, said.why);
      }
    }
  }

  /** Whether style or layout began at a moment; reading a stylesheet, billed with them, waits for no frame. */
  #rendersAt(atMs: number): boolean {
    return this.#graph.work.some(
      ({ kind, startMs }) => (kind === 'style' || kind === 'layout') && Math.abs(startMs - atMs) < LEAST_MS,
    );
  }

  /** What is left goes to the document, its connection, redirects and the start of the navigation. */
  #toStart(): void {
    const { document, redirects } = this.#graph;
    if (document) {
      const { request } = document;
      const url = request.url;
      const first = request.firstByteMs ?? request.sentMs ?? 0;
      const end = request.endMs ?? first;
      if (this.#cursor > end) this.#work(Math.max(end, first));
      this.#emit(first, 'bytes', 'the HTML arriving', HTML_ARRIVING, url);
      this.#emit(
        request.sentMs ?? request.connectMs?.end ?? 0,
        'server',
        'the server answering',
        `The page itself: the server’s own time and one round trip.`,
        url,
      );
      if (request.connectMs)
        this.#emit(
          request.connectMs.start,
          'connect',
          `connecting to ${hostOf(url)}`,
          'A round trip for TCP, one for TLS.',
          url,
        );
      if (redirects.length > 0)
        this.#emit(request.startMs, 'start', 'setting out anew', 'After the redirect.');
      for (const hop of [...redirects].reverse())
        this.#emit(
          hop.startMs,
          'redirect',
          `redirect from ${hop.url}`,
          'The address asked for is not the page’s own.',
          hop.url,
        );
    }
    this.#emit(0, 'start', 'starting the navigation', 'The browser setting out.');
  }

  #emit(startMs: number, kind: SegmentKind, label: string, why: string, url?: string): void {
    const start = Math.max(0, startMs);
    if (start >= this.#cursor) return;
    const later = this.#segments.at(-1);
    if (later && later.kind === kind && later.label === label && later.startMs === this.#cursor)
      later.startMs = start;
    else
      this.#segments.push({ kind, label, why, ...(url ? { url } : {}), startMs: start, endMs: this.#cursor });
    this.#cursor = start;
  }
}

const HTML_ARRIVING = 'Nothing can be asked for before its first bytes.';

const WORK_WORDS: Record<ThreadUse, { kind: SegmentKind; label: string; why: string }> = {
  running: { kind: 'running', label: 'running inline scripts', why: 'Scripts in the page itself.' },
  parse: { kind: 'parse', label: 'parsing the HTML', why: 'The parser at work.' },
  style: { kind: 'style', label: 'style and layout', why: 'Reading stylesheets, matching, laying out.' },
  paint: { kind: 'paint', label: 'painting', why: 'Drawing the first picture.' },
  draw: {
    kind: 'paint',
    label: 'decoding and drawing',
    why: 'Pictures decoded and pixels drawn, outside the main thread.',
  },
  work: { kind: 'work', label: 'other main-thread work', why: 'The browser’s own work on the main thread.' },
};
