import type { AssetKind, RuleUsage } from '../measure/exchange.ts';
import type { Discovery, MainThreadWork, RequestTiming } from '../measure/run.ts';
import { fileNameOf, hostOf, partyOf, type Party } from './party.ts';
import { bytes, count, discoveryWords, ms } from './words.ts';

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
  hold: Hold;
  /** What first paint waited for it beyond all that was needed before it, ms. */
  waitedMs: number;
  /** The one sentence that a developer can check. */
  evidence: string;
  startMs: number;
  connectEndMs: number | null;
  firstByteMs: number | null;
  endMs: number | null;
  ranMs: { start: number; end: number } | null;
  failed: string | null;
}

export type SegmentKind =
  'start' | 'redirect' | 'connect' | 'server' | 'bytes' | 'waiting' | 'running' | 'paint';

/** One line of the paint bill. */
export interface BillSegment {
  kind: SegmentKind;
  label: string;
  url?: string;
  startMs: number;
  endMs: number;
}

export interface PageMap {
  firstPaintMs: number | null;
  assets: MapAsset[];
  paintBill: BillSegment[];
  /** The result in one sentence. */
  sentence: string;
}

export interface MapInput {
  documentUrl: string;
  requests: readonly RequestTiming[];
  work: readonly MainThreadWork[];
  firstPaintMs: number | null;
  ruleUsage: readonly RuleUsage[];
  /** Scripts that end a hiding of the page: first paint waits for them, whatever their tag says. */
  hidingEndedBy: readonly string[];
}

interface Held {
  request: RequestTiming;
  endMs: number;
  ran: { start: number; end: number } | null;
}

/** Maps one run: each asset's hold with its evidence, and the paint bill. */
export function mapRun(input: MapInput): PageMap {
  const requests = [...input.requests].sort((a, b) => a.startMs - b.startMs);
  const firstPaint = input.firstPaintMs;
  const document =
    requests.findLast((r) => r.kind === 'document' && sameUrl(r.url, input.documentUrl)) ?? requests[0];
  const held = firstPaint === null ? [] : holders(input, requests, document, firstPaint);
  const paintBill = firstPaint === null || !document ? [] : billOf(requests, document, held, firstPaint);

  const assets = requests.map((request): MapAsset => {
    const holder = request === document || held.some((h) => h.request === request);
    const early = firstPaint !== null && request.startMs < firstPaint;
    const hold: Hold = holder ? 'holds' : early ? 'crowds' : 'after';
    const waitedMs = paintBill
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
      hold,
      waitedMs: hold === 'holds' ? waitedMs : 0,
      startMs: request.startMs,
      connectEndMs: request.connectMs?.end ?? null,
      firstByteMs: request.firstByteMs,
      endMs: request.endMs,
      ranMs: ranOf(input.work, request),
      failed: request.failed,
    };
    return { ...asset, evidence: evidenceFor(asset, request === document, firstPaint, input) };
  });
  return {
    firstPaintMs: firstPaint,
    assets,
    paintBill,
    sentence: sentenceFor(firstPaint, assets, paintBill),
  };
}

/**
 * What first paint had to wait for: render-blocking stylesheets and what they import (HTML: "render-blocking
 * mechanism"), parser-blocking scripts that were done before it, and scripts that end a hiding.
 */
function holders(
  input: MapInput,
  requests: readonly RequestTiming[],
  document: RequestTiming | undefined,
  firstPaint: number,
): Held[] {
  const held: Held[] = [];
  const urls = new Set<string>();
  for (const request of requests) {
    if (request === document || request.endMs === null || request.endMs > firstPaint) continue;
    const importedByHolder =
      request.kind === 'stylesheet' &&
      request.discovery.by === 'stylesheet' &&
      urls.has(request.discovery.url);
    const blocks =
      (request.kind === 'stylesheet' || request.kind === 'script') &&
      (request.blocking === 'blocking' || request.blocking === 'in-body-parser-blocking');
    if (!blocks && !importedByHolder && !input.hidingEndedBy.includes(request.url)) continue;
    urls.add(request.url);
    const ran = request.kind === 'script' ? ranOf(input.work, request) : null;
    held.push({ request, endMs: request.endMs, ran: ran && ran.end <= firstPaint ? ran : null });
  }
  return held;
}

/** When a script ran on the main thread: its first evaluation after it arrived. */
function ranOf(
  work: readonly MainThreadWork[],
  request: RequestTiming,
): { start: number; end: number } | null {
  if (request.kind !== 'script') return null;
  const found = work.find(
    (w) => w.kind === 'evaluate' && w.url === request.url && w.startMs >= request.startMs,
  );
  return found ? { start: found.startMs, end: found.endMs } : null;
}

/**
 * The paint bill: the time from navigation start to first paint cut at the moments when something first
 * paint waited for arrived or had run. Each stretch belongs to the thing at its end; segments follow each
 * other without gap or overlap, so they sum to first paint.
 */
function billOf(
  requests: readonly RequestTiming[],
  document: RequestTiming,
  held: readonly Held[],
  firstPaint: number,
): BillSegment[] {
  const segments: BillSegment[] = [];
  let at = 0;
  const until = (time: number | null | undefined, kind: SegmentKind, label: string, url?: string) => {
    if (time === null || time === undefined) return;
    const end = Math.min(time, firstPaint);
    if (end - at <= 0) return;
    segments.push({ kind, label, ...(url === undefined ? {} : { url }), startMs: at, endMs: end });
    at = end;
  };
  for (const hop of requests) {
    if (
      hop !== document &&
      hop.kind === 'document' &&
      hop.discovery.by === 'navigation' &&
      hop.startMs < document.startMs
    ) {
      until(hop.endMs ?? hop.firstByteMs, 'redirect', `redirect from ${hop.url}`, hop.url);
    }
  }
  until(document.connectMs?.start ?? document.sentMs, 'start', 'starting the navigation');
  until(document.connectMs?.end, 'connect', `connecting to ${hostOf(document.url)}`, document.url);
  until(document.firstByteMs, 'server', 'the server answering', document.url);

  const events = held.flatMap((h) => [
    { atMs: h.endMs, from: h.request.startMs, kind: 'waiting' as const, held: h },
    ...(h.ran ? [{ atMs: h.ran.end, from: h.ran.start, kind: 'running' as const, held: h }] : []),
  ]);
  events.sort((a, b) => a.atMs - b.atMs);
  const firstAsked = Math.min(...events.map((event) => event.from), document.endMs ?? firstPaint);
  until(firstAsked, 'bytes', 'the HTML arriving', document.url);
  for (const event of events) {
    const name = fileNameOf(event.held.request.url);
    // Before a script ran, the main thread was at other work: parsing, or another script.
    if (event.kind === 'running') until(event.from, 'paint', 'parsing and style before it');
    until(
      event.atMs,
      event.kind,
      event.kind === 'running' ? `running ${name}` : `waiting for ${name}`,
      event.held.request.url,
    );
  }
  if (events.length === 0) until(document.endMs, 'bytes', 'the HTML arriving', document.url);
  until(firstPaint, 'paint', 'parsing, style, layout and paint');
  return segments;
}

function evidenceFor(
  asset: Omit<MapAsset, 'evidence'>,
  isDocument: boolean,
  firstPaint: number | null,
  input: MapInput,
): string {
  const size = bytes(asset.wireBytes);
  if (asset.failed)
    return `It failed (${asset.failed}) ${asset.endMs === null ? '' : `at ${ms(asset.endMs)}`}`.trim() + '.';
  if (isDocument) return `The page itself, ${size}: nothing can be asked for before its first bytes.`;
  if (firstPaint === null) return 'The page never painted in this run.';
  if (asset.hold === 'after') return `Asked for ${ms(asset.startMs - firstPaint)} after first paint.`;
  if (asset.hold === 'crowds') {
    const done = asset.endMs !== null && asset.endMs <= firstPaint ? 'all of it' : 'part of it';
    return `Asked for ${ms(firstPaint - asset.startMs)} before first paint and not required for it; ${done} (${size}) shared the line.`;
  }
  const usage = input.ruleUsage.find((one) => sameUrl(one.url, asset.url));
  const used = usage
    ? `; ${count(usage.usedRules)} of its ${count(usage.rules)} rules apply anywhere on the page`
    : '';
  const waited =
    asset.waitedMs >= 1
      ? `first paint waited ${ms(asset.waitedMs)} for it`
      : 'it arrived while first paint waited for something else';
  if (asset.kind === 'stylesheet')
    return `Render-blocking stylesheet found ${asset.found}${used}; ${waited}.`;
  const ran = asset.ranMs ? ` It ran ${ms(asset.ranMs.end - asset.ranMs.start)}.` : '';
  if (input.hidingEndedBy.includes(asset.url))
    return `The page stays hidden until this script has run; ${waited}.${ran}`;
  return `Parser-blocking script found ${asset.found}; ${waited}.${ran}`;
}

function sentenceFor(
  firstPaint: number | null,
  assets: readonly MapAsset[],
  bill: readonly BillSegment[],
): string {
  if (firstPaint === null) return 'The page never painted in this run.';
  const waitedFor = assets.filter(
    (asset) => asset.hold === 'holds' && asset.kind !== 'document' && asset.waitedMs >= 1,
  );
  const sum = waitedFor.reduce((total, asset) => total + asset.waitedMs, 0);
  if (waitedFor.length === 0) {
    const server = bill
      .filter((s) => s.kind === 'server' || s.kind === 'connect')
      .reduce((t, s) => t + s.endMs - s.startMs, 0);
    return `First paint took ${ms(firstPaint)}. No asset held it; connection and server took ${ms(server)}.`;
  }
  const assetsWord = waitedFor.length === 1 ? 'One asset accounts' : `${waitedFor.length} assets account`;
  return `First paint took ${ms(firstPaint)}. ${assetsWord} for ${ms(sum)} of it.`;
}

function sameUrl(a: string, b: string): boolean {
  return a.replace(/#.*$/, '') === b.replace(/#.*$/, '');
}
