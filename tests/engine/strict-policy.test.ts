import { afterAll, beforeAll, expect, it } from 'vitest';
import { readPageAssets } from '../../src/core/page/page-assets.ts';
import { madePage } from './made-capture.ts';
import { applyPlan } from '../../src/core/treat/apply.ts';
import { sceneOf } from '../../src/core/treat/scene.ts';
import { BUILT_IN_CONDITIONS } from '../../src/core/measure/conditions.ts';
import { launchChromium } from '../../src/engine/chromium/launch.ts';
import { goTo, LOAD_LIMITS, openVisit, type Visit } from '../../src/engine/chromium/visit.ts';
import { serve, type TestServer } from './odd-servers.ts';

const POLICY = "default-src 'self'; style-src 'self' 'nonce-q7'; script-src 'nonce-q7' 'strict-dynamic'";
const HTML = `<!DOCTYPE html><html><head><meta charset="utf-8"><link rel="stylesheet" href="a.css"></head>
<body><h1>Sailings</h1><p>Late</p><script nonce="q7" src="count.js"></script></body></html>`;
const FILES: Record<string, [type: string, body: string]> = {
  '/a.css': ['text/css', 'h1 { color: rgb(1, 2, 3) } p { color: rgb(4, 5, 6) }'],
  '/count.js': ['text/javascript', 'document.title = "counted"'],
};

let chromium: Awaited<ReturnType<typeof launchChromium>>;
let server: TestServer;
let treated = '';
/** The sheet is held back until a test has looked at the page without it. */
let sheetMayGo: () => void = () => undefined;
let sheetGoes: Promise<void>;

beforeAll(async () => {
  chromium = await launchChromium();
  server = await serve((request, response) => {
    const file = FILES[request.url ?? ''];
    const held = request.url === '/a.css' ? sheetGoes : Promise.resolve();
    void held.then(() => {
      response.writeHead(200, {
        'content-type': file?.[0] ?? 'text/html; charset=utf-8',
        'content-security-policy': POLICY,
      });
      response.end(file?.[1] ?? treated);
    });
  });
});
afterAll(async () => {
  await chromium.close();
  await server.close();
});

/** The page as a plan treats it: its sheet late behind fold CSS, its counting script delayed. */
function treat(policy: string): string {
  const at = (name: string) => new URL(name, server.url).href;
  const page = readPageAssets(
    madePage(HTML, Object.fromEntries(Object.entries(FILES).map(([path, [, text]]) => [path, text])), {
      url: server.url,
      policies: [policy],
    }),
    [],
  );
  const rule = { on: true, scope: 'page', reason: '', risk: 'low' } as const;
  const rules = [
    {
      ...rule,
      id: 'r1',
      kind: 'stylesheet',
      match: { url: at('a.css') },
      treatment: 'fold-css-late',
    } as const,
    { ...rule, id: 'r2', kind: 'script', match: { url: at('count.js') }, treatment: 'delay' } as const,
  ];
  const fold = [{ url: at('a.css'), css: 'h1{color:rgb(1,2,3)}', keptRules: 1, rules: 2, foldBytes: 22 }];
  const { html, notApplied } = applyPlan(
    { ...sceneOf(page, null), fold, foldUsable: true },
    { wistrelPlan: 1, page: server.url, rules },
  );
  expect(notApplied).toEqual([]);
  return new TextDecoder().decode(html);
}

const inPage = (visit: Visit, expression: string) => visit.page.evaluate(expression);
const colour = (tag: string) => `getComputedStyle(document.querySelector('${tag}')).color`;

/** Opens the page while its sheet is held back. */
async function looked(): Promise<{ visit: Visit; loaded: Promise<unknown> }> {
  sheetGoes = new Promise((resolve) => (sheetMayGo = resolve));
  const visit = await openVisit(chromium.browser, BUILT_IN_CONDITIONS[0]!, { clock: null, state: null });
  const loaded = goTo(visit, server.url, { ...LOAD_LIMITS, quietMs: 300 });
  await visit.page.waitForSelector('p');
  expect(await inPage(visit, colour('p'))).toBe('rgb(0, 0, 0)');
  return { visit, loaded };
}

it('treats a page that lives by a nonce so that its fold CSS, its late sheet and its delayed script all work', async () => {
  treated = treat(POLICY);
  const { visit, loaded } = await looked();
  expect(await inPage(visit, colour('h1'))).toBe('rgb(1, 2, 3)');
  sheetMayGo();
  await visit.page.waitForFunction(`${colour('p')} === 'rgb(4, 5, 6)'`);
  expect(await inPage(visit, 'document.title')).toBe('');
  await visit.page.keyboard.press('Tab');
  await visit.page.waitForFunction("document.title === 'counted'");
  await loaded;
});

it('would not, were it treated as a page without a policy: the browser refuses what lacks the nonce', async () => {
  treated = treat('');
  const { visit, loaded } = await looked();
  expect(await inPage(visit, colour('h1'))).toBe('rgb(0, 0, 0)');
  sheetMayGo();
  await visit.page.waitForFunction("document.querySelector('link').sheet !== null");
  expect(await inPage(visit, colour('p'))).toBe('rgb(0, 0, 0)');
  await loaded;
});
