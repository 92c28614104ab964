import { describe, expect, it } from 'vitest';
import type { MainThreadWork, RequestTiming } from '../measure/run.ts';
import { handOversOf } from './hand-overs.ts';
import { mapRun, type PageMap } from './map.ts';
import type { PaintTarget } from './graph.ts';

/** What must hold of the map of any run, tried on many that nobody would think of. */
const RUNS = 400;
const PAGE = 'https://www.quay.test/';
const KINDS = ['script', 'stylesheet', 'font', 'image', 'data', 'embed'] as const;
const BLOCKING = ['blocking', 'in-body-parser-blocking', 'potentially-blocking', 'non-blocking'] as const;
const PAINTS: PaintTarget['kind'][] = [
  'first paint',
  'first contentful paint',
  'largest contentful paint',
  'fold',
];

/** Numbers from 0 to 1 that come again with the same seed (mulberry32). */
function numbers(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 2 ** 32;
  };
}

function madeRun(seed: number) {
  const next = numbers(seed);
  const upTo = (most: number) => next() * most;
  const oneOf = <T>(all: readonly T[]): T => all[Math.floor(next() * all.length)]!;
  const requests: RequestTiming[] = [];
  const add = (over: Partial<RequestTiming>) => {
    const startMs = over.startMs ?? 0;
    const connects = next() < 0.3;
    const sentMs = startMs + upTo(connects ? 400 : 60);
    const firstByteMs = sentMs + upTo(500);
    const failed = next() < 0.05;
    requests.push({
      id: String(requests.length),
      url: `https://${oneOf(['www.quay.test', 'img.quay.test', 'other.test'])}/${requests.length}`,
      method: 'GET',
      kind: oneOf(KINDS),
      discovery: { by: 'parser', document: PAGE, line: Math.ceil(upTo(80)) },
      blocking: oneOf(BLOCKING),
      priority: oneOf(['VeryHigh', 'High', 'Medium', 'Low', 'VeryLow']),
      laterPriorities: next() < 0.1 ? ['High'] : [],
      startMs,
      connectMs: connects ? { start: startMs, end: sentMs } : null,
      sentMs: failed ? null : sentMs,
      firstByteMs: failed ? null : firstByteMs,
      endMs: next() < 0.04 ? null : failed ? sentMs : firstByteMs + upTo(900),
      status: failed ? 0 : 200,
      wireBytes: Math.round(upTo(200_000)),
      failed: failed ? 'net::ERR_FAILED' : null,
      ...over,
    });
  };
  const startMs = next() < 0.2 ? upTo(200) : 0;
  if (startMs > 0)
    add({ url: 'https://quay.test/', kind: 'document', discovery: { by: 'navigation' }, endMs: startMs });
  add({
    url: PAGE,
    kind: 'document',
    discovery: { by: 'navigation' },
    startMs,
    failed: null,
    blocking: 'non-blocking',
  });
  for (let count = Math.floor(upTo(25)); count > 0; count--) {
    const parent = oneOf(requests);
    const by = next();
    add({
      startMs: (parent.endMs ?? parent.startMs) + upTo(200) - (by < 0.6 ? 100 : 0),
      ...(by < 0.6
        ? {}
        : {
            discovery: {
              by: parent.kind === 'stylesheet' ? ('stylesheet' as const) : ('script' as const),
              url: parent.url,
              line: 1,
            },
          }),
    });
  }
  const work = Array.from({ length: Math.floor(upTo(60)) }, (): MainThreadWork => {
    const from = upTo(4_000);
    return {
      kind: oneOf([
        'evaluate',
        'call',
        'parse-html',
        'style',
        'layout',
        'paint',
        'parse-css',
        'task',
        'draw',
      ]),
      url: next() < 0.5 ? oneOf(requests).url : null,
      startMs: from,
      endMs: from + upTo(400),
    };
  });
  const target: PaintTarget = { kind: oneOf(PAINTS), atMs: 50 + upTo(4_000) };
  const scripts = requests.filter((one) => one.kind === 'script');
  const map = mapRun({
    documentUrl: PAGE,
    requests,
    work,
    headline: { kind: 'first paint', atMs: target.atMs },
    ruleUsage: [],
    hidingEndedBy: next() < 0.2 && scripts.length ? [oneOf(scripts).url] : [],
    target,
    lcpUrl: oneOf(requests).url,
    foldImages: requests.filter((one) => one.kind === 'image' && next() < 0.5).map((one) => one.url),
    contentLine: next() < 0.5 ? 20 : null,
    line: {
      downKbps: 1_400,
      roundTripMs: 180,
      serverMs: new Map(requests.map((one) => [one.url, upTo(90)])),
    },
  });
  return { requests, target, map };
}

const runs = Array.from({ length: RUNS }, (_one, index) => madeRun(index + 1));

/** Every run in turn; a failure names the seed that makes it again. */
function ofEach(check: (made: ReturnType<typeof madeRun>, map: PageMap) => void): void {
  for (const [index, made] of runs.entries()) {
    try {
      check(made, made.map);
    } catch (error) {
      const why = error instanceof Error ? error.message : String(error);
      throw new Error(`run ${index + 1}: ${why}`, { cause: error });
    }
  }
}

describe('the map of any run', () => {
  it('has a bill from the navigation to the paint, without gap, overlap or empty line', () => {
    ofEach(({ target }, { paintBill }) => {
      expect(paintBill[0]!.startMs).toBe(0);
      for (const [index, segment] of paintBill.entries()) {
        if (index > 0) expect(segment.startMs).toBe(paintBill[index - 1]!.endMs);
        expect(segment.endMs).toBeGreaterThan(segment.startMs);
        expect(segment.label).not.toBe('');
        expect(segment.why).not.toBe('');
      }
      expect(paintBill.at(-1)!.endMs).toBeCloseTo(target.atMs, 6);
    });
  });

  it('lists each request once, and says of each what it does to the paint in one sentence', () => {
    ofEach(({ requests, target }, { assets }) => {
      expect(assets).toHaveLength(requests.length);
      for (const asset of assets) {
        expect(asset.evidence).toMatch(/^[A-Z].*\.$/);
        expect(asset.evidence).not.toMatch(/undefined|null|NaN|Infinity/);
        if (asset.hold === 'after') expect(asset.startMs).toBeGreaterThanOrEqual(target.atMs);
        if (asset.hold !== 'holds') expect(asset.waitedMs).toBe(0);
      }
    });
  });

  it('never says that an asset was waited for longer than the paint took, or that more could be gained', () => {
    ofEach(({ target }, { assets, paintBill }) => {
      const sum = assets.reduce((total, asset) => total + asset.waitedMs, 0);
      const billed = paintBill.reduce((total, one) => total + (one.url ? one.endMs - one.startMs : 0), 0);
      expect(sum).toBeLessThanOrEqual(billed + 0.001);
      for (const { gainMs } of assets) {
        if (gainMs === null) continue;
        expect(gainMs).toBeGreaterThanOrEqual(0);
        expect(gainMs).toBeLessThanOrEqual(target.atMs);
      }
    });
  });

  it('numbers hand-overs in the order of time, each between two assets of the bill', () => {
    ofEach((_made, { assets, paintBill }) => {
      const handOvers = handOversOf(paintBill, assets);
      expect(handOvers.map((one) => one.number)).toEqual(handOvers.map((_one, index) => index + 1));
      const billed = new Set(paintBill.flatMap((segment) => segment.url ?? []));
      for (const [index, { atMs, from, to }] of handOvers.entries()) {
        expect(atMs).toBeGreaterThanOrEqual(handOvers[index - 1]?.atMs ?? 0);
        expect(from.url).not.toBe(to.url);
        expect(billed).toContain(to.url);
      }
    });
  });
});
