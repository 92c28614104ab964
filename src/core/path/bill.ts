import { mayHold, type AssetNode, type BlockReason, type PathGraph } from './graph.ts';
import { LEAST_MS, piecesBetween, type ThreadUse } from './main-thread.ts';
import { versionless } from './versionless.ts';

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

/** What a stretch of the bill went to; `core/words/bill.ts` has the words. */
export type BillCode =
  | 'setting-out'
  | 'setting-out-anew'
  | 'redirect'
  | 'connecting'
  | 'page-connecting'
  | 'page-answering'
  | 'page-arriving'
  | 'taking-over'
  | 'answering'
  | 'arriving'
  | 'held-back'
  | 'queued'
  | 'not-discovered'
  | 'script-ran'
  | 'sheet-read'
  | 'script-ran-between'
  | 'sheet-read-between'
  | 'last-frame'
  | 'frame'
  | 'unexplained'
  | ThreadUse;

/** One line of the paint bill. */
export interface BillSegment {
  kind: SegmentKind;
  code: BillCode;
  /** Why the paint waited for the asset, where that is known. */
  blocks?: BlockReason;
  /** The asset whose code found this one, where it was not known before. */
  foundBy?: string;
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
    const blocks = node.blocks ? { blocks: node.blocks } : {};
    if (use && use.start <= this.#cursor && use.end >= this.#cursor - 0.5) {
      const isSheet = request.kind === 'stylesheet';
      this.#emit(use.start, isSheet ? 'style' : 'running', isSheet ? 'sheet-read' : 'script-ran', {
        ...blocks,
        url: request.url,
      });
      const waitedFor = this.#lastGate(this.#cursor, request.endMs ?? 0, (gate) => mayHold(gate, node));
      if (waitedFor) return waitedFor;
    }
    if (request.endMs !== null && request.endMs < this.#cursor) this.#work(request.endMs);
    this.#transfer(node);
    return this.#discovered(node);
  }

  /** From the last byte back to the moment the browser asked. */
  #transfer({ request, blocks }: AssetNode): void {
    const { url } = request;
    const received = request.firstByteMs ?? request.sentMs ?? request.startMs;
    this.#emit(received, 'bytes', 'arriving', { url, ...(blocks ? { blocks } : {}) });
    const sent = request.sentMs ?? request.connectMs?.end ?? request.startMs;
    this.#emit(sent, 'server', 'answering', { url });
    if (request.connectMs) {
      this.#emit(request.connectMs.end, 'queue', 'held-back', { url });
      this.#emit(request.connectMs.start, 'connect', 'connecting', { url });
    }
    this.#emit(request.startMs, 'queue', 'queued', { url });
  }

  /** From the moment an asset was asked for back to what made the browser ask. */
  #discovered(node: AssetNode): AssetNode | null {
    const { parent, request } = node;
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
      this.#emit(known, 'discovery', 'not-discovered', {
        foundBy: parent.request.url,
        url: request.url,
      });
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
      if (rest && short && isLast) this.#emit(piece.startMs, 'paint', 'last-frame');
      else if (rest && arriving) this.#emit(piece.startMs, 'bytes', 'page-arriving', { url: arriving });
      // HTML, "update the rendering": style and layout are done at rendering opportunities, once a frame.
      else if (rest && short && this.#rendersAt(this.#cursor)) this.#emit(piece.startMs, 'paint', 'frame');
      else if (rest && this.#parsedFromMs < Infinity && this.#cursor <= this.#parsedFromMs + 0.5)
        this.#emit(piece.startMs, 'start', 'taking-over');
      else if (rest) this.#emit(piece.startMs, 'unexplained', 'unexplained');
      else {
        const kind = KIND_OF_USE[piece.use!];
        // What stands in the page itself is told under its address.
        const isInline = piece.url === this.#graph.document?.request.url;
        const code = piece.use === 'style' ? 'sheet-read-between' : 'script-ran-between';
        if (piece.url && !isInline) this.#emit(piece.startMs, kind, code, { url: piece.url });
        else this.#emit(piece.startMs, kind, piece.use!);
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
      this.#emit(first, 'bytes', 'page-arriving', { url });
      this.#emit(request.sentMs ?? request.connectMs?.end ?? 0, 'server', 'page-answering', { url });
      if (request.connectMs) this.#emit(request.connectMs.start, 'connect', 'page-connecting', { url });
      if (redirects.length > 0) this.#emit(request.startMs, 'start', 'setting-out-anew');
      for (const hop of [...redirects].reverse())
        this.#emit(hop.startMs, 'redirect', 'redirect', { url: hop.url });
    }
    this.#emit(0, 'start', 'setting-out');
  }

  #emit(
    startMs: number,
    kind: SegmentKind,
    code: BillCode,
    facts: Pick<BillSegment, 'url' | 'blocks' | 'foundBy'> = {},
  ): void {
    const start = Math.max(0, startMs);
    if (start >= this.#cursor) return;
    const later = this.#segments.at(-1);
    if (later && later.startMs === this.#cursor && lineKey(later) === lineKey({ code, ...facts }))
      later.startMs = start;
    else this.#segments.push({ kind, code, ...facts, startMs: start, endMs: this.#cursor });
    this.#cursor = start;
  }
}

const KIND_OF_USE: Record<ThreadUse, SegmentKind> = {
  running: 'running',
  parse: 'parse',
  style: 'style',
  paint: 'paint',
  draw: 'paint',
  work: 'work',
};

/** Codes of what is one to a reader: neighbours are one line, and a remark on one is on the other. */
const ALIKE: Partial<Record<BillCode, BillCode>> = {
  'last-frame': 'paint',
  'script-ran-between': 'script-ran',
  'sheet-read-between': 'sheet-read',
  'page-connecting': 'connecting',
};

/** What a line is about, whatever it is called: its code and its asset, whichever release of it. */
export function lineKey({ code, url }: Pick<BillSegment, 'code' | 'url'>): string {
  return `${ALIKE[code] ?? code}${url ? ` ${versionless(url)}` : ''}`;
}
