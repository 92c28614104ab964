import { readFileSync } from 'node:fs';
import { setTimeout as sleep } from 'node:timers/promises';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { findConditions } from '../../src/core/measure/conditions.ts';
import { cumulativeShift } from '../../src/core/measure/layout-shift.ts';
import { CapturedPage } from '../../src/core/page/captured-page.ts';
import { readPageAssets } from '../../src/core/page/page-assets.ts';
import { applyPlan } from '../../src/core/treat/apply.ts';
import type { PlanRule } from '../../src/core/treat/plan.ts';
import { sceneOf } from '../../src/core/treat/scene.ts';
import { Observer } from '../../src/engine/capture/observe.ts';
import { launchChromium, type LaunchedBrowser } from '../../src/engine/chromium/launch.ts';
import { goTo, LOAD_LIMITS, openVisit } from '../../src/engine/chromium/visit.ts';
import { madeCapture, type MadeFile } from './made-capture.ts';
import { serve, type TestServer } from './odd-servers.ts';

const PHONE = findConditions('everyday-phone')!;
const SENTENCE =
  'The ferry to the outer islands leaves from the west quay at seven in the morning, and at noon where the tide allows it. ';
const FONT = readFileSync('node_modules/@fontsource/bitter/files/bitter-latin-400-normal.woff2');
const STYLE = '@font-face{font-family:Wharf;src:url(/w.woff2)}p{margin:1em 0;font-family:Wharf,sans-serif}';
const LINKED = '<link rel="stylesheet" href="/s.css">';

/** A page whose text waits for a font. @param style the link of its sheet, or a style element */
function filesOf(style: string): Record<string, MadeFile> {
  const text = `<p>${SENTENCE.repeat(4)}</p>`.repeat(12);
  return {
    'https://quay.test/': {
      body: `<!DOCTYPE html><meta name="viewport" content="width=device-width">${style}${text}`,
      type: 'text/html',
      kind: 'document',
    },
    'https://quay.test/s.css': { body: STYLE, type: 'text/css', kind: 'stylesheet' },
    'https://quay.test/w.woff2': { body: FONT, type: 'font/woff2', kind: 'font' },
  };
}

let chromium: LaunchedBrowser;
beforeAll(async () => {
  chromium = await launchChromium();
});
afterAll(() => chromium.close());

/** How far the page moves as its font comes, late, and how high it is in the end. */
async function asTreated(treatment: string, style: string): Promise<{ shift: number; height: number }> {
  const authored = filesOf(style);
  const { capture, bodies } = madeCapture(authored);
  const scene = sceneOf(readPageAssets(new CapturedPage(capture, bodies), []), null);
  const rule: PlanRule = {
    id: 'r1',
    on: true,
    kind: 'font',
    match: { url: 'https://quay.test/w.woff2' },
    scope: 'page',
    treatment,
    reason: '',
    risk: 'low',
  };
  const { html, files, notApplied } = applyPlan(scene, {
    wistrelPlan: 1,
    page: capture.url,
    rules: [rule],
  });
  expect(notApplied).toEqual([]);
  const server: TestServer = await serve((request, response) => {
    const url = `https://quay.test${request.url}`;
    const text = request.url === '/' ? html : files.find((one) => one.url === url)?.content;
    const isFont = request.url!.endsWith('.woff2');
    response.writeHead(200, { 'content-type': authored[url]?.type ?? 'text/plain' });
    void sleep(isFont ? 700 : 0).then(() => response.end(text ?? authored[url]?.body ?? ''));
  });
  const visit = await openVisit(chromium.browser, PHONE, { clock: null, state: null });
  try {
    const observer = await Observer.start(visit.session);
    await goTo(visit, `${server.url}`, { ...LOAD_LIMITS, quietMs: 1_000 });
    const { shifts } = await observer.finish(visit);
    const height = (await visit.page.evaluate('document.documentElement.scrollHeight')) as number;
    return { shift: cumulativeShift(shifts), height };
  } finally {
    await visit.close();
    await server.close();
  }
}

it.each([
  ['a sheet', LINKED],
  ['the page', `<style>${STYLE}</style>`],
])(
  'moves nothing, or next to nothing, as a font comes that %s declares, where another font alone moves much',
  async (_, style) => {
    const swapped = await asTreated('swap', style);
    const fitted = await asTreated('swap-fitted', style);
    expect(swapped.shift).toBeGreaterThan(0.02);
    expect(fitted.shift).toBeLessThan(swapped.shift / 4);
    // What is shown once it has come is the same.
    expect(fitted.height).toBeGreaterThan(PHONE.viewport.height);
    expect(fitted.height).toBe(swapped.height);
  },
);
