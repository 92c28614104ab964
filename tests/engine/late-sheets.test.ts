import { afterAll, beforeAll, expect, it } from 'vitest';
import { BUILT_IN_CONDITIONS } from '../../src/core/measure/conditions.ts';
import { readPageAssets } from '../../src/core/page/page-assets.ts';
import { applyPlan } from '../../src/core/treat/apply.ts';
import { sceneOf } from '../../src/core/treat/scene.ts';
import { launchChromium } from '../../src/engine/chromium/launch.ts';
import { goTo, LOAD_LIMITS, openVisit } from '../../src/engine/chromium/visit.ts';
import { madePage } from './made-capture.ts';
import { serve, type TestServer } from './odd-servers.ts';

const HTML = `<!DOCTYPE html><html><head><meta charset="utf-8"><link rel="stylesheet" href="a.css"><style>p{height:9px}</style>
<script nonce="q7" src="measure.js" defer></script></head><body><h1>Sailings</h1><p id="p">Late</p></body></html>`;
const FILES: Record<string, [type: string, body: string]> = {
  '/a.css': ['text/css', 'h1 { color: rgb(1, 2, 3) } p { width: 123px; height: 5px }'],
  '/measure.js': [
    'text/javascript',
    'document.title = `${p.offsetWidth} ${p.offsetHeight}`; addEventListener("DOMContentLoaded", () => (document.title += " ready"))',
  ],
};

let chromium: Awaited<ReturnType<typeof launchChromium>>;
let server: TestServer;
let treated = '';
let policy: string | null = null;
let asked = 0;
let sheetMayGo: () => void = () => undefined;
let sheetGoes: Promise<void> = Promise.resolve();

beforeAll(async () => {
  chromium = await launchChromium();
  server = await serve((request, response) => {
    const file = FILES[request.url ?? ''];
    if (request.url === '/a.css') asked++;
    void (request.url === '/a.css' ? sheetGoes : Promise.resolve()).then(() => {
      response.writeHead(200, {
        'content-type': file?.[0] ?? 'text/html; charset=utf-8',
        ...(policy ? { 'content-security-policy': policy } : {}),
      });
      response.end(file?.[1] ?? treated);
    });
  });
});
afterAll(async () => {
  await chromium.close();
  await server.close();
});

it.each([
  ['where attributes may let a late sheet apply', null],
  ['where a policy refuses that', "default-src 'self'; style-src 'self' 'nonce-q7'; script-src 'nonce-q7'"],
])('paints without its late sheet, but scripts that measure wait for it, %s', async (_where, ofPage) => {
  policy = ofPage;
  asked = 0;
  const files = Object.fromEntries(Object.entries(FILES).map(([path, [, text]]) => [path, text]));
  const html = ofPage ? HTML.replace('<style>', '<style nonce="q7">') : HTML;
  const made = madePage(html, files, { url: server.url, ...(ofPage ? { policies: [ofPage] } : {}) });
  const url = new URL('a.css', server.url).href;
  const { html: bytes, notApplied } = applyPlan(
    {
      ...sceneOf(readPageAssets(made, []), null),
      fold: [{ url, css: 'h1{color:rgb(1,2,3)}', keptRules: 1, rules: 2, foldBytes: 22 }],
      foldUsable: true,
    },
    {
      wistrelPlan: 1,
      page: server.url,
      rules: [
        {
          id: 'r1',
          on: true,
          scope: 'page',
          reason: '',
          risk: 'low',
          kind: 'stylesheet',
          match: { url },
          treatment: 'fold-css-held',
        },
      ],
    },
  );
  expect(notApplied).toEqual([]);
  treated = new TextDecoder().decode(bytes);
  sheetGoes = new Promise((resolve) => (sheetMayGo = resolve));
  const visit = await openVisit(chromium.browser, BUILT_IN_CONDITIONS[0]!, { clock: null, state: null });
  try {
    const loaded = goTo(visit, server.url, LOAD_LIMITS);
    const evaluate = (expression: string) => visit.page.evaluate(expression);
    await expect
      .poll(() => evaluate(`performance.getEntriesByName('first-contentful-paint').length`), {
        timeout: 10_000,
      })
      .toBe(1);
    expect(
      await evaluate(
        `[document.title, document.querySelector('h1') && getComputedStyle(document.querySelector('h1')).color]`,
      ),
    ).toEqual(['', 'rgb(1, 2, 3)']);
    sheetMayGo();
    await loaded;
    // Its own rules come after the sheet's, as authored: what made the scripts wait is gone again.
    await expect.poll(() => evaluate('document.title'), { timeout: 10_000 }).toBe('123 9 ready');
    await expect.poll(() => evaluate(`document.querySelectorAll('link[rel=stylesheet]').length`)).toBe(1);
    expect(await evaluate(`[document.querySelector('link[rel=stylesheet]').media, p.offsetHeight]`)).toEqual([
      'all',
      9,
    ]);
    expect(asked).toBe(1);
    expect(await evaluate(`document.querySelector('wistrel-hold') === null`)).toBe(true);
    expect(await evaluate('document.body.lastElementChild.tagName')).toBe('P');
  } finally {
    sheetMayGo();
    await visit.close();
  }
});
