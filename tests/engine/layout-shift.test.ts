import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, expect, it } from 'vitest';
import sharp from 'sharp';
import { findConditions, type Conditions } from '../../src/core/measure/conditions.ts';
import { cumulativeShift } from '../../src/core/measure/layout-shift.ts';
import { Observer } from '../../src/engine/capture/observe.ts';
import { launchChromium, type LaunchedBrowser } from '../../src/engine/chromium/launch.ts';
import { goTo, LOAD_LIMITS, openVisit } from '../../src/engine/chromium/visit.ts';
import { measureCapture } from '../../src/engine/lab/measure-capture.ts';
import { ONE_RUN } from './defaults.ts';
import { madeCapture, type MadeFile } from './made-capture.ts';
import { serve, type TestServer } from './odd-servers.ts';

/** An emulated phone on a line so fast that all of it happens in the first half second. */
const PHONE: Conditions = {
  ...findConditions('slow-phone')!,
  cpuSlowdown: 1,
  roundTripMs: 0,
  downKbps: 100_000,
  upKbps: 100_000,
};
/** After first paint, and well before the half second is over. */
const LATE_MS = 150;
const HEIGHT = PHONE.viewport.height;
const share = (px: number) => px / HEIGHT;

const karla = readFileSync('node_modules/@fontsource/karla/files/karla-latin-400-normal.woff2');
const HEAD =
  '<!DOCTYPE html><meta name="viewport" content="width=device-width"><style>*{margin:0}img{display:block}div{background:#cde}</style>';

/** Pages that move, with the score by hand: share of the viewport that moved times how far (of its height). */
const PAGES: { name: string; path: string; html: string; late?: MadeFile; score: number }[] = [
  {
    name: 'an unsized picture that comes late pushes 300 px of page down by 200',
    path: 'picture',
    html: `${HEAD}<img src="late.png"><div style="height:300px"></div>`,
    score: share(500) * share(200),
  },
  {
    name: 'a font with a higher line pushes 200 px of page down by 100',
    path: 'font',
    html: `${HEAD}<style>
@font-face{font-family:Now;src:url(data:font/woff2;base64,${karla.toString('base64')});ascent-override:100%;descent-override:0%;line-gap-override:0%}
@font-face{font-family:Late;src:url(late.woff2);font-display:swap;ascent-override:200%;descent-override:0%;line-gap-override:0%}
p{font:100px Now;height:100px}</style><p></p><div style="height:200px"></div><script>
// The line is as high as its first font: that is there before the later one is asked for.
document.fonts.load('1em Now').then(() => { const p = document.querySelector('p');
p.textContent = 'A'; p.style.cssText = 'height:auto;font-family:Late,Now'; })</script>`,
    score: share(300) * share(100),
  },
  {
    name: 'a bar put in above the text pushes 500 px down by 60',
    path: 'bar',
    html: `${HEAD}<div style="height:500px">Text</div><script>setTimeout(() => {
const bar = document.createElement('p'); bar.style.height = '60px'; document.body.prepend(bar); }, ${LATE_MS})</script>`,
    score: share(560) * share(60),
  },
];

/** A page that does not move by itself. */
const STILL = `${HEAD}<div style="height:300px"></div>`;

let files: Record<string, MadeFile>;
let chromium: LaunchedBrowser;
let server: TestServer;

beforeAll(async () => {
  const picture = await sharp({ create: { width: 390, height: 200, channels: 3, background: '#246' } })
    .png()
    .toBuffer();
  files = {
    'late.png': { body: picture, type: 'image/png', kind: 'image', serverMs: LATE_MS },
    'late.woff2': { body: karla, type: 'font/woff2', kind: 'font', serverMs: LATE_MS },
  };
  server = await serve((request, response) => {
    const name = (request.url ?? '').slice(1);
    const page = PAGES.find((one) => one.path === name);
    const file = files[name];
    response.writeHead(200, { 'content-type': file?.type ?? 'text/html' });
    setTimeout(() => response.end(file?.body ?? page?.html ?? STILL), file ? LATE_MS : 0);
  });
  chromium = await launchChromium();
});
afterAll(async () => {
  await chromium.close();
  await server.close();
});

it.each(PAGES)('in a run: $name', async ({ path, html, score }) => {
  const taken = madeCapture({
    [`https://quay.test/${path}`]: { body: html, type: 'text/html', kind: 'document' },
    ...Object.fromEntries(Object.entries(files).map(([name, file]) => [`https://quay.test/${name}`, file])),
  });
  const { runs } = await measureCapture({ ...taken, state: null, conditions: PHONE, ...ONE_RUN });
  expect(runs[0]!.metrics.cumulativeLayoutShift).toBeCloseTo(score, 2);
});

/** Shifts of the first half second are the ones that Chromium itself leaves out of what it reports: later ones would show nothing. */
const EARLY_MS = 500;

/**
 * Asserts of a visit whose page moved early.
 * @param look gives when it moved, in ms, after having asserted what has to hold whenever it did
 */
async function early(skip: (why: string) => void, look: () => Promise<number>) {
  for (let tries = 0; tries < 3; tries++) if ((await look()) < EARLY_MS) return;
  skip('The machine is too busy for a page to move in its first half second.');
}

it.for(PAGES)('in the observations of a capture: $name', ({ path, score }, { skip }) =>
  early(skip, async () => {
    const visit = await openVisit(chromium.browser, PHONE, { clock: null, state: null });
    try {
      const observer = await Observer.start(visit.session);
      await goTo(visit, server.url + path, { ...LOAD_LIMITS, quietMs: 600 });
      const { shifts } = await observer.finish(visit);
      expect(cumulativeShift(shifts)).toBeCloseTo(score, 2);
      return shifts[0]!.atMs;
    } finally {
      await visit.close();
    }
  }),
);

const FRAMES = (count: number) =>
  `(async () => { for (let i = 0; i < ${count}; i++) await new Promise(requestAnimationFrame); })()`;

it('when late stylesheets arrive right after the navigation', ({ skip }) =>
  early(skip, async () => {
    const visit = await openVisit(chromium.browser, PHONE, { clock: null, state: null });
    try {
      await visit.page.goto(`${server.url}still`, { waitUntil: 'domcontentloaded' });
      await visit.page.evaluate(FRAMES(2));
      await visit.inPage.call('shiftsSince', true);
      await visit.page.evaluate("document.querySelector('div').style.marginTop = '40px'");
      await visit.page.evaluate(FRAMES(3));
      expect(await visit.inPage.call('shiftsSince', false)).toBeCloseTo(share(340) * share(40), 2);
      return (await visit.page.evaluate('performance.now()')) as number;
    } finally {
      await visit.close();
    }
  }));
