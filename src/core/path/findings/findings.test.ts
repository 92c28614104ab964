import { describe, expect, it } from 'vitest';
import { exchangeOf, QUAY, requestOf } from '../../../../tests/engine/defaults.ts';
import { readHtml } from '../../html/document.ts';
import { findConditions } from '../../measure/conditions.ts';
import { NOTHING_OBSERVED, type Capture, type Exchange } from '../../measure/exchange.ts';
import type { MainThreadWork, RequestTiming } from '../../measure/run.ts';
import { mapRun } from '../map.ts';
import { findingsOf, type FindingInput } from './index.ts';

const request = (name: string, over: Partial<RequestTiming> = {}) =>
  requestOf({ url: name.startsWith('http') ? name : QUAY + name, ...over });

const document = request('', {
  kind: 'document',
  discovery: { by: 'navigation' },
  startMs: 0,
  connectMs: { start: 4, end: 200 },
  sentMs: 200,
  firstByteMs: 400,
  endMs: 410,
});

interface Scene {
  requests: RequestTiming[];
  exchanges?: Partial<Exchange>[];
  observations?: Partial<Capture['observations']>;
  html?: string;
  texts?: Record<string, string>;
  fold?: FindingInput['fold'];
  work?: FindingInput['work'];
  longTasks?: FindingInput['longTasks'];
  owners?: [string, string][];
  visitor?: FindingInput['visitor'];
  paintMs?: number;
}

/** The sentences about a page, by what they are of. */
function findings(scene: Scene): Record<string, string> {
  const requests = [document, ...scene.requests];
  const exchanges = requests.map((one, order) =>
    exchangeOf({
      order,
      url: one.url,
      kind: one.kind,
      bodyHash: `hash of ${one.url}`,
      responseHeaders: [
        ['cache-control', 'max-age=31536000'],
        ['content-encoding', 'br'],
      ],
      serverMs: 20,
      ...(scene.exchanges ?? []).find((other) => other.url === one.url),
    }),
  );
  const capture: Capture = {
    url: QUAY,
    documentUrl: QUAY,
    title: '',
    takenAt: '2026-11-03T10:00:00.000Z',
    exchanges,
    observations: { ...NOTHING_OBSERVED, ...scene.observations },
    clock: null,
    dataUrls: [],
    seenOnce: [],
    acceptedCertificates: [],
    notes: [],
  };
  const conditions = findConditions('slow-phone')!;
  const map = mapRun({
    documentUrl: QUAY,
    requests,
    work: scene.work ?? [],
    headline: { kind: 'first paint', atMs: scene.paintMs ?? 1_000 },
    ruleUsage: [],
    hidingEndedBy: [],
    line: { ...conditions, serverMs: new Map() },
  });
  const found = findingsOf({
    map,
    capture,
    conditions,
    work: scene.work ?? [],
    longTasks: scene.longTasks ?? [],
    owners: new Map(scene.owners),
    visitor: scene.visitor ?? null,
    html: readHtml(new TextEncoder().encode(scene.html ?? '<p>Words')),
    text: (url) => scene.texts?.[url] ?? null,
    fold: scene.fold ?? null,
  });
  return Object.fromEntries(found.map((one) => [one.id, `${one.line}: ${one.sentence}`]));
}

const sheet = request('a.css', { kind: 'stylesheet', blocking: 'blocking' });

describe('findings', () => {
  it('name a chain once, at its full length, with how late its end could be asked for', () => {
    const by = (url: string, startMs: number, name: string) =>
      request(name, {
        kind: 'stylesheet',
        discovery: { by: 'stylesheet', url: QUAY + url, line: 1 },
        startMs,
        endMs: startMs + 150,
      });
    const found = findings({ requests: [sheet, by('a.css', 580, 'b.css'), by('b.css', 735, 'c.css')] });
    expect(found[`chain ${QUAY}c.css`]).toBe(
      'waiting: a.css, then b.css, then c.css: each could be asked for only when the one before was there; the last came 310 ms after the first had come. Linked in the HTML they would load side by side.',
    );
    expect(found[`chain ${QUAY}b.css`]).toBeUndefined();
  });

  it('do not put down to a chain what its first sheet waited for before it was read', () => {
    const imported = request('b.css', {
      kind: 'stylesheet',
      discovery: { by: 'stylesheet', url: sheet.url, line: 1 },
      startMs: 725,
      endMs: 875,
    });
    const work: MainThreadWork[] = [{ kind: 'parse-css', url: sheet.url, startMs: 700, endMs: 720 }];
    expect(findings({ requests: [sheet, imported], work })[`chain ${imported.url}`]).toMatch(
      /the last came 175 ms after the first was read\./,
    );
  });

  it('tell the chain that the paint waits for apart from the font at its end', () => {
    const imported = request('b.css', {
      kind: 'stylesheet',
      discovery: { by: 'stylesheet', url: sheet.url, line: 1 },
      startMs: 580,
      endMs: 730,
    });
    const font = request('f.woff2', {
      kind: 'font',
      discovery: { by: 'stylesheet', url: imported.url, line: 1 },
      startMs: 760,
      endMs: 990,
    });
    const found = findings({ requests: [sheet, imported, font] });
    expect(found[`chain ${imported.url}`]).toMatch(
      /^waiting: a\.css, then b\.css: .*the last came 155 ms after/,
    );
    expect(found[`chain ${font.url}`]).toMatch(
      /^after the paint: a\.css, then b\.css, then f\.woff2: .*A preload/,
    );
  });

  it('name what the page says ahead of a host that it asks nothing of', () => {
    const found = findings({
      requests: [],
      html: '<head>\n<link rel="preconnect" href="https://gone.other"></head>',
    });
    expect(found['hint preconnect https://gone.other credentialed 2']).toBe(
      'connecting: Line 2 of the page: preconnect for gone.other helps nothing, as the page asks nothing of it. Treat takes it out.',
    );
  });

  it('say which host is connected to for what, in round trips', () => {
    const found = findings({
      requests: [
        request('https://fonts.other/f.css', {
          kind: 'stylesheet',
          blocking: 'blocking',
          connectMs: { start: 425, end: 785 },
          sentMs: 785,
          firstByteMs: 900,
          endMs: 950,
        }),
      ],
    });
    expect(found['host fonts.other']).toBe(
      'connecting: fonts.other is connected to 425 ms after the navigation began, for 360 ms (2 round trips); first paint waits for f.css from there.',
    );
    expect(found['party fonts.other']).toContain(
      '1 request, 1.0 KB, 0 ms on the main thread; first paint waits for f.css',
    );
  });

  it('name the element that two sheets are loaded for, when fold CSS says so', () => {
    const kept = [
      {
        selector: '.sign-step-free',
        context: '',
        sheetUrl: sheet.url,
        line: 9,
        concern: 'painted' as const,
        reason: 'matches' as const,
        neededBy: [{ viewport: '390×844', element: 'i.sign.sign-step-free' }],
        bytes: 40,
        embedded: false,
      },
    ];
    const fold = { kept, rulesOf: () => 1_614, fonts: [] };
    expect(findings({ requests: [sheet], fold })[`idle ${sheet.url}`]).toContain(
      '1 of 1,614 rules of a.css apply above the fold, for i.sign.sign-step-free',
    );
    const many = { ...fold, rulesOf: () => 10 };
    expect(findings({ requests: [sheet], fold: many })[`idle ${sheet.url}`]).toBeUndefined();
  });

  it('tell scripts that hardly ran, with bytes', () => {
    const usage = (usedBytes: number, byPaint?: number) => ({
      scriptUsage: [
        {
          url: `${QUAY}lib.js`,
          bytes: 80_000,
          usedBytes,
          usedByPaintBytes: byPaint ?? null,
        },
      ],
    });
    const requests = [request('lib.js', { blocking: 'blocking' })];
    expect(findings({ requests, observations: usage(8_000) })[`hardly run ${QUAY}lib.js`]).toBe(
      'waiting: 10 % of lib.js (8.0 KB of 80 KB) ran before load.',
    );
    expect(findings({ requests, observations: usage(60_000, 8_000) })[`hardly run ${QUAY}lib.js`]).toBe(
      'waiting: 10 % of lib.js (8.0 KB of 80 KB) ran before first paint, 75 % before load.',
    );
    expect(
      findings({ requests, observations: usage(60_000, 40_000) })[`hardly run ${QUAY}lib.js`],
    ).toBeUndefined();
    expect(findings({ requests, observations: usage(60_000) })[`hardly run ${QUAY}lib.js`]).toBeUndefined();
  });

  it('tell fonts that paint nothing above the fold', () => {
    const font = (name: string) => request(name, { kind: 'font' });
    const fold = { kept: [], rulesOf: () => null, fonts: [`${QUAY}used.woff2`] };
    const found = findings({ requests: [font('used.woff2'), font('idle.woff2')], fold });
    expect(found['fonts']).toBe('bytes: idle.woff2 (1.0 KB) paints nothing above the fold.');
  });

  it('tell fonts that paint nothing at all, fold CSS or not; of a file not told of, nothing', () => {
    const font = (name: string) => request(name, { kind: 'font' });
    const use = (family: string) => ({
      family,
      custom: true,
      weight: 400,
      italic: false,
      glyphs: 40,
      sample: 'Sailings',
      box: { x: 0, y: 900, width: 10, height: 10 },
      aboveFold: false,
    });
    const face = (name: string, weight: number) => ({
      url: QUAY + name,
      family: 'Quay Sans',
      weights: [weight, weight] as [number, number],
      italic: false,
    });
    const observations = {
      fonts: [use('Quay Sans')],
      fontFiles: [face('used.woff2', 400), { ...face('idle.woff2', 400), family: 'Quay Mono' }],
    };
    const faces = {
      fonts: [use('Quay Sans')],
      fontFiles: [face('used.woff2', 400), face('bold.woff2', 700)],
    };
    expect(
      findings({ requests: [font('used.woff2'), font('bold.woff2')], observations: faces })['fonts unused'],
    ).toBe('bytes: bold.woff2 (1.0 KB) paints nothing at all.');
    const requests = [font('used.woff2'), font('idle.woff2'), font('untold.woff2')];
    const found = findings({ requests, observations });
    expect(found['fonts unused']).toBe('bytes: idle.woff2 (1.0 KB) paints nothing at all.');
    expect(found['fonts']).toBeUndefined();
    const fold = { kept: [], rulesOf: () => null, fonts: [] };
    const folded = findings({ requests, observations, fold });
    expect(folded['fonts']).toBe('bytes: used.woff2, untold.woff2 (2.0 KB) paint nothing above the fold.');
    expect(folded['fonts unused']).toBe(found['fonts unused']);
  });

  it('find the same library twice: by its bytes, and by its banner in two versions', () => {
    const requests = [request('lib.js'), request('copy.js'), request('old.js')];
    const found = findings({
      requests,
      exchanges: [
        { url: `${QUAY}lib.js`, bodyHash: 'same' },
        { url: `${QUAY}copy.js`, bodyHash: 'same' },
      ],
      texts: {
        [`${QUAY}lib.js`]: '/*! Rigging v3.7.1 | licence */ 1',
        [`${QUAY}old.js`]: '/*! Rigging v1.12.0 */ 1',
      },
    });
    expect(found[`twice ${QUAY}lib.js`]).toContain('loaded 2 times: lib.js, copy.js');
    expect(found['versions rigging']).toContain('2 versions: 3.7.1 (lib.js), 1.12.0 (old.js)');
  });

  it('look at pictures: size, laziness, pixels, format', () => {
    const picture = (name: string) => request(name, { kind: 'image', endMs: 1_400 });
    const box = (name: string, width: number) => ({
      element: 'img',
      tag: 'img',
      url: QUAY + name,
      box: { x: 0, y: 0, width, height: 100 },
      natural: { width: 2_400, height: 900 },
    });
    const found = findings({
      requests: [picture('hero.jpg'), picture('low.png')],
      exchanges: [{ url: `${QUAY}hero.jpg`, mimeType: 'image/jpeg', wireBytes: 120_000 }],
      observations: { boxes: [box('hero.jpg', 390)] },
      html: '<img src="hero.jpg" loading="lazy" width="1" height="1"><img src="low.png">',
    });
    expect(found['fold picture held back']).toContain('hero.jpg');
    expect(found['no room kept']).toContain('low.png');
    expect(found['no room kept']).not.toContain('hero.jpg');
    expect(found['low picture early']).toContain('low.png');
    expect(found['more pixels than shown']).toContain('hero.jpg');
    expect(found['older format']).toContain('hero.jpg');
  });

  it('look at headers: compression, lifetimes, what the server says of its time', () => {
    const found = findings({
      requests: [sheet],
      exchanges: [
        {
          url: sheet.url,
          mimeType: 'text/css',
          bodyBytes: 40_000,
          wireBytes: 40_000,
          responseHeaders: [['cache-control', 'max-age=60']],
        },
        {
          url: QUAY,
          serverMs: 340,
          responseHeaders: [['Server-Timing', 'db;dur=280']],
        },
      ],
    });
    expect(found['plain on the wire']).toBe('bytes: 1 text file comes uncompressed, 40 KB: a.css.');
    expect(found['kept too short']).toBe(
      'after the paint: 1 file (40 KB) is kept for less than a week or not at all: return visits pay for it again.',
    );
    expect(found['server']).toContain(
      'The server itself took 340 ms for the page; it says of it: db 280 ms, which leaves 60 ms open.',
    );
  });

  it.each([
    ['max-age=31536000', {}, false],
    ['max-age=60, stale-while-revalidate=900', {}, true],
    ['public, no-cache, max-age=31536000', {}, true],
    ['', { Date: 'Tue, 03 Nov 2026 10:00:00 GMT', Expires: 'Tue, 03 Nov 2037 10:00:00 GMT' }, false],
    ['', { Date: 'Tue, 03 Nov 2026 10:00:00 GMT', Expires: 'Wed, 04 Nov 2026 10:00:00 GMT' }, true],
    ['', { Date: 'Tue, 03 Nov 2026 10:00:00 GMT', Expires: '0' }, true],
    ['', {}, true],
  ])('take “%s” with %j for a short lifetime: %s', (control, more, short) => {
    const responseHeaders = Object.entries({ 'Cache-Control': control, ...more });
    const found = findings({ requests: [sheet], exchanges: [{ url: sheet.url, responseHeaders }] });
    expect('kept too short' in found).toBe(short);
  });

  it('name the files that no cache on the way answers, though it answers the rest of their kind', () => {
    const picture = (name: string) => request(name, { kind: 'image' });
    const headers = (...responseHeaders: [string, string][]) => ({ responseHeaders });
    const requests = ['a.jpg', 'b.jpg', 'c.jpg', 'banner.jpg'].map(picture);
    const answered = [
      { url: `${QUAY}a.jpg`, ...headers(['Age', '860']) },
      { url: `${QUAY}b.jpg`, ...headers(['Cache-Status', 'quayside; hit; ttl=30']) },
      { url: `${QUAY}c.jpg`, ...headers(['age', '12']) },
    ];
    const own = { url: `${QUAY}banner.jpg`, serverMs: 240 };
    const id = 'past the edge image www.quay.test';
    expect(findings({ requests, exchanges: [...answered, { ...own, ...headers(['Age', '0']) }] })[id]).toBe(
      'after the paint: 3 of 4 images of www.quay.test came from a cache on the way, but not banner.jpg: the server made it again, in up to 240 ms.',
    );
    const missed = headers(['Cache-Status', 'quayside; fwd=miss'], ['Age', '3']);
    expect(findings({ requests, exchanges: [...answered, { ...own, ...missed }] })[id]).toContain(
      'banner.jpg',
    );
    // Where most are made anew, there is no cache to speak of.
    expect(findings({ requests, exchanges: answered.slice(0, 2) })[id]).toBeUndefined();
  });

  it('know which file of several a picture shows', () => {
    const box = {
      element: 'img',
      tag: 'img',
      url: `${QUAY}wide.avif`,
      box: { x: 0, y: 0, width: 390, height: 100 },
      natural: { width: 800, height: 300 },
    };
    const found = findings({
      requests: [request('wide.avif', { kind: 'image' }), request('below-2x.jpg', { kind: 'image' })],
      observations: { boxes: [box] },
      html: `<picture><source srcset="wide.avif 800w, small.avif 400w"><img loading="lazy" src="wide.jpg" width="1" height="1"></picture>
        <img src="below.jpg" srcset="below.jpg 1x, below-2x.jpg 2x" width="1" height="1">`,
    });
    expect(found['fold picture held back']).toContain('wide.avif');
    expect(found['low picture early']).toContain('below-2x.jpg');
  });

  it('tell embeds with all they bring, and the one file from another place', () => {
    const found = findings({
      requests: [
        request('https://reel.test/embed', { kind: 'embed' }),
        request('https://reel.test/player.js'),
        request('one.woff2', { kind: 'font' }),
        request('two.woff2', { kind: 'font' }),
        request('https://letters.test/three.woff2', { kind: 'font' }),
      ],
      work: [{ kind: 'evaluate', url: 'https://reel.test/player.js', startMs: 900, endMs: 980 }],
    });
    expect(found['embed https://reel.test/embed']).toContain(
      'brings 2 requests, 2.0 KB and 80 ms on the page’s main thread, begun 420 ms after',
    );
    expect(found['scattered font']).toContain(
      '2 fonts come from www.quay.test, only three.woff2 from letters.test',
    );
  });

  it('find rules that say the same in full', () => {
    const rules = Array.from({ length: 9 }, (_, i) => `.p${i}{color:red;margin:0}`).join('');
    const found = findings({ requests: [sheet], texts: { [sheet.url]: `${rules}.x{color:red}` } });
    expect(found[`repeated ${sheet.url}`]).toContain('9 rules of a.css say the same in full');
  });

  it('count domains of one owner together where the user has named them', () => {
    const requests = [request('https://cdn.lantern.test/a.js'), request('https://tally.test/b.js')];
    expect(findings({ requests })['party lantern.test']).toContain('lantern.test: 1 request');
    const found = findings({
      requests,
      owners: [
        ['lantern.test', 'The counting people'],
        ['tally.test', 'The counting people'],
      ],
    });
    expect(found['party The counting people']).toContain('The counting people: 2 requests, 2.0 KB');
    expect(found['party tally.test']).toBeUndefined();
  });

  it('say which clicks wait long once the page is on screen, and for which script', () => {
    const found = findings({
      requests: [],
      paintMs: 1_000,
      longTasks: [
        { startMs: 300, endMs: 900, script: `${QUAY}early.js` },
        { startMs: 800, endMs: 1_400, script: `${QUAY}menu.js` },
        { startMs: 2_000, endMs: 2_140, script: `${QUAY}short.js` },
        { startMs: 3_000, endMs: 3_260, script: null },
      ],
    });
    expect(Object.keys(found)).toEqual(['click 1000', 'click 3000']);
    expect(found['click 1000']).toBe(
      'main thread: The page is on screen, but a click at 1,000 ms is answered 400 ms later: menu.js keeps the main thread until then.',
    );
    expect(found['click 3000']).toContain('260 ms later: the browser’s own work keeps');
  });

  it('name heavy backgrounds, and endless animation that has to be painted', () => {
    const heavy = { url: `${QUAY}sea.jpg`, kind: 'image' as const, wireBytes: 420_000 };
    const found = findings({
      requests: [request('sea.jpg', { kind: 'image' }), request('dot.png', { kind: 'image' })],
      exchanges: [heavy],
      observations: {
        backgrounds: [
          { element: 'header.top', url: heavy.url },
          { element: 'i.dot', url: `${QUAY}dot.png` },
        ],
        animations: [
          { element: 'div.wave', name: 'drift', properties: ['left', 'opacity'], endless: true },
          { element: 'b.spin', name: 'turn', properties: ['transform'], endless: true },
          { element: 'p.once', name: 'grow', properties: ['height'], endless: false },
        ],
      },
    });
    expect(found[`background ${heavy.url}`]).toContain('sea.jpg (420 KB) stands behind header.top');
    expect(found['animation div.wave drift']).toContain('(drift: left)');
    expect(Object.keys(found).filter((id) => /^(background|animation)/.test(id))).toHaveLength(2);
  });

  it('tell apart what only staff see, and say what is missing for it', () => {
    const requests = [sheet, request('editor.js')];
    expect(findings({ requests, visitor: { urls: new Set([sheet.url]) } })['staff']).toContain(
      '1 asset is seen only with your sign-in (1.0 KB), so visitors never wait for it: editor.js',
    );
    expect(findings({ requests, visitor: { urls: null } })['staff unknown']).toContain(
      'Measure the page once as any visitor',
    );
    expect(findings({ requests })['staff']).toBeUndefined();
  });

  it('say nothing of a page that needs nothing', () => {
    expect(findings({ requests: [] })).toEqual({});
  });
});
