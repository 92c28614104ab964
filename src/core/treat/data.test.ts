import { describe, expect, it } from 'vitest';
import { madePage } from '../../../tests/engine/made-capture.ts';
import { inPage, madeRequest } from '../../../tests/engine/made-requests.ts';
import { readData } from '../data/page-data.ts';
import type { Exchange } from '../measure/exchange.ts';
import type { RequestTiming } from '../measure/run.ts';
import { CapturedPage } from '../page/captured-page.ts';
import { readPageAssets } from '../page/page-assets.ts';
import { refusalWords } from '../words/refusals.ts';
import { applyPlan } from './apply.ts';
import { loneRefusal } from './lone.ts';
import { recommendPlan } from './recommend.ts';
import { sceneOf } from './scene.ts';

const PAGE = 'https://quay.test/';
const TIDES = `${PAGE}api/tides.json`;
const BOARD = `fetch("/api/tides.json").then(function (r) { return r.json(); });`;

/** A page whose script asks for the tides. */
function sceneWith({
  html = '<!DOCTYPE html><head></head><script src="board.js"></script><p>Quay</p>',
  board = BOARD,
  data = {},
  startMs = 900,
  seenOnce = [],
}: {
  html?: string;
  board?: string;
  data?: Partial<Exchange>;
  startMs?: number;
  seenOnce?: string[];
} = {}) {
  const url = data.url ?? TIDES;
  const made = madePage(html, {
    'board.js': board,
    [url]: { body: '{"high":"06:20"}', type: 'application/json', kind: 'data' },
  });
  const exchanges = made.capture.exchanges.map((one) =>
    one.url === url
      ? { ...one, discovery: { by: 'script' as const, url: `${PAGE}board.js`, line: 1 }, ...data }
      : one,
  );
  const bodyOf = (hash: string) =>
    made.body(made.capture.exchanges.find((one) => one.bodyHash === hash)?.url ?? '');
  const page = new CapturedPage({ ...made.capture, exchanges, seenOnce }, bodyOf);
  const requests: RequestTiming[] = [
    { ...madeRequest(PAGE, { by: 'navigation' }), kind: 'document', firstByteMs: 200 },
    { ...madeRequest(`${PAGE}board.js`, inPage(PAGE)), kind: 'script' },
    { ...madeRequest(url, { by: 'script', url: `${PAGE}board.js`, line: 1 }), kind: 'data', startMs },
  ];
  return sceneOf(readPageAssets(page, requests), null);
}

const adviceOf = (scene: ReturnType<typeof sceneWith>) =>
  recommendPlan(scene).rules.find((rule) => rule.kind === 'data');

const refused = (over: Parameters<typeof sceneWith>[0]) => {
  const refusal = loneRefusal(sceneWith(over), 'data', { url: over?.data?.url ?? TIDES }, 'early');
  return refusal && refusalWords(refusal);
};

describe('data that a script asks for', () => {
  it('is asked for with the page, in the way that scripts ask where nothing else is said', () => {
    const scene = sceneWith();
    expect(adviceOf(scene)).toMatchObject({
      match: { url: TIDES },
      treatment: 'early',
      on: true,
      risk: 'medium',
      reason:
        'board.js asks for it 700 ms after the page has begun to come: asked for with the page, it is there when the script wants it.',
    });
    const { html, notApplied } = applyPlan(scene, recommendPlan(scene));
    expect(new TextDecoder().decode(html)).toContain(
      '<link rel="preload" as="fetch" href="/api/tides.json" crossorigin>',
    );
    expect(notApplied).toEqual([]);
  });

  it('is refused after something was sent, and not asked for ahead of a script of one’s own that waits', () => {
    const scene = sceneWith();
    const { captured } = scene.page;
    const first = {
      ...captured.capture.exchanges[0]!,
      method: 'POST',
      kind: 'data' as const,
      url: `${PAGE}login`,
    };
    const exchanges = captured.capture.exchanges.map((one) => ({ ...one, order: one.order + 1 }));
    const sent = new CapturedPage(
      { ...captured.capture, exchanges: [{ ...first, order: 0 }, ...exchanges] },
      () => null,
    );
    const texts = { ...scene, page: { ...scene.page, captured: sent }, data: readData(sent) };
    expect(refusalWords(loneRefusal(texts, 'data', { url: TIDES }, 'early')!)).toBe(
      'a script sends something to the same host before it asks (https://quay.test/login): asked for before that, it may be answered otherwise',
    );
    const inline = '<script>fetch("/api/tides.json")</script>';
    const asked = sceneWith({
      html: `<!DOCTYPE html><head></head>${inline}<p>Quay</p>`,
      data: { discovery: { by: 'script', url: PAGE, line: 1 } },
    });
    expect(adviceOf(asked)!.reason).toMatch(/^A script of the page asks for it 700 ms after/);
  });

  it('is left as it is where that gains nothing, or takes the line from what paints', () => {
    expect(adviceOf(sceneWith({ startMs: 300 }))).toBeUndefined();
    expect(adviceOf(sceneWith({ data: { url: 'https://elsewhere.test/count.json' } }))).toBeUndefined();
    expect(adviceOf(sceneWith({ data: { discovery: { by: 'other' } } }))).toBeUndefined();
  });

  it('is refused where the next answer would be another, or come twice', () => {
    expect(refused({})).toBeNull();
    const own = [['X-Requested-With', 'XMLHttpRequest']] as [string, string][];
    expect(refused({ data: { requestHeaders: [...own, ['Accept', 'application/json']] } })).toBe(
      'the script that asks sends headers of its own (x-requested-with), and a tag cannot: it may be answered otherwise',
    );
    const now = Date.parse('2026-11-03T10:00:00.000Z') + 1_200;
    expect(refused({ data: { url: `${TIDES}?_=${now}` } })).toMatch(/^its address is another at each visit/);
    expect(refused({ seenOnce: [TIDES] })).toBe('it was asked for in one load of the capture only');
    expect(refused({ data: { status: 404 } })).toBe('it was answered with 404 when the page was captured');
    const link = '<head><link rel="preload" as="fetch" href="/api/tides.json" crossorigin></head>';
    expect(refused({ html: `<!DOCTYPE html>${link}<script src="board.js"></script>` })).toMatch(/line 1/);
    // A form of data that is sent with the request is none that a tag asks for.
    expect(sceneWith({ data: { method: 'POST' } }).data).toEqual([]);
  });

  it('is refused where a script of the page asks for something in a way of its own', () => {
    for (const board of [
      `fetch("/api/tides.json", {\n  credentials: "include" });`,
      'var x = new XMLHttpRequest(); x.open("GET", "/api/tides.json"); x.withCredentials = true; x.send();',
      'fetch("/api/tides.json", { mode: "same-origin" });',
    ])
      expect(refused({ board }), board).toMatch(
        /^a script asks for something with credentials or in a mode of its own, and a tag would have to ask alike: .*board\.js/,
      );
    const inline = '<script>fetch("/x", { credentials: "omit" })</script>';
    expect(refused({ html: `<!DOCTYPE html>\n${inline}<script src="board.js"></script>` })).toMatch(/line 2/);
    for (const board of [`document.cookie = "seen=1"; ${BOARD}`, `cookieStore.set("seen", "1"); ${BOARD}`])
      expect(refused({ board }), board).toMatch(/^a script sets a cookie, which goes with the request/);
    expect(refused({ board: `if (document.cookie == "") {} ${BOARD}` })).toBeNull();
    // A library that can do so is not one that does.
    expect(refused({ board: 'var cors = "withCredentials" in new XMLHttpRequest();' })).toBeNull();
  });
});
