import type { RuleUsage } from '../measure/exchange.ts';
import type { AssetKind } from '../measure/discovery.ts';
import type { MainThreadWork, RequestTiming } from '../measure/run.ts';
import type { Discovery } from '../measure/discovery.ts';
import { billWords, type BillEntry } from '../words/bill.ts';
import { billOf, type BillSegment } from './bill.ts';
import { Gains, type LineSetting } from './gain.ts';
import {
  buildGraph,
  edgesOf,
  sameUrl,
  type AssetNode,
  type BlockReason,
  type GraphEdge,
  type PaintTarget,
  type PathGraph,
} from './graph.ts';
import { fileNameOf, hostOf } from './names.ts';
import { partyOf, type Party } from './party.ts';
import { bytes, capital, count, discoveryWords, ms, paintName } from './words.ts';

export type { BillSegment } from './bill.ts';
export type Hold = 'holds' | 'crowds' | 'after';

/** One asset of the page's rendering path. Times are ms from navigation start. */
export interface MapAsset {
  url: string;
  name: string;
  host: string;
  kind: AssetKind;
  party: Party;
  wireBytes: number;
  discovery: Discovery;
  found: string;
  renderBlocking: boolean;
  priority: string;
  hold: Hold;
  /** Why the paint waits for it; null where it does not. */
  blocks: BlockReason | null;
  /** What the paint waited for it beyond all that was needed before it, ms. */
  waitedMs: number;
  /** What removing it alone would gain, recomputed along the graph, ms; null without conditions. */
  gainMs: number | null;
  /** The one sentence that a developer can check. */
  evidence: string;
  startMs: number;
  sentMs: number | null;
  connectMs: { start: number; end: number } | null;
  firstByteMs: number | null;
  endMs: number | null;
  /** When a script ran for the first time. */
  ranMs: { start: number; end: number } | null;
  /** When a stylesheet was read: once the parser had got to it. */
  readMs: { start: number; end: number } | null;
  failed: string | null;
}

export interface PageMap {
  /** The paint that the bill is of. */
  target: PaintTarget | null;
  /** The paint that everything is told by, whatever the bill is of. */
  headlineMs: number | null;
  assets: MapAsset[];
  paintBill: BillEntry[];
  edges: GraphEdge[];
  /** The result in one sentence. */
  sentence: string;
}

export interface MapInput {
  documentUrl: string;
  requests: readonly RequestTiming[];
  work: readonly MainThreadWork[];
  /** The paint that everything is told by; the bill is of it unless another target is given. */
  headline: PaintTarget | null;
  ruleUsage: readonly RuleUsage[];
  /** Scripts that end a hiding of the page: the paint waits for them, whatever their tag says. */
  hidingEndedBy: readonly string[];
  /** Another paint to look back from. */
  target?: PaintTarget;
  lcpUrl?: string | null;
  foldImages?: readonly string[];
  contentLine?: number | null;
  /** Fonts whose text is not shown without them. */
  blockingFonts?: ReadonlySet<string>;
  /** The line under the conditions: without it no gain is computed. */
  line?: LineSetting;
}

/** Maps one run: each asset's hold with its evidence, and the paint bill. */
export function mapRun(input: MapInput): PageMap {
  const target = input.target ?? input.headline;
  const graph = buildGraph({ ...input, target });
  const bill = target && graph.document ? billOf(graph, target.atMs) : [];
  const rules = new Map(input.ruleUsage.map((one) => [one.url, one.rules]));
  const gains = target && input.line ? new Gains(graph, target.atMs, input.line, rules) : null;
  const assets = graph.nodes.map((node) => assetOf(node, graph, bill, target, gains, input));
  return {
    target,
    headlineMs: input.headline?.atMs ?? null,
    assets,
    paintBill: bill.map((segment) => ({ ...segment, ...billWords(segment) })),
    edges: edgesOf(graph),
    sentence: sentenceFor(target, assets, bill),
  };
}

function assetOf(
  node: AssetNode,
  graph: PathGraph,
  bill: readonly BillSegment[],
  target: PaintTarget | null,
  gains: Gains | null,
  input: MapInput,
): MapAsset {
  const { request } = node;
  const isDocument = node === graph.document;
  const early = target !== null && request.startMs < target.atMs;
  const hold: Hold = isDocument || node.blocks ? 'holds' : early ? 'crowds' : 'after';
  const waitedMs = bill
    .filter((segment) => segment.url === request.url)
    .reduce((sum, segment) => sum + segment.endMs - segment.startMs, 0);
  const asset = {
    url: request.url,
    name: fileNameOf(request.url),
    host: hostOf(request.url),
    kind: request.kind,
    party: partyOf(request.url, input.documentUrl),
    wireBytes: request.wireBytes,
    discovery: request.discovery,
    found: discoveryWords(request.discovery),
    renderBlocking: request.blocking === 'blocking' || request.blocking === 'in-body-parser-blocking',
    priority: [request.priority, ...request.laterPriorities].join(' → '),
    hold,
    blocks: isDocument ? null : node.blocks,
    waitedMs: hold === 'holds' ? waitedMs : 0,
    gainMs: gains && hold !== 'after' && !isDocument ? gains.without(node) : null,
    startMs: request.startMs,
    sentMs: request.sentMs,
    connectMs: request.connectMs,
    firstByteMs: request.firstByteMs,
    endMs: request.endMs,
    ranMs: request.kind === 'script' ? node.use : null,
    readMs: request.kind === 'stylesheet' ? node.use : null,
    failed: request.failed,
  };
  return { ...asset, evidence: evidenceFor(asset, isDocument, target, input) };
}

function evidenceFor(
  asset: Omit<MapAsset, 'evidence'>,
  isDocument: boolean,
  target: PaintTarget | null,
  input: MapInput,
): string {
  const size = bytes(asset.wireBytes);
  const paint = paintName(target);
  if (asset.failed)
    return `It failed (${asset.failed}) ${asset.endMs === null ? '' : `at ${ms(asset.endMs)}`}`.trim() + '.';
  if (isDocument) return `The page itself, ${size}: nothing can be asked for before its first bytes.`;
  if (target === null) return 'The page never painted in this run.';
  if (asset.hold === 'after') return `Asked for ${ms(asset.startMs - target.atMs)} after ${paint}.`;
  if (asset.hold === 'crowds') {
    const done = asset.endMs !== null && asset.endMs <= target.atMs ? 'all of it' : 'part of it';
    return `Asked for ${ms(target.atMs - asset.startMs)} before ${paint} and not required for it; ${done} (${size}) shared the line.`;
  }
  const usage = input.ruleUsage.find((one) => sameUrl(one.url, asset.url));
  const used = usage ? `; ${rulesThatApply(usage)}` : '';
  const waited =
    asset.waitedMs >= 1
      ? `${paint} waited ${ms(asset.waitedMs)} for it`
      : `it was there while ${paint} waited for something else`;
  if (asset.kind === 'stylesheet')
    return `Render-blocking stylesheet found ${asset.found}${used}; ${waited}.`;
  const ran = asset.ranMs ? ` It ran ${ms(asset.ranMs.end - asset.ranMs.start)}.` : '';
  switch (asset.blocks) {
    case 'makes-content':
      return `Nothing was there to paint until this script had run; ${waited}.${ran}`;
    case 'content-data':
      return `The content is made from these data, asked for ${asset.found}; ${waited}.`;
    case 'blocking-font':
      return `Text stays invisible until this font is there; ${waited}.`;
    case 'main-image':
      return `It is the largest picture above the fold, found ${asset.found}; ${waited}.`;
    default:
      if (input.hidingEndedBy.includes(asset.url))
        return `The page stays hidden until this script has run; ${waited}.${ran}`;
      return `Parser-blocking script found ${asset.found}; ${waited}.${ran}`;
  }
}

/** How much of a sheet the page uses: "12 of its 1,614 rules apply anywhere on the page". */
function rulesThatApply({ rules, usedRules }: RuleUsage): string {
  if (rules === 0) return 'it holds no rules that could apply';
  if (rules === 1)
    return `its one rule applies ${usedRules === 0 ? 'nowhere' : 'somewhere'} on the page at this viewport`;
  if (usedRules === 0)
    return `none of its ${count(rules)} rules applies anywhere on the page at this viewport`;
  if (usedRules === rules)
    return `all its ${count(rules)} rules apply somewhere on the page at this viewport`;
  return `${count(usedRules)} of its ${count(rules)} rules ${usedRules === 1 ? 'applies' : 'apply'} anywhere on the page at this viewport`;
}

function sentenceFor(
  target: PaintTarget | null,
  assets: readonly MapAsset[],
  bill: readonly BillSegment[],
): string {
  if (target === null) return 'The page never painted in this run.';
  const name = target.kind === 'fold' ? 'The fold was 95 % complete after' : `${capital(target.kind)} took`;
  const waitedFor = assets.filter(
    (asset) => asset.hold === 'holds' && asset.kind !== 'document' && asset.waitedMs >= 1,
  );
  const sum = waitedFor.reduce((total, asset) => total + asset.waitedMs, 0);
  if (waitedFor.length === 0) {
    const server = bill
      .filter((s) => s.kind === 'server' || s.kind === 'connect')
      .reduce((t, s) => t + s.endMs - s.startMs, 0);
    return `${name} ${ms(target.atMs)}. No asset held it; connection and server took ${ms(server)}.`;
  }
  const assetsWord = waitedFor.length === 1 ? 'One asset accounts' : `${waitedFor.length} assets account`;
  return `${name} ${ms(target.atMs)}. ${assetsWord} for ${ms(sum)} of it.`;
}
