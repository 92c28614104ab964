import { describe, expect, it } from 'vitest';
import { QUAY, requestOf } from '../../../tests/engine/defaults.ts';
import type { RequestTiming } from '../measure/run.ts';
import { edgeWords } from '../words/edges.ts';
import { mapRun, type MapInput } from './map.ts';
import { ownerOf, partyOf } from './party.ts';

const request = (over: Partial<RequestTiming> & { url: string }) =>
  requestOf({ startMs: 500, sentMs: 500, firstByteMs: 600, endMs: 700, ...over });

const html = request({
  url: QUAY,
  kind: 'document',
  discovery: { by: 'navigation' },
  startMs: 0,
  connectMs: { start: 4, end: 200 },
  sentMs: 200,
  firstByteMs: 400,
  endMs: 520,
});

function map(requests: RequestTiming[], over: Partial<MapInput> = {}) {
  return mapRun({
    documentUrl: QUAY,
    requests,
    work: [],
    headline: { kind: 'first paint', atMs: 1_500 },
    ruleUsage: [],
    hidingEndedBy: [],
    ...over,
  });
}

describe('mapRun', () => {
  it('makes a bill without gap or overlap that sums to first paint', () => {
    const { paintBill } = map(
      [
        html,
        request({ url: `${QUAY}a.css`, kind: 'stylesheet', blocking: 'blocking', startMs: 450, endMs: 900 }),
        request({ url: `${QUAY}b.js`, blocking: 'blocking', startMs: 460, endMs: 1_100 }),
      ],
      { work: [{ kind: 'evaluate', url: `${QUAY}b.js`, startMs: 1_150, endMs: 1_300 }] },
    );
    let at = 0;
    for (const segment of paintBill) {
      expect(segment.startMs).toBe(at);
      at = segment.endMs;
    }
    expect(at).toBe(1_500);
    expect(paintBill.map((s) => [s.kind, s.label, s.endMs - s.startMs])).toEqual([
      ['start', 'starting the navigation', 4],
      ['connect', 'connecting to www.quay.test', 196],
      ['server', 'the server answering', 200],
      ['bytes', 'the HTML arriving', 60],
      ['queue', 'b.js waiting in the browser’s queue', 40],
      ['server', 'the server and the way for b.js', 100],
      ['bytes', 'receiving b.js', 500],
      ['unexplained', 'unexplained', 50],
      ['running', 'running b.js', 150],
      ['unexplained', 'unexplained', 200],
    ]);
  });

  it('tells what holds, what crowds and what comes after, each with a figure to check', () => {
    const { assets, sentence } = map(
      [
        html,
        request({ url: `${QUAY}a.css`, kind: 'stylesheet', blocking: 'blocking', startMs: 450, endMs: 900 }),
        request({ url: 'https://other.test/t.js', startMs: 480, endMs: 2_000 }),
        request({ url: `${QUAY}late.png`, kind: 'image', startMs: 1_600, endMs: 1_900 }),
      ],
      { ruleUsage: [{ url: `${QUAY}a.css`, rules: 1_614, usedRules: 12 }] },
    );
    expect(assets.map((a) => [a.name, a.hold, a.party])).toEqual([
      ['www.quay.test', 'holds', 'first'],
      ['a.css', 'holds', 'first'],
      ['t.js', 'crowds', 'third'],
      ['late.png', 'after', 'first'],
    ]);
    expect(assets[1]!.evidence).toBe(
      'Render-blocking stylesheet found in the HTML, line 3; 12 of its 1,614 rules apply anywhere on the page at this viewport; first paint waited 450 ms for it.',
    );
    expect(assets[3]!.evidence).toBe('Asked for 100 ms after first paint.');
    expect(sentence).toBe('First paint took 1,500 ms. One asset accounts for 450 ms of it.');
  });

  it.each([
    [0, 0, 'it holds no rules that could apply'],
    [1, 1, 'its one rule applies somewhere on the page at this viewport'],
    [1, 0, 'its one rule applies nowhere on the page at this viewport'],
    [9, 9, 'all its 9 rules apply somewhere on the page at this viewport'],
    [9, 0, 'none of its 9 rules applies anywhere on the page at this viewport'],
    [9, 1, '1 of its 9 rules applies anywhere on the page at this viewport'],
  ])('of a sheet of %i rules, %i of them used, says “%s”', (rules, usedRules, words) => {
    const sheet = `${QUAY}a.css`;
    const { assets } = map(
      [html, request({ url: sheet, kind: 'stylesheet', blocking: 'blocking', startMs: 450, endMs: 900 })],
      { ruleUsage: [{ url: sheet, rules, usedRules }] },
    );
    expect(assets[1]!.evidence).toContain(`line 3; ${words}; first paint`);
  });

  it('holds a sheet that a holding sheet imports, and a script that ends a hiding', () => {
    const tester = 'https://tester.test/t.js';
    const { assets, edges } = map(
      [
        html,
        request({ url: `${QUAY}a.css`, kind: 'stylesheet', blocking: 'blocking', startMs: 450, endMs: 700 }),
        request({
          url: `${QUAY}b.css`,
          kind: 'stylesheet',
          discovery: { by: 'stylesheet', url: `${QUAY}a.css`, line: 1 },
          startMs: 700,
          endMs: 1_000,
        }),
        request({ url: tester, startMs: 460, endMs: 1_200 }),
      ],
      { hidingEndedBy: [tester] },
    );
    expect(assets.map((a) => a.hold)).toEqual(['holds', 'holds', 'holds', 'holds']);
    expect(assets.find((a) => a.url === tester)!.evidence).toContain(
      'stays hidden until this script has run',
    );
    // The same as data: who named it, and what had to wait.
    expect(
      edges.filter((one) => one.from === `${QUAY}a.css`).map((one) => [one.code, edgeWords(one)]),
    ).toEqual([
      ['blocking-sheet', 'render-blocking stylesheet'],
      ['import', '@import, line 1'],
    ]);
  });

  it('does not let a blocking script that came after first paint hold it', () => {
    const { assets } = map([
      html,
      request({ url: `${QUAY}foot.js`, blocking: 'in-body-parser-blocking', startMs: 600, endMs: 1_800 }),
    ]);
    expect(assets[1]!.hold).toBe('crowds');
  });

  it('puts redirects at the head of the bill', () => {
    const from = request({
      url: 'https://quay.test/',
      kind: 'document',
      discovery: { by: 'navigation' },
      startMs: 0,
      endMs: 150,
    });
    const { paintBill } = map([
      from,
      { ...html, startMs: 150, connectMs: { start: 155, end: 300 }, sentMs: 300 },
    ]);
    expect(paintBill[0]).toMatchObject({ kind: 'redirect', endMs: 150, url: 'https://quay.test/' });
  });

  it('says so when the page never painted', () => {
    const { paintBill, sentence } = map([html], { headline: null });
    expect(paintBill).toEqual([]);
    expect(sentence).toBe('The page never painted in this run.');
  });
});

describe('party', () => {
  it('goes by the registrable domain', () => {
    expect(partyOf('https://img.quay.test/x', QUAY)).toBe('first');
    expect(partyOf('https://quay.example/x', QUAY)).toBe('third');
    expect(ownerOf('https://letterquay.localhost:9443/x')).toBe('letterquay.localhost');
    expect(ownerOf('http://127.0.0.1:8080/')).toBe('127.0.0.1');
  });
});
