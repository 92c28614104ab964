import type { IncomingMessage } from 'node:http';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { findConditions } from '../../src/core/measure/conditions.ts';
import { writeHar } from '../../src/core/har/write-har.ts';
import type { VisitSettings } from '../../src/core/measure/visit.ts';
import { capturePage, type CaptureResult } from '../../src/engine/capture/capture-page.ts';
import { discoverPages } from '../../src/engine/discover/discover-pages.ts';
import { Trouble } from '../../src/engine/errors.ts';
import { measureCapture } from '../../src/engine/lab/measure-capture.ts';
import { CapturedPage } from '../../src/core/page/captured-page.ts';
import { ONE_RUN, visitorCapture } from './defaults.ts';
import { serve, type TestServer } from './odd-servers.ts';

const conditions = findConditions('home-laptop')!;
/** What each server was sent, by path. */
const sent: { path: string; authorization: string; cookie: string; method: string }[] = [];
let own: TestServer;
let other: TestServer;

beforeAll(async () => {
  const note = (request: IncomingMessage) =>
    sent.push({
      path: request.url ?? '',
      method: request.method ?? '',
      authorization: request.headers.authorization ?? '',
      cookie: request.headers.cookie ?? '',
    });
  other = await serve((request, response) => {
    note(request);
    response.writeHead(200, { 'content-type': 'text/javascript', 'access-control-allow-origin': '*' });
    response.end('document.body.append("third");');
  });
  own = await serve((request, response) => {
    note(request);
    const crew = request.headers.cookie?.includes('session=abc') && request.headers.authorization === 'Key k';
    if (request.url === '/sitemap.xml') {
      response.writeHead(200, { 'content-type': 'application/xml' });
      response.end(
        `<urlset><url><loc>${own.url}a</loc></url><url><loc>${own.url}b</loc></url><url><loc>${other.url}c</loc></url></urlset>`,
      );
      return;
    }
    if (request.method === 'POST') {
      response.writeHead(204);
      response.end();
      return;
    }
    response.writeHead(200, { 'content-type': 'text/html; charset=utf-8', 'set-cookie': 'visit=seventy' });
    response.end(`<!DOCTYPE html><title>${crew ? 'Crew' : 'Visitor'}</title><h1>Words</h1>
      <a href="/a">A page</a> <a href="/b.pdf">A file</a> <a href="${other.url}">Elsewhere</a>
      <button class="agree" onclick="setTimeout(() => { localStorage.setItem('agreed', '1'); document.cookie = 'agreed=1' }, 250)">Agree</button>
      <script src="${other.url}t.js"></script>
      <img src="data:image/gif;base64,R0lGODlhAQABAAAAACH5BAEKAAEALAAAAAABAAEAAAICTAEAOw==">
      <script>
        document.title += document.cookie.includes('agreed=1') && localStorage.getItem('agreed') ? ' agreed' : ' asked';
        navigator.sendBeacon('/seen', 'x=1');
      </script>`);
  });
});
afterAll(async () => {
  await own.close();
  await other.close();
});

const crew: VisitSettings = {
  headers: [['Authorization', 'Key k']],
  cookies: [{ name: 'session', value: 'abc' }],
  steps: [
    { do: 'until', selector: '.agree' },
    { do: 'press', selector: '.agree' },
  ],
};

describe('a page as the user says it is visited', () => {
  let taken: CaptureResult;
  beforeAll(async () => {
    sent.length = 0;
    taken = await capturePage(visitorCapture(own.url, { visit: crew }));
  });

  it('is captured signed in, after the steps', () => {
    expect(taken.capture.title).toBe('Crew agreed');
    expect(
      Buffer.from(new CapturedPage(taken.capture, taken.bodies).body(own.url)!)
        .toString()
        .includes('<title>Crew</title>'),
    ).toBe(true);
  });

  it('sends the user’s headers to the page’s own origin and to nobody else', () => {
    expect(sent.filter((one) => one.path === '/t.js').map((one) => one.authorization)).toEqual(
      expect.not.arrayContaining(['Key k']),
    );
    expect(sent.filter((one) => one.path === '/').every((one) => one.authorization === 'Key k')).toBe(true);
  });

  it('keeps beacons, answers without a body, and data: URLs', () => {
    const beacon = taken.capture.exchanges.find((one) => one.kind === 'beacon')!;
    expect(beacon).toMatchObject({ method: 'POST', status: 204, requestBody: 'x=1', bodyHash: null });
    expect(taken.capture.dataUrls.map((one) => one.mimeType)).toEqual(['image/gif']);
  });

  it('is replayed as it was captured, with the server gone', async () => {
    const before = sent.length;
    const { runs } = await measureCapture({ ...taken, conditions, ...ONE_RUN });
    expect(sent.length).toBe(before);
    expect(runs[0]!.replayNotes).toEqual([]);
    expect(runs[0]!.requests.map((one) => one.url)).toContain(`${own.url}seen`);
  });

  it('writes no secret into an export', () => {
    const har = writeHar(taken.capture, taken.bodies, {
      keepSecrets: false,
      secretHeaders: ['Authorization'],
      metrics: null,
    });
    const headers = har.log.entries.map((entry) => [entry.request.headers, entry.response.headers]);
    expect(headers.flat(2).length).toBeGreaterThan(5);
    expect(JSON.stringify(headers)).not.toMatch(/Key k|session=abc|seventy/);
  });

  it('names a step that cannot be done, and captures nothing', async () => {
    const error: unknown = await capturePage(
      visitorCapture(own.url, {
        visit: { headers: [], cookies: [], steps: [{ do: 'press', selector: '.nowhere' }] },
      }),
    ).catch((reason: unknown) => reason);
    expect(error).toBeInstanceOf(Trouble);
    expect((error as Trouble).message).toMatch(
      /^Step 1 before the capture could not be done \(press .nowhere/,
    );
  });
});

describe('pages of a site', () => {
  it('are found by the links on a page: of the same site, no files', async () => {
    const found = await discoverPages({ url: own.url, limit: 10, accepted: [] });
    expect(found.map((one) => one.url)).toEqual([own.url, `${own.url}a`]);
    expect(found[1]!.name).toBe('A page');
  });

  it('are found by a sitemap, up to a limit', async () => {
    const all = await discoverPages({ url: `${own.url}sitemap.xml`, limit: 10, accepted: [] });
    expect(all.map((one) => new URL(one.url).pathname)).toEqual(['/a', '/b']);
    expect(await discoverPages({ url: `${own.url}sitemap.xml`, limit: 1, accepted: [] })).toHaveLength(1);
  });
});
