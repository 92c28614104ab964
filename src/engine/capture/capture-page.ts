import { createHash } from 'node:crypto';
import postcss from 'postcss';
import type { CDPSession, Protocol } from 'puppeteer-core';
import type { Conditions } from '../../core/measure/conditions.ts';
import type { Capture, Exchange, Header, Outcome, RuleUsage } from '../../core/measure/exchange.ts';
import { readHtml } from '../../core/html/document.ts';
import { launchChromium } from '../chromium/launch.ts';
import { type RecordedRequest, wireBytesOf } from '../chromium/network-recorder.ts';
import { goTo, LOAD_LIMITS, openVisit, type LoadLimits } from '../chromium/visit.ts';
import { stopIfCancelled, Trouble } from '../errors.ts';

export interface CaptureRequest {
  url: string;
  conditions: Conditions;
  /** Certificates accepted: host and public key. */
  accepted: readonly { host: string; publicKeyHash: string }[];
  limits?: LoadLimits;
  onProgress?: (step: string) => void;
  signal?: AbortSignal;
}

export interface CaptureResult {
  capture: Capture;
  bodies: Map<string, Uint8Array>;
}

const BODY_LIMIT = 25_000_000;
const CAPTURE_LIMIT = 250_000_000;

interface Answer {
  method: string;
  url: string;
  status: number;
  headers: Header[];
  body: Uint8Array | null;
  reason: string | null;
}

/**
 * Captures a live page in three loads: bodies from an intercepted one (interception stops streaming, so its
 * times are worth nothing), timings from one that is not, observations from a third.
 *
 * @throws Trouble when the page cannot be captured
 */
export async function capturePage(request: CaptureRequest): Promise<CaptureResult> {
  const { url, conditions, signal } = request;
  const limits = request.limits ?? LOAD_LIMITS;
  const say = request.onProgress ?? (() => undefined);
  stopIfCancelled(signal);
  const chromium = await launchChromium({ acceptedKeys: request.accepted.map((one) => one.publicKeyHash) });
  try {
    say('Capturing the page: bodies');
    const answers: Answer[] = [];
    const bodiesVisit = await openVisit(chromium.browser, conditions, (session) =>
      intercept(session, answers),
    );
    const landed = await goTo(bodiesVisit, url, limits, signal);
    if (landed.status >= 400) {
      throw new Trouble(
        'measuring',
        `${url} answered ${landed.status}. Nothing stored was changed. Measure it again when it answers 200.`,
      );
    }
    if (!/^(text\/html|application\/xhtml\+xml)$/.test(landed.mimeType)) {
      throw new Trouble(
        'measuring',
        `${url} is not HTML but ${landed.mimeType || 'of no stated type'}. Give the address of a page.`,
      );
    }
    const title = await bodiesVisit.page.title();
    const bodyRecords = [...bodiesVisit.network.records];
    await bodiesVisit.close();

    say('Capturing the page: timings');
    const timingVisit = await openVisit(chromium.browser, conditions);
    await goTo(timingVisit, url, limits, signal);
    const timed = [...timingVisit.network.records];
    await timingVisit.close();

    say('Capturing the page: observations');
    const ruleUsage = await observeRules(request, chromium, limits);

    const { exchanges, bodies } = joinLoads(bodyRecords, timed, answers);
    const keys = (records: readonly RecordedRequest[]) => new Set(records.map((record) => record.url));
    const [first, second] = [keys(bodyRecords), keys(timed)];
    const notes: string[] = [];
    const tooLarge = answers.filter((answer) => answer.body && answer.body.length > BODY_LIMIT);
    for (const answer of tooLarge) notes.push(`${answer.url} is over 25 MB; it is replayed as a failure.`);
    return {
      capture: {
        url,
        documentUrl: landed.documentUrl,
        title: title || readHtmlTitle(exchanges, bodies, landed.documentUrl),
        takenAt: new Date().toISOString(),
        exchanges,
        ruleUsage,
        seenOnce: [...new Set([...first, ...second])].filter((one) => first.has(one) !== second.has(one)),
        acceptedCertificates: request.accepted.map((one) => one.host),
        notes,
      },
      bodies,
    };
  } finally {
    await chromium.close();
  }
}

/** Takes every answer's exact bytes as they pass (Fetch at the response stage). */
async function intercept(session: CDPSession, answers: Answer[]): Promise<void> {
  session.on('Fetch.requestPaused', (event) => {
    void takeAnswer(session, event, answers);
  });
  await session.send('Fetch.enable', { patterns: [{ urlPattern: 'http*', requestStage: 'Response' }] });
}

async function takeAnswer(
  session: CDPSession,
  event: Protocol.Fetch.RequestPausedEvent,
  answers: Answer[],
): Promise<void> {
  const status = event.responseStatusCode ?? 0;
  const answer: Answer = {
    method: event.request.method,
    url: event.request.url,
    status,
    headers: (event.responseHeaders ?? []).map((header): Header => [header.name, header.value]),
    body: null,
    reason: event.responseErrorReason ?? null,
  };
  answers.push(answer);
  const redirect =
    status >= 300 &&
    status < 400 &&
    status !== 304 &&
    answer.headers.some(([name]) => name.toLowerCase() === 'location');
  if (!answer.reason && !redirect && status !== 204 && status !== 304) {
    const got = await session.send('Fetch.getResponseBody', { requestId: event.requestId }).catch(() => null);
    if (got) answer.body = got.base64Encoded ? Buffer.from(got.body, 'base64') : Buffer.from(got.body);
  }
  await session.send('Fetch.continueRequest', { requestId: event.requestId }).catch(() => undefined);
}

/** Counts, for each sheet, the rules that apply to anything on the page (the protocol's rule usage). */
async function observeRules(
  request: CaptureRequest,
  chromium: Awaited<ReturnType<typeof launchChromium>>,
  limits: LoadLimits,
): Promise<RuleUsage[]> {
  const sheets = new Map<string, Protocol.CSS.CSSStyleSheetHeader>();
  const visit = await openVisit(chromium.browser, request.conditions);
  try {
    visit.session.on('CSS.styleSheetAdded', ({ header }) => sheets.set(header.styleSheetId, header));
    await visit.session.send('DOM.enable');
    await visit.session.send('CSS.enable');
    await visit.session.send('CSS.startRuleUsageTracking');
    await goTo(visit, request.url, limits, request.signal);
    const { ruleUsage } = await visit.session.send('CSS.stopRuleUsageTracking');
    const usage: RuleUsage[] = [];
    for (const [id, header] of sheets) {
      if (!/^https?:/.test(header.sourceURL) || header.isInline) continue;
      const text = await visit.session.send('CSS.getStyleSheetText', { styleSheetId: id }).catch(() => null);
      if (!text) continue;
      const used = new Set(
        ruleUsage.filter((one) => one.used && one.styleSheetId === id).map((one) => one.startOffset),
      );
      usage.push({ url: header.sourceURL, rules: countRules(text.text), usedRules: used.size });
    }
    return usage;
  } finally {
    await visit.close();
  }
}

function countRules(css: string): number {
  let rules = 0;
  try {
    postcss.parse(css).walkRules((rule) => {
      if (!(rule.parent?.type === 'atrule' && /keyframes$/i.test(rule.parent.name))) rules++;
    });
  } catch {
    return 0;
  }
  return rules;
}

/** Joins what the loads told: bodies by method and address in their order, times from the other load. */
function joinLoads(
  records: readonly RecordedRequest[],
  timed: readonly RecordedRequest[],
  answers: Answer[],
): { exchanges: Exchange[]; bodies: Map<string, Uint8Array> } {
  const bodies = new Map<string, Uint8Array>();
  const exchanges: Exchange[] = [];
  // An intercepted cross-origin request may be paused once as failed and again with its answer.
  const left = [...answers].sort((a, b) => Number(a.reason !== null) - Number(b.reason !== null));
  const leftTimed = [...timed];
  const take = <T extends { method: string; url: string }>(list: T[], record: RecordedRequest): T | null => {
    const bare = record.url.replace(/#.*$/, '');
    const index = list.findIndex(
      (one) => one.method === record.method && one.url.replace(/#.*$/, '') === bare,
    );
    return index < 0 ? null : list.splice(index, 1)[0]!;
  };
  const roundTrips = connectTimes(timed);
  let total = 0;
  for (const record of records) {
    const answer = take(left, record);
    const other = take(leftTimed, record) ?? record;
    let body = answer?.body ?? null;
    if (body && (body.length > BODY_LIMIT || total + body.length > CAPTURE_LIMIT)) body = null;
    let hash: string | null = null;
    if (body) {
      total += body.length;
      hash = createHash('sha256').update(body).digest('hex');
      bodies.set(hash, body);
    }
    const status = answer?.status || record.response?.status || 0;
    exchanges.push({
      order: exchanges.length,
      method: record.method,
      url: record.url,
      kind: record.kind,
      status,
      responseHeaders: answer?.headers ?? [],
      mimeType: record.response?.mimeType ?? '',
      bodyHash: hash,
      bodyBytes: body?.length ?? 0,
      wireBytes: wireBytesOf(other),
      serverMs: serverTime(other, roundTrips),
      protocol: other.response?.protocol ?? '',
      outcome: outcomeOf(record, answer, status),
    });
  }
  return { exchanges, bodies };
}

function outcomeOf(record: RecordedRequest, answer: Answer | null, status: number): Outcome {
  if (record.redirectedTo !== null) return { state: 'redirected', to: record.redirectedTo };
  if (answer?.reason || status === 0)
    return { state: 'failed', reason: record.failed ?? answer?.reason ?? 'no answer' };
  return { state: 'answered' };
}

/** The least connection set-up seen for each host: its measured round trip, ms. */
function connectTimes(records: readonly RecordedRequest[]): Map<string, number> {
  const least = new Map<string, number>();
  for (const record of records) {
    const timing = record.response?.timing;
    if (!timing || timing.connectStart < 0) continue;
    const end = timing.sslStart > 0 ? timing.sslStart : timing.connectEnd;
    const host = new URL(record.url).host;
    const took = end - timing.connectStart;
    if (took >= 0) least.set(host, Math.min(least.get(host) ?? Infinity, took));
  }
  return least;
}

/** The server's own time: the wait for the first byte less the connection's round trip, never below 0. */
function serverTime(record: RecordedRequest, roundTrips: ReadonlyMap<string, number>): number {
  const timing = record.response?.timing;
  if (!timing) return 0;
  const first = timing.receiveHeadersStart ?? timing.receiveHeadersEnd;
  return Math.max(0, first - timing.sendEnd - (roundTrips.get(new URL(record.url).host) ?? 0));
}

function readHtmlTitle(
  exchanges: readonly Exchange[],
  bodies: ReadonlyMap<string, Uint8Array>,
  documentUrl: string,
): string {
  const found = exchanges.find((one) => one.url === documentUrl && one.bodyHash);
  return found ? readHtml(bodies.get(found.bodyHash!)!).title : '';
}
