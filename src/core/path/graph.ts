import { documentRequest, type MainThreadWork, type RequestTiming } from '../measure/run.ts';

/** Why a paint has to wait for an asset, by the rule of the standard. */
export type BlockReason =
  | 'blocking-sheet'
  | 'imported-sheet'
  | 'blocking-script'
  | 'ends-hiding'
  | 'makes-content'
  | 'content-data'
  | 'blocking-font'
  | 'main-image';

/** A stretch of the main thread that ran a script or read a stylesheet. */
export interface Use {
  start: number;
  end: number;
}

/** An asset in the graph. Times are ms from navigation start. */
export interface AssetNode {
  readonly request: RequestTiming;
  /** When it was first put to use: run where it is a script, read where it is a stylesheet. */
  readonly use: Use | null;
  /** The asset through which the browser came to know of it; null for the document. */
  readonly parent: AssetNode | null;
  /** Why the paint waited for it; null when it did not have to. */
  readonly blocks: BlockReason | null;
  /** When it let the paint go on: it had arrived, and had been run or read where that was seen. */
  readonly doneMs: number | null;
}

/** A node while the graph is being built. */
type Draft = { -readonly [K in keyof AssetNode]: K extends 'parent' ? Draft | null : AssetNode[K] };
interface DraftGraph {
  document: Draft | null;
  nodes: Draft[];
  work: readonly MainThreadWork[];
}

/** Where the browser learned of an asset. */
export type DiscoveryCode = 'navigation' | 'html' | 'import' | 'css-url' | 'script' | 'preload' | 'browser';

/** An edge of the graph: what made the browser ask, or what had to wait for what. */
export type GraphEdge =
  | {
      kind: 'discovers';
      from: string;
      to: string;
      code: DiscoveryCode;
      /** The line it stands on, where that is known. */
      line: number | null;
    }
  | { kind: 'blocks'; from: string; to: 'paint'; code: BlockReason };

/** The graph of one load: what is read off it, bill, gains and hand-overs, never writes to it. */
export interface PathGraph {
  readonly document: AssetNode | null;
  /** Requests for the page that were redirected, in order. */
  readonly redirects: readonly RequestTiming[];
  readonly nodes: readonly AssetNode[];
  readonly work: readonly MainThreadWork[];
}

/** The paint that is looked back from. */
export interface PaintTarget {
  atMs: number;
  kind: 'first paint' | 'first contentful paint' | 'largest contentful paint' | 'fold';
}

export interface GraphInput {
  documentUrl: string;
  requests: readonly RequestTiming[];
  work: readonly MainThreadWork[];
  target: PaintTarget | null;
  /** Scripts that end a hiding of the page: the paint waits for them, whatever their tag says. */
  hidingEndedBy: readonly string[];
  /** Address of the image that is the largest contentful paint. */
  lcpUrl?: string | null;
  /** Images that stand above the fold. */
  foldImages?: readonly string[];
  /** Line of the HTML on which the first content of the body stands: a script after it lets that paint. */
  contentLine?: number | null;
  /** Fonts whose text is not shown without them (CSS Fonts 4, section 4.10: a block period); none by default. */
  blockingFonts?: ReadonlySet<string>;
}

/** A script's run that ends this shortly before a paint, after a long rest, made what is painted. */
const MADE_IT_MS = 250;
/** So long nothing went on after everything required was there: the content itself was missing. */
const RESTED_MS = 120;
/** A callback that begins this soon after data arrived was waiting for them. */
const ANSWERED_MS = 60;

/** Builds the rendering-path graph of one run, with what the target had to wait for. */
export function buildGraph(input: GraphInput): PathGraph {
  const requests = [...input.requests].sort((a, b) => a.startMs - b.startMs);
  const document =
    documentRequest(requests.filter((r) => sameUrl(r.url, input.documentUrl))) ?? requests[0] ?? null;
  const redirects = requests.filter(
    (r) =>
      r !== document &&
      r.kind === 'document' &&
      r.discovery.by === 'navigation' &&
      document !== null &&
      r.startMs < document.startMs,
  );
  const nodes = requests.map((request): Draft => ({
    request,
    use: firstUse(input.work, request),
    parent: null,
    blocks: null,
    doneMs: null,
  }));
  const root = nodes.find((node) => node.request === document) ?? null;
  for (const node of nodes) if (node !== root) node.parent = parentOf(node, nodes) ?? root;
  for (const node of nodes) node.use ??= reachedByParser(node, nodes);
  if (input.target) markBlocking({ document: root, nodes, work: input.work }, input, input.target);
  for (const node of nodes) Object.freeze(node);
  return Object.freeze({ document: root, redirects, nodes: Object.freeze(nodes), work: input.work });
}

/** The node by whose script or sheet an asset was found; undefined when it is the parser's own find. */
function parentOf(node: Draft, nodes: readonly Draft[]): Draft | undefined {
  const { discovery, startMs } = node.request;
  if (discovery.by !== 'stylesheet' && discovery.by !== 'script') return undefined;
  return nodes.findLast(
    (other) =>
      other !== node && sameUrl(other.request.url, discovery.url) && other.request.startMs <= startMs,
  );
}

/** Marks what the target waits for. Each rule names its place in the standard. */
function markBlocking(graph: DraftGraph, input: GraphInput, target: PaintTarget): void {
  const { atMs } = target;
  const mark = (node: Draft, reason: BlockReason, doneMs: number) => {
    if (doneMs > atMs || node === graph.document) return;
    node.blocks ??= reason;
    node.doneMs ??= doneMs;
  };
  for (const node of graph.nodes) {
    const { request, use } = node;
    if (request.endMs === null) continue;
    const blocking = isBlocking(request);
    const usedMs = use && use.end <= atMs ? use.end : request.endMs;
    // HTML: "render-blocking mechanism": a link in the head that the parser met.
    if (request.kind === 'stylesheet' && blocking) mark(node, 'blocking-sheet', usedMs);
    // CSS Cascade 4, section 3: an imported sheet belongs to the sheet that imports it.
    else if (
      request.kind === 'stylesheet' &&
      request.discovery.by === 'stylesheet' &&
      /^(blocking|imported)-sheet$/.test(node.parent?.blocks ?? '')
    )
      mark(node, 'imported-sheet', usedMs);
    // HTML: "prepare the script element", step 33, and "parser-blocking script".
    else if (request.kind === 'script' && blocking && !standsAfterContent(request, input.contentLine ?? null))
      mark(node, 'blocking-script', usedMs);
    if (input.hidingEndedBy.includes(request.url)) mark(node, 'ends-hiding', usedMs);
    if (target.kind !== 'first paint' && request.kind === 'font' && blocksText(request, input))
      mark(node, 'blocking-font', request.endMs);
    const isMain = target.kind === 'largest contentful paint' && sameUrl(request.url, input.lcpUrl ?? '');
    const isFold = target.kind === 'fold' && (input.foldImages ?? []).includes(request.url);
    if (request.kind === 'image' && (isMain || isFold)) mark(node, 'main-image', request.endMs);
  }
  markContentMakers(graph, atMs, mark);
}

/** Chromium shows text in another font when its own has not come after so long (CSS Fonts 4, "block period"). */
const FONT_BLOCK_MS = 3_000;

/** Whether a font's text stayed invisible until it had come. */
function blocksText({ url, startMs, endMs }: RequestTiming, { blockingFonts }: GraphInput): boolean {
  return (blockingFonts?.has(url) ?? false) && endMs !== null && endMs - startMs <= FONT_BLOCK_MS;
}

/** A script in the body stops the parser, but what stands before it can be painted meanwhile, whatever Chromium calls it. */
function standsAfterContent({ discovery }: RequestTiming, contentLine: number | null): boolean {
  return (
    contentLine !== null &&
    discovery.by === 'parser' &&
    discovery.line !== null &&
    discovery.line > contentLine
  );
}

/**
 * Where everything required had been there for long and nothing was painted, the content was still missing:
 * the script that ran right before the paint made it, from data that it may have waited for.
 */
function markContentMakers(
  graph: DraftGraph,
  atMs: number,
  mark: (node: Draft, reason: BlockReason, doneMs: number) => void,
): void {
  const last = Math.max(graph.document?.request.endMs ?? 0, ...graph.nodes.map((node) => node.doneMs ?? 0));
  if (atMs - last < RESTED_MS) return;
  const run = graph.work
    .filter(
      (one) =>
        (one.kind === 'evaluate' || one.kind === 'call') &&
        one.url !== null &&
        one.endMs <= atMs + 1 &&
        one.endMs > last &&
        atMs - one.endMs <= MADE_IT_MS,
    )
    .at(-1);
  const maker = run && graph.nodes.find((node) => sameUrl(node.request.url, run.url!));
  if (!run || !maker || restedBefore(graph.work, last, run.startMs) < RESTED_MS) return;
  const data = graph.nodes.findLast(
    (node) =>
      node.request.kind === 'data' &&
      node.request.endMs !== null &&
      node.request.endMs <= run.startMs + 1 &&
      run.startMs - node.request.endMs <= ANSWERED_MS,
  );
  if (data) mark(data, 'content-data', data.request.endMs!);
  maker.use = data ? maker.use : { start: run.startMs, end: run.endMs };
  mark(maker, 'makes-content', data ? (maker.use?.end ?? maker.request.endMs!) : run.endMs);
}

/** How long the main thread rested between two moments, ms. */
function restedBefore(work: readonly MainThreadWork[], from: number, to: number): number {
  let busy = 0;
  let at = from;
  const onMain = work.filter((one) => one.kind !== 'draw');
  for (const one of onMain.sort((a, b) => a.startMs - b.startMs)) {
    const start = Math.max(one.startMs, at);
    const end = Math.min(one.endMs, to);
    if (end > start) {
      busy += end - start;
      at = end;
    }
  }
  return to - from - busy;
}

/** When the main thread first ran a script or read a stylesheet after it was asked for. */
function firstUse(work: readonly MainThreadWork[], request: RequestTiming): Use | null {
  const kind = request.kind === 'script' ? 'evaluate' : request.kind === 'stylesheet' ? 'parse-css' : null;
  const found = work.find(
    (one) => one.kind === kind && one.url === request.url && one.startMs >= request.startMs,
  );
  return found ? { start: found.startMs, end: found.endMs } : null;
}

/**
 * When the parser got to a stylesheet that had been there by then, told as a use without length; null where no
 * script kept it. What the preload scanner asked for is read only once the parser meets its element, and that
 * stands still at a parser-blocking script (HTML, "speculative HTML parser" and "parser-blocking script"). On
 * its way from there it reads the sheets before this one.
 */
function reachedByParser(node: AssetNode, nodes: readonly AssetNode[]): Use | null {
  const { request } = node;
  if (request.kind !== 'stylesheet' || request.endMs === null) return null;
  const before = nodes.filter((other) => other.use && standsBefore(other.request, request));
  const scripts = before.filter((other) => other.request.kind === 'script' && isBlocking(other.request));
  const free = Math.max(...scripts.map((script) => script.use!.end));
  if (free <= request.endMs) return null;
  const read = before.filter(
    (other) => other.request.kind === 'stylesheet' && (other.request.endMs ?? Infinity) <= free,
  );
  const reached = Math.max(free, ...read.map((sheet) => sheet.use!.end));
  return { start: reached, end: reached };
}

/**
 * Whether a gate can have kept an asset from its use. A script waits for "a style sheet that is blocking scripts"
 * and for the scripts before it (HTML); a sheet is read once the parser has got to it, whatever other sheets
 * wait for.
 */
export function mayHold(gate: AssetNode, asset: AssetNode): boolean {
  if (asset.request.kind !== 'stylesheet') return true;
  const { request } = gate;
  return request.kind === 'script' && isBlocking(request) && standsBefore(request, asset.request);
}

/** Whether the parser meets one asset's element before another's. */
function standsBefore({ discovery: one }: RequestTiming, { discovery: other }: RequestTiming): boolean {
  if (one.by !== 'parser' || other.by !== 'parser' || one.document !== other.document) return false;
  if (one.line === null || other.line === null) return false;
  return one.line === other.line ? (one.column ?? 0) < (other.column ?? 0) : one.line < other.line;
}

function isBlocking({ blocking }: RequestTiming): boolean {
  return blocking === 'blocking' || blocking === 'in-body-parser-blocking';
}

/** The graph's edges, for those who read it as data. */
export function edgesOf(graph: PathGraph): GraphEdge[] {
  return graph.nodes.flatMap(({ request, parent, blocks }): GraphEdge[] => {
    const to = request.url;
    const { discovery } = request;
    const line = 'line' in discovery ? discovery.line : null;
    const code = discoveryCode(request);
    return [
      ...(parent ? [{ kind: 'discovers' as const, from: parent.request.url, to, code, line }] : []),
      ...(blocks ? [{ kind: 'blocks' as const, from: to, to: 'paint' as const, code: blocks }] : []),
    ];
  });
}

function discoveryCode({ discovery: { by }, kind }: RequestTiming): DiscoveryCode {
  if (by === 'stylesheet') return kind === 'stylesheet' ? 'import' : 'css-url';
  return by === 'parser' ? 'html' : by === 'other' ? 'browser' : by;
}

export function sameUrl(a: string, b: string): boolean {
  return a.replace(/#.*$/, '') === b.replace(/#.*$/, '');
}
