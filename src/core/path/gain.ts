import { arrivalsOf, type LineResponse } from '../network/arrivals.ts';
import { mayHold, type AssetNode, type PathGraph } from './graph.ts';
import { LEAST_MS, usedFor } from './main-thread.ts';
import { hostOf } from './names.ts';

/** The line, and what servers take by themselves: so that what stood in the line is told from what was not there yet. */
export interface LineSetting {
  downKbps: number;
  roundTripMs: number;
  /** By address, ms; an answer without one counts as ready when its first byte came. */
  serverMs: ReadonlyMap<string, number>;
}

/** Chromium's priorities, the most urgent first. */
const PRIORITIES = ['VeryHigh', 'High', 'Medium', 'Low', 'VeryLow'];

/** So many assets are taken off the line, the largest ones: on a page of a thousand the rest weighs nothing, and each takes as long. */
const MOST_OFF_THE_LINE = 100;

/**
 * What removing one asset alone would gain: the path to a paint is walked again without it, without what only it
 * made the browser ask for, without its being run, read or matched, and with the line shared by what is left.
 *
 * @example new Gains(graph, firstPaintMs, line, rules).without(sheet) // ms
 */
export class Gains {
  #graph: PathGraph;
  #atMs: number;
  #line: LineSetting;
  #rules: ReadonlyMap<string, number>;
  /** Responses of before the paint that came over the line, by asset. */
  #responses = new Map<AssetNode, LineResponse>();
  /** What a gate is, or hangs on: whose arrival matters. */
  #asked = new Set<AssetNode>();
  #arrivals: ReadonlyMap<AssetNode, number>;
  /** Those that may have kept one of these back by their bytes. */
  #inTheWay: ReadonlySet<AssetNode>;
  #asIsMs: number;

  /**
   * @param atMs the paint, ms from navigation start
   * @param rules how many rules each stylesheet has, by address
   */
  constructor(graph: PathGraph, atMs: number, line: LineSetting, rules: ReadonlyMap<string, number>) {
    this.#rules = rules;
    this.#graph = graph;
    this.#atMs = atMs;
    this.#line = line;
    for (const node of graph.nodes) {
      const response = node.request.startMs < atMs ? responseOf(node, line) : null;
      if (response) this.#responses.set(node, response);
    }
    for (const gate of gatesOf(graph))
      for (let node: AssetNode | null = gate; node && !this.#asked.has(node); node = node.parent)
        this.#asked.add(node);
    this.#arrivals = this.#arrivalsWithout(new Set());
    // What is ready after the last of them has arrived kept none of them back.
    const lastMs = Math.max(0, ...this.#arrivals.values());
    const before = [...this.#responses].filter(([, response]) => response.readyMs < lastMs);
    before.sort(([, a], [, b]) => b.bytes - a.bytes);
    this.#inTheWay = new Set(before.slice(0, MOST_OFF_THE_LINE).map(([node]) => node));
    this.#asIsMs = this.#paintWithout(new Set(), () => 0);
  }

  /** What is gained without an asset, ms; nothing without the page itself. */
  without(asset: AssetNode): number {
    if (asset === this.#graph.document) return 0;
    const gone = new Set([asset]);
    // Parents are found before their children, so one pass in order of requests is enough.
    for (const node of this.#graph.nodes) if (node.parent && gone.has(node.parent)) gone.add(node);
    return Math.max(0, this.#asIsMs - this.#paintWithout(gone, this.#earlierWithout(gone)));
  }

  #paintWithout(gone: ReadonlySet<AssetNode>, earlierMs: (node: AssetNode) => number): number {
    return new Path(this.#graph, gone, this.#atMs, earlierMs, this.#unmatchedShare(gone)).paintMs();
  }

  /**
   * Of the time that matching rules to elements takes, the share that is saved without what is gone: about half of
   * it goes with the number of rules (found by replaying, see `neededFor`).
   */
  #unmatchedShare(gone: ReadonlySet<AssetNode>): number {
    const all = [...this.#rules.values()].reduce((sum, rules) => sum + rules, 0);
    const less = [...gone].reduce((sum, { request }) => sum + (this.#rules.get(request.url) ?? 0), 0);
    return all > 0 ? less / all / 2 : 0;
  }

  /** By how much each response arrives earlier with the line to itself and what is left. */
  #earlierWithout(gone: ReadonlySet<AssetNode>): (node: AssetNode) => number {
    const inTheWay = [...gone].filter((node) => this.#inTheWay.has(node));
    const bytes = inTheWay.reduce((sum, node) => sum + this.#responses.get(node)!.bytes, 0);
    // Less of the line than a crumb of the bill keeps nothing back that could be told.
    if ((bytes * 8) / this.#line.downKbps < LEAST_MS) return () => 0;
    const arrivals = this.#arrivalsWithout(gone);
    return (node) => {
      const [asIs, without] = [this.#arrivals.get(node), arrivals.get(node)];
      const response = this.#responses.get(node);
      if (asIs === undefined || without === undefined || !response) return 0;
      // It cannot arrive before its server had it and its bytes took their time.
      const least =
        response.readyMs + this.#line.roundTripMs / 2 + (response.bytes * 8) / this.#line.downKbps;
      return Math.max(0, Math.min(asIs - without, (node.request.endMs ?? 0) - least));
    };
  }

  /** When what matters arrives. */
  #arrivalsWithout(gone: ReadonlySet<AssetNode>): Map<AssetNode, number> {
    const left = [...this.#responses].filter(([node]) => !gone.has(node));
    const arrivals = arrivalsOf(
      left.map(([, response]) => response),
      this.#line,
      (index) => this.#asked.has(left[index]![0]),
    );
    return new Map(
      left.flatMap(([node], index) => (this.#asked.has(node) ? [[node, arrivals[index]!] as const] : [])),
    );
  }
}

/** What the paint had to wait for. */
function gatesOf(graph: PathGraph): AssetNode[] {
  return graph.nodes.filter((node) => node.doneMs !== null && node.blocks !== null);
}

/** What came over the line for a request; null where nothing did. */
function responseOf({ request }: AssetNode, line: LineSetting): LineResponse | null {
  const { sentMs, firstByteMs, endMs, wireBytes } = request;
  if (sentMs === null || firstByteMs === null || endMs === null || wireBytes <= 0) return null;
  const own = line.serverMs.get(request.url);
  const halfWay = line.roundTripMs / 2;
  const came = firstByteMs - halfWay;
  return {
    connection: hostOf(request.url),
    readyMs: own === undefined ? came : Math.min(came, sentMs + halfWay + own),
    bytes: wireBytes,
    // Chromium says of pictures and documents that a part of them is of use (RFC 9218, section 4.2).
    priority: {
      urgency: rankOf(request.laterPriorities.at(-1) ?? request.priority),
      incremental: ['image', 'media', 'document'].includes(request.kind),
    },
  };
}

function rankOf(priority: string): number {
  const index = PRIORITIES.indexOf(priority);
  return index < 0 ? PRIORITIES.indexOf('Medium') : index;
}

/** The path to a paint with some assets gone; with none gone it gives the paint as it was. */
class Path {
  #graph: PathGraph;
  #gone: ReadonlySet<AssetNode>;
  #atMs: number;
  #earlierMs: (node: AssetNode) => number;
  #unmatchedShare: number;
  #gates: AssetNode[];
  #done = new Map<AssetNode, number>();

  /**
   * @param earlierMs by how much an asset arrives earlier on the line that is left
   * @param unmatchedShare what is saved of matching rules, from 0 to 1
   */
  constructor(
    graph: PathGraph,
    gone: ReadonlySet<AssetNode>,
    atMs: number,
    earlierMs: (node: AssetNode) => number,
    unmatchedShare: number,
  ) {
    this.#graph = graph;
    this.#gone = gone;
    this.#atMs = atMs;
    this.#earlierMs = earlierMs;
    this.#unmatchedShare = unmatchedShare;
    this.#gates = gatesOf(graph);
  }

  paintMs(): number {
    const { document } = this.#graph;
    const ready = Math.max(document?.request.firstByteMs ?? 0, document?.request.endMs ?? 0);
    const last = Math.max(ready, ...this.#gates.map((gate) => gate.doneMs!));
    const gates = this.#gates.filter((gate) => !this.#gone.has(gate));
    const done = Math.max(ready, ...gates.map((gate) => this.#doneMs(gate)));
    // After the last gate comes the work up to the paint, less what was done of it for what is gone.
    return done + Math.max(0, this.#atMs - last - this.#usedMs(last, this.#atMs));
  }

  /** When a gate lets the paint go on. */
  #doneMs(gate: AssetNode): number {
    const known = this.#done.get(gate);
    if (known !== undefined) return known;
    // A circle cannot be, but a wrong one must not hang.
    this.#done.set(gate, gate.doneMs!);
    const arrives = this.#arrivesMs(gate);
    let done = arrives;
    if (gate.use && gate.use.end === gate.doneMs) {
      const originally = gate.request.endMs ?? gate.use.start;
      const heldBy = this.#gates.filter(
        (other) =>
          other !== gate &&
          other.doneMs! <= gate.use!.start + 0.5 &&
          other.doneMs! > originally &&
          mayHold(other, gate),
      );
      const lastHolder = Math.max(originally, ...heldBy.map((other) => other.doneMs!));
      // What passed between the last thing it waited for and its start stays as it was, less what is gone of it.
      const before = gate.use.start - lastHolder - this.#usedMs(lastHolder, gate.use.start);
      const free = Math.max(
        arrives,
        ...heldBy.filter((other) => !this.#gone.has(other)).map((other) => this.#doneMs(other)),
      );
      done = free + Math.max(0, before) + (gate.use.end - gate.use.start);
    }
    // Nothing becomes later by what is gone.
    done = Math.min(done, gate.doneMs!);
    this.#done.set(gate, done);
    return done;
  }

  /** When an asset has arrived: earlier by what its parent is, and by the line it need not share. */
  #arrivesMs(node: AssetNode): number {
    const { parent, request } = node;
    const end = request.endMs ?? request.startMs;
    let shift = this.#earlierMs(node);
    if (parent && parent !== this.#graph.document && !this.#gone.has(parent)) {
      const was = parent.doneMs ?? parent.request.endMs ?? parent.request.startMs;
      const is = parent.doneMs !== null ? this.#doneMs(parent) : this.#arrivesMs(parent);
      shift += Math.max(0, was - is);
    }
    return end - shift;
  }

  /** How long what is gone was run, read or matched between two moments, ms. */
  #usedMs(from: number, to: number): number {
    const urls = new Set([...this.#gone].map((node) => node.request.url));
    const used = this.#graph.work
      .filter(
        ({ kind, url }) => (kind === 'evaluate' || kind === 'parse-css') && url !== null && urls.has(url),
      )
      .reduce((sum, one) => sum + Math.max(0, Math.min(one.endMs, to) - Math.max(one.startMs, from)), 0);
    if (this.#unmatchedShare === 0) return used;
    const matching = this.#graph.work.filter(({ kind }) => kind === 'style');
    return used + usedFor(matching, ['style'], from, to) * this.#unmatchedShare;
  }
}
