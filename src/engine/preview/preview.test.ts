import { createServer, get, type IncomingMessage } from 'node:http';
import type { AddressInfo } from 'node:net';
import { setTimeout as sleep } from 'node:timers/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { madeCapture } from '../../../tests/engine/made-capture.ts';
import { launchChromium, type LaunchedBrowser } from '../chromium/launch.ts';
import { Preview } from './preview-client.ts';
import type { PreviewLoad } from './preview-server.ts';

/** Somebody else's server on this machine, which no captured page may reach. */
const reached: string[] = [];
const elsewhere = createServer((request, response) => {
  reached.push(request.url!);
  response.writeHead(200, { 'access-control-allow-origin': '*' }).end('Reached');
});
let outside: string;
let preview: Preview;
let chromium: LaunchedBrowser;

const page = () => `<!DOCTYPE html><title>Quay</title><script src="https://cdn.test/menu.js"></script>
<button>Menu</button><p id=menu hidden>Booking</p><form action="${outside}/form"><input name=a></form>
<a id=top href="${outside}/top" target=_top>Away</a><img src="${outside}/picture.png" alt="">`;
const MENU = `addEventListener('DOMContentLoaded', () => {
  document.querySelector('button').onclick = () => { document.querySelector('#menu').hidden = false };
  localStorage.setItem('kept', 'yes');
});`;

function load(over: Partial<PreviewLoad> = {}): PreviewLoad {
  const headers: [string, string][] = [
    ['Set-Cookie', 'session=1'],
    ['Clear-Site-Data', '"*"'],
    ['Service-Worker-Allowed', '/'],
    ['Content-Security-Policy', "default-src 'none'"],
    ['Access-Control-Allow-Origin', 'https://www.test'],
  ];
  const { capture, bodies } = madeCapture({
    'https://www.test/a?b=1': { body: page(), type: 'text/html', kind: 'document', headers },
    'https://cdn.test/menu.js': { body: MENU, type: 'text/javascript', kind: 'script' },
  });
  const words = { title: 'Quay & Pier: treated', about: 'Captured.' };
  return { ...capture, bodies, overrides: [], words, recordedFor: null, ...over };
}

/** What is answered at an address, asked for under a name. */
function asked(
  url: string,
  headers: Record<string, string> = {},
): Promise<{ answer: IncomingMessage; text: string }> {
  const { port, pathname, search, host } = new URL(url);
  return new Promise((resolve, reject) => {
    get({ host: '127.0.0.1', port, path: pathname + search, headers: { host, ...headers } }, (answer) => {
      let text = '';
      answer.on('data', (chunk: Buffer) => (text += chunk.toString()));
      answer.on('end', () => resolve({ answer, text }));
    }).on('error', reject);
  });
}

beforeAll(async () => {
  await new Promise<void>((resolve) => elsewhere.listen(0, '127.0.0.1', resolve));
  outside = `http://127.0.0.1:${(elsewhere.address() as AddressInfo).port}`;
  preview = await Preview.open(load());
  chromium = await launchChromium();
});
afterAll(async () => {
  await chromium.close();
  await preview.close();
  elsewhere.close();
});

const framed = async () => /<iframe [^>]*src="([^"]+)"/.exec((await asked(preview.url)).text)![1]!;

describe('a page that is served for looking at by hand', () => {
  it('stands under names that nobody can guess, in a frame of a document of ours', async () => {
    const { answer, text } = await asked(preview.url);
    expect(new URL(preview.url).hostname).toMatch(/^page\.[0-9a-f]{24}\.localhost$/);
    expect(text).toContain('Quay &amp; Pier: treated');
    expect(answer.headers['content-security-policy']).toMatch(
      /frame-src http:\/\/\*\.[0-9a-f]{24}\.localhost:\d+;/,
    );
    const captured = await asked(await framed());
    expect(captured.text).toContain('Booking');
    expect(captured.text).not.toContain('https://cdn.test');
    const other = await Preview.open(load());
    expect(new URL(other.url).hostname).not.toBe(new URL(preview.url).hostname);
    await other.close();
  });

  it('answers to no other name', async () => {
    const at = await framed();
    for (const host of [
      '127.0.0.1',
      'localhost',
      'www.test',
      `x${new URL(at).host}`,
      new URL(preview.url).hostname,
    ])
      expect((await asked(at, { host })).answer.statusCode, host).toBe(421);
  });

  it('passes what says what a body is, and nothing that concerns others', async () => {
    const at = await framed();
    const { headers } = (await asked(at)).answer;
    expect(headers).toMatchObject({
      'content-type': 'text/html',
      'access-control-allow-origin': new URL(at).origin,
      'cache-control': 'no-store',
    });
    for (const name of ['set-cookie', 'clear-site-data', 'service-worker-allowed'])
      expect(headers[name], name).toBeUndefined();
    expect(headers['content-security-policy']).toMatch(/^sandbox /);
    expect(headers['content-security-policy']).not.toContain("'none'; default");
    expect((await asked(at, { 'service-worker': 'script' })).answer.statusCode).toBe(404);
    expect((await asked(new URL('/unknown', at).href)).text).toContain('not in the capture');
  });

  it('works, with storage of its own, and reaches nothing else in whatever way it tries', async () => {
    const tab = await chromium.browser.newPage();
    await tab.goto(preview.url);
    const frame = tab.frames()[1]!;
    await frame.waitForSelector('button');
    await (await frame.$('button'))!.click();
    expect(await frame.$eval('#menu', (menu) => (menu as HTMLElement).hidden)).toBe(false);
    expect(await frame.evaluate(() => localStorage.getItem('kept'))).toBe('yes');
    await frame.evaluate((away) => {
      const quietly = (act: () => unknown) => {
        try {
          void Promise.resolve(act()).catch(() => undefined);
        } catch {
          // Refused, as it should be.
        }
      };
      quietly(() => fetch(`${away}/fetch`));
      quietly(() => navigator.sendBeacon(`${away}/beacon`, 'x'));
      quietly(() => new WebSocket(`${away.replace('http', 'ws')}/socket`));
      quietly(() => window.open(`${away}/window`));
      quietly(() => top!.location.assign(`${away}/top`));
      quietly(() => document.querySelector('form')!.submit());
      quietly(() => (document.querySelector('#top') as HTMLElement).click());
      quietly(() =>
        document.body.append(Object.assign(document.createElement('iframe'), { src: `${away}/frame` })),
      );
      quietly(() => navigator.serviceWorker.register('/menu.js'));
    }, outside);
    await sleep(700);
    await frame.evaluate((away) => location.replace(`${away}/location`), outside).catch(() => undefined);
    await sleep(1_000);
    expect(reached).toEqual([]);
    expect(new URL(tab.url()).origin).toBe(new URL(preview.url).origin);
    expect((await chromium.browser.pages()).length).toBe(2);
    await tab.close();
  });

  it('writes down what is done on it, for the window that it was opened from and no other', async () => {
    const application = createServer((_request, response) =>
      response
        .writeHead(200, { 'content-type': 'text/html' })
        .end(
          '<!DOCTYPE html><title>Checks</title><script>heard = []; addEventListener("message", (e) => heard.push([e.origin, e.data]));</script>',
        ),
    );
    await new Promise<void>((resolve) => application.listen(0, '127.0.0.1', resolve));
    const origin = `http://127.0.0.1:${(application.address() as AddressInfo).port}`;
    const recorded = await Preview.open(load({ recordedFor: origin }));
    const tab = await chromium.browser.newPage();
    await tab.goto(origin);
    const [shell] = await Promise.all([
      chromium.browser.waitForTarget((one) => one.url() === recorded.url).then((target) => target.page()),
      tab.evaluate((url) => void window.open(url, '_blank'), recorded.url),
    ]);
    const line = () => shell!.$eval('#line', (one) => one.textContent);
    await shell!.waitForSelector('#see:not([disabled])');
    const frame = shell!.frames()[1]!;
    await (await frame.$('button'))!.click();
    await (await frame.$('input'))!.type('Orrask');
    await (await shell!.$('#see'))!.click();
    // What leads away is noted, and not followed.
    await (await frame.$('#menu'))!.click();
    await expect.poll(line).toBe('press Menu, type Orrask into a, see Booking');
    // The page itself may say what it likes.
    await frame.evaluate(() => {
      parent.postMessage({ wistrel: { kind: 'step', text: 'press Away' } }, '*');
      const opener = top!.opener as Window;
      opener.postMessage({ wistrelCheck: 'press Away' }, '*');
      try {
        opener.location.href = 'about:blank#led-away';
      } catch {
        // Refused, as it should be.
      }
    });
    await expect.poll(line).toContain('press Away');
    await (await shell!.$('#back'))!.click();
    await (await shell!.$('#use'))!.click();
    const heard = () => tab.evaluate(() => (window as unknown as { heard: unknown[] }).heard);
    await expect
      .poll(heard)
      .toContainEqual([
        new URL(recorded.url).origin,
        { wistrelCheck: 'press Menu, type Orrask into a, see Booking' },
      ]);
    // It is told from what the page says by where it comes from.
    expect(await heard()).toContainEqual([
      new URL((await shell!.frames())[1]!.url()).origin,
      { wistrelCheck: 'press Away' },
    ]);
    expect(new URL(tab.url()).origin).toBe(origin);
    await Promise.all([shell!.close(), tab.close(), recorded.close()]);
    application.close();
  });

  it('ends when nobody has looked for some time, and not before', async () => {
    const short = await Preview.open(load(), 1_500);
    for (let looks = 0; looks < 4; looks++) {
      await sleep(500);
      expect((await asked(short.url)).answer.statusCode).toBe(200);
    }
    await expect.poll(() => short.isOpen, { timeout: 10_000 }).toBe(false);
  });
});
