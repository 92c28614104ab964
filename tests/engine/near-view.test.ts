import { afterAll, beforeAll, expect, it } from 'vitest';
import { BUILT_IN_CONDITIONS } from '../../src/core/measure/conditions.ts';
import { readPageAssets } from '../../src/core/page/page-assets.ts';
import { applyPlan } from '../../src/core/treat/apply.ts';
import type { PlanRule } from '../../src/core/treat/plan.ts';
import { sceneOf } from '../../src/core/treat/scene.ts';
import { launchChromium } from '../../src/engine/chromium/launch.ts';
import { goTo, LOAD_LIMITS, openVisit } from '../../src/engine/chromium/visit.ts';
import { madePage } from './made-capture.ts';
import { serve, type TestServer } from './odd-servers.ts';

const HTML = `<!DOCTYPE html><html><head><meta charset="utf-8"><title>Quay</title></head><body>
<p class="here">Tide</p><p id="notice" hidden>Notice</p><div style="height:9000px"></div>
<p id="map">Map</p><p class="chart">Chart</p><div style="height:9000px"></div><p id="end">End</p>
<script src="here.js"></script><script src="notice.js"></script>
<script src="map.js"></script><script src="chart.js"></script><script src="end.js"></script>
</body></html>`;
const says = (selector: string, text: string) =>
  `document.querySelector('${selector}').textContent = ${text};`;
const FILES: Record<string, string> = {
  '/here.js': says('.here', "'at once'"),
  '/notice.js': says('#notice', "'once loaded'"),
  // Both of a row: the one needs what the other defines, whichever of their elements comes near.
  '/map.js': `var depth = 7; ${says('#map', "'drawn'")}`,
  '/chart.js': says('.chart', '`depth ${depth}`'),
  '/end.js': says('#end', "'reached'"),
};

let chromium: Awaited<ReturnType<typeof launchChromium>>;
let server: TestServer;
let treated: Uint8Array;
const asked: string[] = [];

beforeAll(async () => {
  chromium = await launchChromium();
  server = await serve(({ url = '' }, response) => {
    asked.push(url);
    response.setHeader('content-type', url === '/' ? 'text/html' : 'text/javascript');
    response.end(url === '/' ? treated : (FILES[url] ?? ''));
  });
  const made = madePage(HTML, FILES, { url: server.url });
  const rules = Object.keys(FILES).map((path): PlanRule => ({
    id: path,
    on: true,
    scope: 'page',
    reason: '',
    risk: 'medium',
    kind: 'script',
    match: { url: new URL(path, server.url).href },
    treatment: 'near-view',
  }));
  const plan = { wistrelPlan: 1 as const, page: server.url, rules };
  const page = applyPlan(sceneOf(readPageAssets(made, []), null), plan);
  expect(page.notApplied).toEqual([]);
  treated = page.html;
});
afterAll(async () => {
  await chromium.close();
  await server.close();
});

it('runs a script when one of its elements comes near, and only then what is needed', async () => {
  const visit = await openVisit(chromium.browser, BUILT_IN_CONDITIONS[0]!, { clock: null, state: null });
  const text = (selector: string) =>
    visit.page.evaluate(`document.querySelector('${selector}').textContent`) as Promise<string>;
  const comesNear = (selector: string) =>
    visit.page.evaluate(
      `scrollTo(0, document.querySelector('${selector}').getBoundingClientRect().top + scrollY - innerHeight * 1.5)`,
    );
  try {
    await goTo(visit, server.url, LOAD_LIMITS);
    await expect.poll(() => text('.here'), { timeout: 5_000 }).toBe('at once');
    // Nobody can say when what is hidden is shown.
    await expect.poll(() => text('#notice'), { timeout: 5_000 }).toBe('once loaded');
    expect(asked.filter((path) => /map|chart|end/.test(path))).toEqual([]);
    // A screen and a half below: not yet in view, but near.
    await comesNear('#map');
    await expect.poll(() => text('.chart'), { timeout: 5_000 }).toBe('depth 7');
    expect(await text('#map')).toBe('drawn');
    expect(await text('#end')).toBe('End');
    await comesNear('#end');
    await expect.poll(() => text('#end'), { timeout: 5_000 }).toBe('reached');
    expect(await visit.page.evaluate(`document.querySelectorAll('[data-wistrel-near]').length`)).toBe(0);
  } finally {
    await visit.close();
  }
});
