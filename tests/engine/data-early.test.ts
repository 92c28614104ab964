import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { launchChromium, type LaunchedBrowser } from '../../src/engine/chromium/launch.ts';

/** What our tag asks for, and in which ways of asking scripts get that and nothing more: what legality is about. */
const TAG = '<link rel="preload" as="fetch" href="/tides.json" crossorigin>';

let chromium: LaunchedBrowser;
beforeAll(async () => {
  chromium = await launchChromium();
});
afterAll(() => chromium.close());

/** How often the tides are asked for by a page with our tag whose script asks so. */
async function timesAsked(script: string): Promise<number> {
  let times = 0;
  const server = createServer((request, response) => {
    if (request.url === '/tides.json') {
      times++;
      response.writeHead(200, { 'content-type': 'application/json', 'cache-control': 'no-store' }).end('{}');
    } else
      response
        .writeHead(200, { 'content-type': 'text/html' })
        .end(
          `<!DOCTYPE html><title>Quay</title>${TAG}<script>addEventListener("load", function () { ${script} });</script>`,
        );
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const tab = await chromium.browser.newPage();
  try {
    await tab.goto(`http://127.0.0.1:${(server.address() as AddressInfo).port}/`);
    await tab.waitForFunction('window.done === true');
  } finally {
    await tab.close();
    server.close();
  }
  return times;
}

const DONE = '.then(function () { window.done = true; });';
const xhr = (before: string) =>
  `var x = new XMLHttpRequest(); x.onload = function () { window.done = true; }; x.open("GET", "/tides.json"); ${before} x.send();`;

it('gives scripts what was asked for ahead where they ask as they do by themselves, and twice where not', async () => {
  expect(await timesAsked(`fetch("/tides.json")${DONE}`)).toBe(1);
  expect(await timesAsked(xhr(''))).toBe(1);
  expect(await timesAsked(xhr('x.setRequestHeader("Accept", "application/json");'))).toBe(1);
  // What was answered to a request without its header is handed over all the same: a plan is refused for that.
  expect(await timesAsked(xhr('x.setRequestHeader("X-Requested-With", "XMLHttpRequest");'))).toBe(1);
  // And for these.
  expect(await timesAsked(`fetch("/tides.json", { credentials: "include" })${DONE}`)).toBe(2);
  expect(await timesAsked(`fetch("/tides.json", { mode: "same-origin" })${DONE}`)).toBe(2);
});
