import type { AssetNode, PathGraph } from './graph.ts';
import { hostOf } from './party.ts';

/** What the line can carry: for how long an asset's bytes keep others from theirs. */
export interface LineSetting {
  downKbps: number;
  /** With these two, what waited in the line for its first byte is told from what the server took, ms. */
  roundTripMs?: number;
  serverMs?: ReadonlyMap<string, number>;
}

/** Chromium's priorities, the most urgent first. */
const PRIORITIES = ['VeryHigh', 'High', 'Medium', 'Low', 'VeryLow'];

/**
 * What removing one asset alone would gain, ms: the path is walked again without it, without what only it made
 * the browser ask for, without its run, and with the line that its bytes took given to what shared it.
 */
export function gainWithout(graph: PathGraph, asset: AssetNode, atMs: number, line: LineSetting): number {
  if (asset === graph.document) return 0;
  const gone = new Set([asset]);
  // Parents are found before their children, so one pass in order of requests is enough.
  for (const node of graph.nodes) if (node.parent && gone.has(node.parent)) gone.add(node);
  const asIs = new Path(graph, new Set(), atMs, line).paintMs();
  const without = new Path(graph, gone, atMs, line).paintMs();
  return Math.max(0, asIs - without);
}

/** The path to a paint with some assets gone; with none gone it gives the paint as it was. */
class Path {
  #graph: PathGraph;
  #gone: ReadonlySet<AssetNode>;
  #atMs: number;
  #line: LineSetting;
  #gates: AssetNode[];
  #done = new Map<AssetNode, number>();

  constructor(graph: PathGraph, gone: ReadonlySet<AssetNode>, atMs: number, line: LineSetting) {
    this.#graph = graph;
    this.#gone = gone;
    this.#atMs = atMs;
    this.#line = line;
    this.#gates = graph.nodes.filter((node) => node.doneMs !== null && node.blocks !== null);
  }

  paintMs(): number {
    const { document } = this.#graph;
    const ready = Math.max(document?.request.firstByteMs ?? 0, document?.request.endMs ?? 0);
    const last = Math.max(ready, ...this.#gates.map((gate) => gate.doneMs!));
    const gates = this.#gates.filter((gate) => !this.#gone.has(gate));
    const done = Math.max(ready, ...gates.map((gate) => this.#doneMs(gate)));
    // After the last gate comes the work up to the paint, less what the gone scripts did of it.
    return done + Math.max(0, this.#atMs - last - this.#ranMs(last, this.#atMs));
  }

  /** When a gate lets the paint go on. */
  #doneMs(gate: AssetNode): number {
    const known = this.#done.get(gate);
    if (known !== undefined) return known;
    // A circle cannot be, but a wrong one must not hang.
    this.#done.set(gate, gate.doneMs!);
    const arrives = this.#arrivesMs(gate);
    let done = arrives;
    if (gate.ran && gate.ran.end === gate.doneMs) {
      const originally = gate.request.endMs ?? gate.ran.start;
      const heldBy = this.#gates.filter(
        (other) => other !== gate && other.doneMs! <= gate.ran!.start + 0.5 && other.doneMs! > originally,
      );
      const lastHolder = Math.max(originally, ...heldBy.map((other) => other.doneMs!));
      // What passed between the last thing it waited for and its start stays as it was.
      const before = gate.ran.start - lastHolder;
      const free = Math.max(
        arrives,
        ...heldBy.filter((other) => !this.#gone.has(other)).map((other) => this.#doneMs(other)),
      );
      done = free + Math.max(0, before) + (gate.ran.end - gate.ran.start);
    }
    this.#done.set(gate, done);
    return done;
  }

  /** When an asset has arrived: earlier by what its parent is, and by the line it need not share. */
  #arrivesMs(node: AssetNode): number {
    const { parent, request } = node;
    const end = request.endMs ?? request.startMs;
    let shift = this.#sharedLineMs(node) + this.#queuedMs(node);
    if (parent && parent !== this.#graph.document && !this.#gone.has(parent)) {
      const was = parent.doneMs ?? parent.request.endMs ?? parent.request.startMs;
      const is = parent.doneMs !== null ? this.#doneMs(parent) : this.#arrivesMs(parent);
      shift += Math.max(0, was - is);
    }
    return end - shift;
  }

  /** For how long the bytes of what is gone kept a response from arriving, ms. */
  #sharedLineMs(node: AssetNode): number {
    const { firstByteMs: from, endMs: to } = node.request;
    if (this.#gone.size === 0 || from === null || to === null || to <= from) return 0;
    const capacity = ((to - from) * this.#line.downKbps) / 8;
    let freed = 0;
    for (const one of this.#gone) {
      const own = bytesWithin(one, from, to);
      if (own === 0) continue;
      // On one connection the more urgent goes first: the less urgent had only what was left over.
      const sameLine = hostOf(one.request.url) === hostOf(node.request.url);
      const ahead = this.#graph.nodes.filter(
        (other) =>
          other !== one &&
          hostOf(other.request.url) === hostOf(one.request.url) &&
          rankOf(other) <= rankOf(one),
      );
      const left = capacity - ahead.reduce((sum, other) => sum + bytesWithin(other, from, to), 0);
      freed += sameLine && rankOf(one) > rankOf(node) ? Math.max(0, Math.min(own, left)) : own;
    }
    return Math.min(to - from, (Math.min(freed, capacity) * 8) / this.#line.downKbps);
  }

  /** For how long a response stood in the line behind bytes of what is gone, before its own first one, ms. */
  #queuedMs({ request }: AssetNode): number {
    const { roundTripMs, serverMs, downKbps } = this.#line;
    const own = serverMs?.get(request.url);
    if (own === undefined || roundTripMs === undefined) return 0;
    if (request.sentMs === null || request.firstByteMs === null) return 0;
    const queued = request.firstByteMs - request.sentMs - roundTripMs - own;
    if (queued <= 0) return 0;
    let freed = 0;
    for (const one of this.#gone)
      freed += bytesWithin(one, request.firstByteMs - queued, request.firstByteMs);
    return Math.min(queued, (freed * 8) / downKbps);
  }

  /** How long scripts that are gone ran between two moments, ms. */
  #ranMs(from: number, to: number): number {
    const urls = new Set([...this.#gone].map((node) => node.request.url));
    return this.#graph.work
      .filter((one) => one.kind === 'evaluate' && one.url !== null && urls.has(one.url))
      .reduce((sum, one) => sum + Math.max(0, Math.min(one.endMs, to) - Math.max(one.startMs, from)), 0);
  }
}

/** Bytes of a response that came within a stretch of time, as if they had come evenly. */
function bytesWithin({ request }: AssetNode, from: number, to: number): number {
  const { firstByteMs: start, endMs: end, wireBytes } = request;
  if (start === null || end === null || end <= start) return 0;
  const overlap = Math.min(end, to) - Math.max(start, from);
  return overlap <= 0 ? 0 : wireBytes * (overlap / (end - start));
}

function rankOf({ request }: AssetNode): number {
  const index = PRIORITIES.indexOf(request.laterPriorities.at(-1) ?? request.priority);
  return index < 0 ? PRIORITIES.indexOf('Medium') : index;
}
