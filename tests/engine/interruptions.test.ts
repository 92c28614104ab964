import { afterAll, beforeAll, expect, it } from 'vitest';
import { findConditions } from '../../src/core/measure/conditions.ts';
import { capturePage } from '../../src/engine/capture/capture-page.ts';
import { LOAD_LIMITS } from '../../src/engine/chromium/visit.ts';
import { generateFold } from '../../src/engine/fold/generate-fold.ts';
import { measureCapture } from '../../src/engine/lab/measure-capture.ts';
import { ONE_RUN, visitorCapture } from './defaults.ts';
import { serve, type TestServer } from './odd-servers.ts';

const PAGES: Record<string, string> = {
  '/talks': `<!DOCTYPE html><link rel="stylesheet" href="a.css"><p>Ferry</p><script>
alert('Gale warning'); const yes = confirm('Sail?'); const text = prompt('Name?'); print(); debugger;
document.body.append('answered ' + yes + ' ' + text);
const win = window.open('/other');
const file = document.createElement('a'); file.href = '/file'; file.download = 'x.bin'; document.body.append(file); file.click();
Notification.requestPermission();
addEventListener('beforeunload', (event) => { event.preventDefault(); event.returnValue = 'x'; });
</script><img src="/secret" alt="">`,
  '/other': '<p>Another</p>',
  '/again': '<!DOCTYPE html><meta http-equiv="refresh" content="0"><p>First load</p>',
  '/once':
    '<!DOCTYPE html><script>if (!/seen=1/.test(document.cookie)) { document.cookie = "seen=1"; location.reload(); }</script><p>Shown</p>',
  '/frame': '<!DOCTYPE html><p>Ferry</p><iframe src="/never"></iframe>',
  '/polls':
    '<!DOCTYPE html><p>Ferry</p><script>setInterval(() => fetch("tide?at=" + Date.now()), 700)</script>',
  '/busy': '<!DOCTYPE html><p>Ferry</p><script>setTimeout(() => { for (;;); }, 400)</script>',
};

let server: TestServer;
beforeAll(async () => {
  server = await serve((request, response) => {
    const url = request.url ?? '';
    const page = PAGES[url];
    if (page) response.writeHead(200, { 'content-type': 'text/html' }).end(page);
    else if (url === '/a.css') response.writeHead(200, { 'content-type': 'text/css' }).end('p{color:#246}');
    else if (url === '/file')
      response.writeHead(200, { 'content-disposition': 'attachment; filename=x.bin' }).end('x');
    else if (url === '/secret' || url === '/staff')
      response
        .writeHead(401, { 'www-authenticate': 'Basic realm="Staff"', 'content-type': 'text/html' })
        .end('No');
    else if (url.startsWith('/tide')) response.writeHead(200).end('{}');
    else if (url !== '/never') response.writeHead(404).end();
  });
});
afterAll(() => server.close());

const LIMITS = {
  ...LOAD_LIMITS,
  loadMs: 15_000,
  stuckMs: 1_500,
  silentMs: 2_500,
  quietMs: 400,
  afterLoadMs: 4_000,
};
const conditions = findConditions('home-laptop')!;
const capture = (path: string) =>
  capturePage(visitorCapture(new URL(path, server.url).href, { limits: LIMITS }));
const measured = async (taken: Awaited<ReturnType<typeof capture>>) =>
  (await measureCapture({ ...taken, conditions, ...ONE_RUN, limits: LIMITS })).runs[0]!;

it.concurrent(
  'closes dialogs, windows and downloads, refuses permissions and passwords, and goes on in every load',
  async () => {
    const taken = await capture('/talks');
    const said = taken.capture.notes.join('\n');
    for (const words of [
      'opens a message, “Gale warning”: it was closed',
      'opens a question, “Sail?”: it was closed',
      'opens a question for text, “Name?”: it was closed',
      'opens another window',
      'begins a download',
      '/secret asks for a name and a password: it was refused them',
    ])
      expect(said).toContain(words);
    expect(said).not.toMatch(/protocol|timed? ?out/i);
    const run = await measured(taken);
    expect(run.metrics.firstPaintMs).toBeGreaterThan(0);
    expect(run.requests.find((one) => one.url.endsWith('/secret'))?.status).toBe(401);
    const fold = await generateFold(taken);
    expect(fold.remarks).toEqual([]);
    expect(fold).toMatchObject({ proved: true, css: 'p{color:#246}' });
  },
);

it.concurrent('says of a page that asks for a password how to give it', async () => {
  await expect(capture('/staff')).rejects.toThrow(/asks for a name and a password.*Authorization header/);
});

it.concurrent(
  'shows the first load of a page that loads itself for ever, and lets one go round that does so once',
  async () => {
    const again = await capture('/again');
    expect(again.capture.notes.join()).toContain('loads itself again and again');
    const run = await measured(again);
    expect(run.metrics.firstContentfulPaintMs).toBeGreaterThan(0);
    const once = await capture('/once');
    expect(once.capture.notes.join()).not.toContain('again and again');
    expect(once.capture.exchanges.filter((one) => one.kind === 'document').map((one) => one.status)).toEqual([
      200, 200,
    ]);
  },
);

it.concurrent('gives up a frame that never answers, and names it', async () => {
  const taken = await capture('/frame');
  expect(taken.capture.notes.join()).toContain('/never was never answered: it was given up after 1.5 s');
  const run = await measured(taken);
  expect(run.metrics.firstPaintMs).toBeGreaterThan(0);
  expect(run.metrics.loadMs).not.toBeNull();
});

it('does not wait for a page that polls to end', async () => {
  const limits = { ...LIMITS, quietMs: 1_000, afterLoadMs: 14_000 };
  const started = performance.now();
  await capturePage(visitorCapture(new URL('/polls', server.url).href, { limits }));
  // Three loads, each of them waiting for three polls at most.
  expect(performance.now() - started).toBeLessThan(20_000);
});

it('does not wait for a page whose script never ends, and says so', async () => {
  const started = performance.now();
  await expect(capture('/busy')).rejects.toThrow(/its main thread is busy without end.*never ends/);
  expect(performance.now() - started).toBeLessThan(15_000);
});
