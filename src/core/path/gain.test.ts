import { describe, expect, it } from 'vitest';
import { QUAY, requestOf } from '../../../tests/engine/defaults.ts';
import type { MainThreadWork, RequestTiming } from '../measure/run.ts';
import { Gains, type LineSetting } from './gain.ts';
import { buildGraph, type PaintTarget } from './graph.ts';

/** So wide that bytes take no time: then only the path counts. */
const WIDE: LineSetting = { downKbps: 1e9, roundTripMs: 0, serverMs: new Map() };

const asset = (name: string, over: Partial<RequestTiming> = {}) =>
  requestOf({
    url: QUAY + name,
    kind: name.endsWith('.css') ? 'stylesheet' : 'script',
    blocking: 'blocking',
    priority: 'VeryHigh',
    sentMs: 420,
    firstByteMs: 520,
    endMs: 600,
    wireBytes: 10_000,
    ...over,
  });

const html = asset('', {
  kind: 'document',
  discovery: { by: 'navigation' },
  blocking: 'non-blocking',
  startMs: 0,
  sentMs: 200,
  firstByteMs: 380,
  endMs: 400,
  wireBytes: 4_000,
});

const ran = (name: string, startMs: number, endMs: number): MainThreadWork => ({
  kind: 'evaluate',
  url: QUAY + name,
  startMs,
  endMs,
});

/** What is gained without the named asset. */
function gain(
  name: string,
  requests: RequestTiming[],
  atMs: number,
  { line = WIDE, work = [] as MainThreadWork[], rules = {} as Record<string, number> } = {},
): number {
  const target: PaintTarget = { kind: 'first paint', atMs };
  const graph = buildGraph({
    documentUrl: QUAY,
    requests: [html, ...requests],
    work,
    target,
    hidingEndedBy: [],
  });
  const node = graph.nodes.find(({ request }) => request.url === QUAY + name || request.url === name)!;
  const ofSheets = new Map(Object.entries(rules).map(([sheet, count]) => [QUAY + sheet, count]));
  return Math.round(new Gains(graph, atMs, line, ofSheets).without(node));
}

describe('without one asset', () => {
  it('the paint waits for the next one only, not for the whole time it took', () => {
    const sheets = [asset('a.css', { endMs: 900 }), asset('b.css', { endMs: 700 })];
    expect(gain('a.css', sheets, 1_000)).toBe(200);
    expect(gain('b.css', sheets, 1_000)).toBe(0);
  });

  it('and with nothing else to wait for, the paint follows on the HTML', () => {
    expect(gain('a.css', [asset('a.css', { endMs: 900 })], 1_000)).toBe(500);
  });

  it('nothing is gained from what came beside the path', () => {
    const picture = asset('hero.jpg', { kind: 'image', blocking: 'non-blocking', endMs: 950 });
    expect(gain('hero.jpg', [asset('a.css', { endMs: 900 }), picture], 1_000)).toBe(0);
  });

  it('what only it made the browser ask for is gone too', () => {
    const imported = asset('b.css', {
      blocking: 'non-blocking',
      discovery: { by: 'stylesheet', url: `${QUAY}a.css`, line: 1 },
      startMs: 700,
      endMs: 1_200,
    });
    const sheets = [asset('a.css', { endMs: 700 }), imported, asset('c.css', { endMs: 800 })];
    expect(gain('a.css', sheets, 1_300)).toBe(400);
    expect(gain('b.css', sheets, 1_300)).toBe(400);
    expect(gain('c.css', sheets, 1_300)).toBe(0);
  });

  it('its run is saved, and scripts that waited for it run as soon as they have come', () => {
    const scripts = [asset('a.js', { endMs: 900 }), asset('b.js', { endMs: 650 })];
    const work = [ran('a.js', 900, 1_000), ran('b.js', 1_000, 1_150)];
    // b.js has come at 650 and runs 150 ms: 200 ms of waiting for a.js and its 100 ms of running, and what lay between.
    expect(gain('a.js', scripts, 1_200, { work })).toBe(350);
    expect(gain('b.js', scripts, 1_200, { work })).toBe(150);
  });

  it('a script that waited for a sheet runs earlier by that', () => {
    const requests = [asset('a.css', { endMs: 900 }), asset('b.js', { endMs: 600 })];
    expect(gain('a.css', requests, 1_100, { work: [ran('b.js', 910, 1_010)] })).toBe(300);
  });

  it('its rules need not be matched: half of that time goes with their number', () => {
    const sheets = [asset('a.css', { endMs: 700 }), asset('b.css', { endMs: 700 })];
    const work: MainThreadWork[] = [{ kind: 'style', url: null, startMs: 700, endMs: 900 }];
    const rules = { 'a.css': 300, 'b.css': 100 };
    // Of 200 ms of matching, half goes with 300 of 400 rules: 75 ms; or with 100 of them: 25 ms.
    expect(gain('a.css', sheets, 1_000, { work, rules })).toBe(75);
    expect(gain('b.css', sheets, 1_000, { work, rules })).toBe(25);
    expect(gain('a.css', sheets, 1_000, { work })).toBe(0);
  });

  it('the page itself cannot be left out', () => {
    expect(gain('', [asset('a.css')], 1_000)).toBe(0);
  });
});

describe('the line that it leaves to others', () => {
  // 1,000 kbit a second carry 125 bytes a millisecond; with packets' overhead, 25,000 bytes take 206 ms.
  const line: LineSetting = { downKbps: 1_000, roundTripMs: 100, serverMs: new Map() };
  const elsewhere = 'https://img.quay.test/hero.jpg';
  const picture = (over: Partial<RequestTiming> = {}) =>
    asset('hero.jpg', {
      url: elsewhere,
      kind: 'image',
      blocking: 'non-blocking',
      firstByteMs: 520,
      endMs: 920,
      wireBytes: 25_000,
      ...over,
    });

  it('brings what shared it sooner, but not before its own bytes could have come', () => {
    const sheet = asset('a.css', { firstByteMs: 520, endMs: 920, wireBytes: 25_000 });
    // 50 ms of way and 200 ms of bytes after the server had it at 470.
    expect(gain(elsewhere, [sheet, picture()], 1_000, { line })).toBe(920 - 720);
  });

  it('counts what came meanwhile, not what came when the line was free again', () => {
    const sheet = asset('a.css', { firstByteMs: 520, endMs: 1_140, wireBytes: 50_000 });
    const meanwhile = gain(elsewhere, [sheet, picture({ firstByteMs: 720 })], 1_200, { line });
    expect(meanwhile).toBeGreaterThan(195);
    expect(meanwhile).toBeLessThan(210);
    expect(gain(elsewhere, [sheet, picture({ firstByteMs: 1_020 })], 1_200, { line })).toBe(0);
  });

  it('gives nothing to the more urgent on the same connection, which had it anyway', () => {
    const sheet = asset('a.css', { firstByteMs: 520, endMs: 920, wireBytes: 50_000 });
    const low = picture({ url: `${QUAY}hero.jpg`, priority: 'Low' });
    expect(gain('hero.jpg', [sheet, low], 1_000, { line })).toBe(0);
  });

  it('lets the more urgent pass what was under way before it only', () => {
    const sheet = asset('a.css', { sentMs: 420, firstByteMs: 700, endMs: 760, wireBytes: 200 });
    const low = picture({ url: `${QUAY}hero.jpg`, priority: 'Low', wireBytes: 60_000 });
    const known = { ...line, serverMs: new Map([[sheet.url, 50]]) };
    const passed = gain('hero.jpg', [sheet, low], 1_000, { line: known });
    expect(passed).toBeGreaterThan(140);
    expect(passed).toBeLessThan(190);
  });

  it('lets an answer begin sooner that stood behind it, where it is known what the server took', () => {
    const sheet = asset('a.css', {
      priority: 'High',
      sentMs: 420,
      firstByteMs: 820,
      endMs: 860,
      wireBytes: 5_000,
    });
    const urgent = picture({ url: `${QUAY}hero.jpg`, endMs: 820, wireBytes: 37_500 });
    // The answer took 400 ms: 100 the way, 50 the server, 40 its bytes; the rest it stood in the line.
    const known = { ...line, serverMs: new Map([[sheet.url, 50]]) };
    expect(gain('hero.jpg', [sheet, urgent], 1_000, { line: known })).toBe(250);
    expect(gain('hero.jpg', [sheet, urgent], 1_000, { line })).toBeLessThan(15);
  });
});
