import { describe, expect, it } from 'vitest';
import { QUAY, requestOf } from '../../../tests/engine/defaults.ts';
import type { MainThreadWork, RequestTiming } from '../measure/run.ts';
import { mapRun, type MapInput } from './map.ts';

const OTHER = 'https://other.test/';

const asset = (url: string, over: Partial<RequestTiming>) => requestOf({ url, ...over });

/** A page whose server took `slow` ms longer; everything after its first byte is later by that. */
const html = (slow = 0) =>
  asset(QUAY, {
    kind: 'document',
    discovery: { by: 'navigation' },
    startMs: 0,
    connectMs: { start: 4, end: 200 },
    sentMs: 200,
    firstByteMs: 400 + slow,
    endMs: 410 + slow,
  });

const later = (one: RequestTiming, by: number): RequestTiming => ({
  ...one,
  startMs: one.startMs + by,
  connectMs: one.connectMs && { start: one.connectMs.start + by, end: one.connectMs.end + by },
  sentMs: one.sentMs! + by,
  firstByteMs: one.firstByteMs! + by,
  endMs: one.endMs! + by,
});
/** The server of an asset takes longer: its first byte and all after it come later. */
const slower = (one: RequestTiming, by: number): RequestTiming => ({
  ...one,
  firstByteMs: one.firstByteMs! + by,
  endMs: one.endMs! + by,
});
const run = (url: string | null, startMs: number, endMs: number): MainThreadWork => ({
  kind: 'evaluate',
  url,
  startMs,
  endMs,
});
const read = (url: string, startMs: number, endMs: number): MainThreadWork => ({
  kind: 'parse-css',
  url,
  startMs,
  endMs,
});
const layout = (startMs: number, endMs: number): MainThreadWork => ({
  kind: 'layout',
  url: null,
  startMs,
  endMs,
});

const firstPaint = (atMs: number) => ({ kind: 'first paint' as const, atMs });

/** One cause each, with `by` ms more server time for it, and everything that depends on it later by as much. */
interface Fixture {
  name: string;
  /** The asset that must bear it. */
  cause: string;
  make(by: number): Pick<MapInput, 'requests' | 'work' | 'headline'> & Partial<MapInput>;
}

const sheet = asset(`${QUAY}a.css`, { kind: 'stylesheet', blocking: 'blocking' });

const FIXTURES: Fixture[] = [
  {
    name: 'the page itself',
    cause: QUAY,
    make: (by) => ({
      requests: [html(by)],
      work: [layout(415 + by, 440 + by)],
      headline: firstPaint(450 + by),
    }),
  },
  {
    name: 'a render-blocking stylesheet',
    cause: sheet.url,
    make: (by) => ({
      requests: [html(), slower(sheet, by)],
      work: [layout(580 + by, 620 + by)],
      headline: firstPaint(630 + by),
    }),
  },
  {
    name: 'a sheet that another imports',
    cause: `${QUAY}b.css`,
    make: (by) => ({
      requests: [
        html(),
        sheet,
        slower(
          later(
            asset(`${QUAY}b.css`, {
              kind: 'stylesheet',
              discovery: { by: 'stylesheet', url: sheet.url, line: 1 },
            }),
            160,
          ),
          by,
        ),
      ],
      work: [layout(740 + by, 780 + by)],
      headline: firstPaint(790 + by),
    }),
  },
  {
    name: 'a parser-blocking script',
    cause: `${QUAY}a.js`,
    make: (by) => ({
      requests: [html(), slower(asset(`${QUAY}a.js`, { blocking: 'blocking' }), by)],
      work: [run(`${QUAY}a.js`, 580 + by, 640 + by), layout(640 + by, 660 + by)],
      headline: firstPaint(670 + by),
    }),
  },
  {
    name: 'a stylesheet that a script waits for',
    cause: sheet.url,
    make: (by) => ({
      requests: [
        html(),
        slower(later(sheet, 20), by),
        asset(`${QUAY}a.js`, { blocking: 'blocking', endMs: 560 }),
      ],
      work: [run(`${QUAY}a.js`, 597 + by, 640 + by), layout(640 + by, 660 + by)],
      headline: firstPaint(670 + by),
    }),
  },
  {
    name: 'a script that keeps the parser from a sheet which imports another',
    cause: `${OTHER}bar.js`,
    make: (by) => ({
      requests: [
        html(),
        slower(asset(`${OTHER}bar.js`, { blocking: 'blocking' }), by),
        { ...sheet, discovery: { by: 'parser', document: QUAY, line: 4 } },
        later(
          asset(`${QUAY}b.css`, {
            kind: 'stylesheet',
            discovery: { by: 'stylesheet', url: sheet.url, line: 1 },
          }),
          220 + by,
        ),
      ],
      work: [
        run(`${OTHER}bar.js`, 580 + by, 600 + by),
        read(sheet.url, 605 + by, 640 + by),
        read(`${QUAY}b.css`, 800 + by, 805 + by),
        layout(805 + by, 840 + by),
      ],
      headline: firstPaint(850 + by),
    }),
  },
  {
    name: 'a script that ends a hiding',
    cause: `${OTHER}t.js`,
    make: (by) => ({
      requests: [html(), slower(asset(`${OTHER}t.js`, {}), by)],
      work: [run(`${OTHER}t.js`, 580 + by, 600 + by), layout(600 + by, 640 + by)],
      headline: firstPaint(650 + by),
      hidingEndedBy: [`${OTHER}t.js`],
    }),
  },
  {
    name: 'a script that makes the content',
    cause: `${QUAY}app.js`,
    make: (by) => ({
      requests: [
        html(),
        slower(
          asset(`${QUAY}app.js`, { firstByteMs: 700, endMs: 760, blocking: 'potentially-blocking' }),
          by,
        ),
      ],
      work: [layout(415, 440), run(`${QUAY}app.js`, 765 + by, 800 + by), layout(800 + by, 820 + by)],
      headline: firstPaint(830 + by),
    }),
  },
  {
    name: 'data that the content is made from',
    cause: `${QUAY}data.json`,
    make: (by) => ({
      requests: [
        html(),
        asset(`${QUAY}app.js`, { blocking: 'potentially-blocking' }),
        slower(
          asset(`${QUAY}data.json`, {
            kind: 'data',
            discovery: { by: 'script', url: `${QUAY}app.js`, line: 4 },
            startMs: 590,
            sentMs: 592,
            firstByteMs: 800,
            endMs: 820,
          }),
          by,
        ),
      ],
      work: [
        run(`${QUAY}app.js`, 580, 595),
        { kind: 'call', url: `${QUAY}app.js`, startMs: 825 + by, endMs: 850 + by },
        layout(850 + by, 870 + by),
      ],
      headline: firstPaint(880 + by),
    }),
  },
  {
    name: 'a font that text is not shown without',
    cause: `${QUAY}f.woff2`,
    make: (by) => ({
      requests: [
        html(),
        sheet,
        slower(
          later(
            asset(`${QUAY}f.woff2`, {
              kind: 'font',
              discovery: { by: 'stylesheet', url: sheet.url, line: 2 },
            }),
            200,
          ),
          by,
        ),
      ],
      work: [layout(580, 610), layout(780 + by, 800 + by)],
      headline: firstPaint(620),
      blockingFonts: new Set([`${QUAY}f.woff2`]),
      target: { kind: 'first contentful paint', atMs: 810 + by },
    }),
  },
  {
    name: 'an image as main content',
    cause: `${QUAY}hero.jpg`,
    make: (by) => ({
      requests: [html(), sheet, slower(asset(`${QUAY}hero.jpg`, { kind: 'image', endMs: 900 }), by)],
      work: [layout(580, 610), layout(905 + by, 915 + by)],
      headline: firstPaint(620),
      lcpUrl: `${QUAY}hero.jpg`,
      target: { kind: 'largest contentful paint', atMs: 920 + by },
    }),
  },
];

function map(fixture: Fixture, by: number) {
  return mapRun({
    documentUrl: QUAY,
    ruleUsage: [],
    hidingEndedBy: [],
    line: { downKbps: 5_000, roundTripMs: 100, serverMs: new Map() },
    ...fixture.make(by),
  });
}

describe.each(FIXTURES)('one cause: $name', (fixture) => {
  it('bears a line, and the bill sums to the paint', () => {
    const { paintBill, target } = map(fixture, 0);
    let at = 0;
    for (const segment of paintBill) {
      expect(segment.startMs).toBeCloseTo(at, 6);
      expect(segment.endMs).toBeGreaterThan(segment.startMs);
      at = segment.endMs;
    }
    expect(at).toBe(target!.atMs);
    expect(paintBill.some((segment) => segment.url === fixture.cause)).toBe(true);
    const unexplained = paintBill
      .filter((segment) => segment.kind === 'unexplained')
      .reduce((sum, segment) => sum + segment.endMs - segment.startMs, 0);
    expect(unexplained).toBeLessThanOrEqual(Math.max(0.05 * target!.atMs, 30));
  });

  it('bears 300 ms more server time whole', () => {
    const bornBy = (by: number) =>
      map(fixture, by)
        .paintBill.filter((segment) => segment.url === fixture.cause && segment.kind === 'server')
        .reduce((sum, segment) => sum + segment.endMs - segment.startMs, 0);
    expect(bornBy(300) - bornBy(0)).toBeCloseTo(300, 6);
  });

  it('holds the paint, and removing it gains time (the page itself cannot be removed)', () => {
    const found = map(fixture, 0).assets.find((one) => one.url === fixture.cause)!;
    expect(found.hold).toBe('holds');
    if (fixture.cause === QUAY) expect(found.gainMs).toBeNull();
    else expect(found.gainMs!).toBeGreaterThan(0);
  });
});

describe('a sheet that the parser has not got to', () => {
  const bar = asset(`${OTHER}bar.js`, { blocking: 'blocking', firstByteMs: 680, endMs: 700 });
  const after = { ...sheet, discovery: { by: 'parser', document: QUAY, line: 4 } } as const;
  const imported = asset(`${QUAY}b.css`, {
    kind: 'stylesheet',
    discovery: { by: 'stylesheet', url: sheet.url, line: 1 },
    startMs: 745,
    sentMs: 746,
    firstByteMs: 840,
    endMs: 850,
  });
  const mapped = (requests: RequestTiming[], work: MainThreadWork[]) =>
    mapRun({
      documentUrl: QUAY,
      requests: [html(), ...requests],
      work: [run(bar.url, 702, 720), ...work],
      headline: firstPaint(900),
      ruleUsage: [],
      hidingEndedBy: [],
      line: { downKbps: 100_000, roundTripMs: 100, serverMs: new Map() },
    });
  const gainOf = (name: string, { assets }: ReturnType<typeof mapped>) =>
    assets.find((one) => one.name === name)!.gainMs!;

  it('is read after the script before it: without that script, what it imports is asked for earlier', () => {
    const map = mapped([bar, after, imported], [read(sheet.url, 722, 740)]);
    expect(map.paintBill.filter((one) => one.url && one.startMs >= 420).map((one) => one.label)).toEqual([
      'bar.js waiting in the browser’s queue',
      'the server and the way for bar.js',
      'receiving bar.js',
      'running bar.js',
      'reading a.css',
      'b.css not yet discovered',
      'b.css waiting in the browser’s queue',
      'the server and the way for b.css',
      'receiving b.css',
    ]);
    // The sheet has been there since 575: it would be read 2 ms later and take its 18 ms, not end at 740.
    expect(gainOf('bar.js', map)).toBeCloseTo(740 - 595, 0);
    expect(map.assets.find((one) => one.name === 'a.css')!.readMs).toEqual({ start: 722, end: 740 });
  });

  it('is known to have waited for the script even where its reading was too short to be seen', () => {
    const map = mapped([bar, after, imported], []);
    expect(gainOf('bar.js', map)).toBeCloseTo(720 - 575, 0);
    expect(map.paintBill.some((one) => one.url === bar.url && one.kind === 'server')).toBe(true);
  });

  it('does not wait for a script that stands behind it', () => {
    const behind = { ...bar, discovery: { by: 'parser', document: QUAY, line: 5 } } as const;
    const map = mapped([after, behind, imported], []);
    expect(gainOf('bar.js', map)).toBe(0);
    expect(map.paintBill.some((one) => one.url === bar.url)).toBe(false);
  });
});

describe('gain without one asset', () => {
  it('is what the next one lets it be, not its own duration', () => {
    const next = asset(`${QUAY}b.css`, { kind: 'stylesheet', blocking: 'blocking', endMs: 560 });
    const { assets } = mapRun({
      documentUrl: QUAY,
      requests: [html(), sheet, next],
      work: [layout(580, 620)],
      headline: firstPaint(630),
      ruleUsage: [],
      hidingEndedBy: [],
      line: { downKbps: 100_000, roundTripMs: 100, serverMs: new Map() },
    });
    const gain = (name: string) => assets.find((one) => one.name === name)!.gainMs!;
    expect(gain('a.css')).toBeCloseTo(15, 0);
    expect(gain('b.css')).toBeCloseTo(0, 0);
  });

  it('takes what only the asset made the browser ask for with it', () => {
    const imported = later(
      asset(`${QUAY}b.css`, {
        kind: 'stylesheet',
        discovery: { by: 'stylesheet', url: sheet.url, line: 1 },
      }),
      160,
    );
    const { assets } = mapRun({
      documentUrl: QUAY,
      requests: [html(), sheet, imported],
      work: [],
      headline: firstPaint(740),
      ruleUsage: [],
      hidingEndedBy: [],
      line: { downKbps: 100_000, roundTripMs: 100, serverMs: new Map() },
    });
    expect(assets.find((one) => one.name === 'a.css')!.gainMs).toBeCloseTo(735 - 410, 0);
    expect(assets.find((one) => one.name === 'b.css')!.gainMs).toBeCloseTo(160, 0);
  });

  it('does not hold the paint with a script that stands after the content', () => {
    const foot = asset(`${QUAY}foot.js`, {
      blocking: 'in-body-parser-blocking',
      discovery: { by: 'parser', document: QUAY, line: 90 },
    });
    const hold = (contentLine: number | null) =>
      mapRun({
        documentUrl: QUAY,
        requests: [html(), foot],
        work: [],
        headline: firstPaint(700),
        ruleUsage: [],
        hidingEndedBy: [],
        contentLine,
      }).assets.find((one) => one.name === 'foot.js')!.hold;
    expect(hold(12)).toBe('crowds');
    expect(hold(95)).toBe('holds');
  });
});

describe('what passes outside the main thread, and between frames', () => {
  const draw = (startMs: number, endMs: number): MainThreadWork => ({
    kind: 'draw',
    url: null,
    startMs,
    endMs,
  });
  const bill = (work: MainThreadWork[], firstPaintMs: number) =>
    mapRun({
      documentUrl: QUAY,
      requests: [html()],
      work,
      headline: firstPaint(firstPaintMs),
      ruleUsage: [],
      hidingEndedBy: [],
    }).paintBill.map(({ label, startMs, endMs }) => [label, startMs, endMs]);

  it('is told as drawing where pictures are decoded while the main thread rests', () => {
    const lines = bill([layout(410, 500), draw(450, 700)], 720);
    expect(lines.slice(-3)).toEqual([
      ['style and layout', 410, 500],
      ['decoding and drawing', 500, 700],
      ['painting', 700, 720],
    ]);
  });

  it('is told as the browser taking the page over, before the parser has begun', () => {
    const parse: MainThreadWork = { kind: 'parse-html', url: QUAY, startMs: 500, endMs: 560 };
    expect(bill([parse, layout(560, 600)], 600).slice(-3)).toEqual([
      ['taking the page over', 410, 500],
      ['parsing the HTML', 500, 560],
      ['style and layout', 560, 600],
    ]);
  });

  it('is told as the wait for a frame right before style and layout; a longer rest stays unexplained', () => {
    expect(bill([run(QUAY, 410, 450), layout(470, 500)], 500).slice(-3)).toEqual([
      ['running inline scripts', 410, 450],
      ['waiting for a frame', 450, 470],
      ['style and layout', 470, 500],
    ]);
    const sheetRead: MainThreadWork = { kind: 'parse-css', url: null, startMs: 470, endMs: 500 };
    expect(bill([run(null, 410, 450), sheetRead], 500).at(-2)).toEqual(['unexplained', 450, 470]);
    expect(bill([run(null, 410, 450), layout(550, 600)], 600).at(-2)).toEqual(['unexplained', 450, 550]);
  });
});
