import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { findConditions } from '../../src/core/measure/conditions.ts';
import { capturePage, type CaptureResult } from '../../src/engine/capture/capture-page.ts';
import { measureCapture } from '../../src/engine/lab/measure-capture.ts';
import { Archive } from '../../src/engine/replay/archive.ts';
import { CapturedPage } from '../../src/core/page/captured-page.ts';
import { exchangeOf, ONE_RUN, visitorCapture } from '../engine/defaults.ts';
import { serve, type TestServer } from '../engine/odd-servers.ts';

const conditions = findConditions('home-laptop')!;
/** A byte-order mark and a Latin-1 letter: what the protocol's own body reading would change. */
const ODD_SCRIPT = Buffer.concat([
  Buffer.from([0xef, 0xbb, 0xbf]),
  Buffer.from('window.ran = "\xe9";', 'latin1'),
]);

let server: TestServer;
let other: TestServer;
let taken: CaptureResult;

beforeAll(async () => {
  other = await serve((_request, response) => {
    response.writeHead(200, { 'content-type': 'text/javascript', 'access-control-allow-origin': '*' });
    response.end('document.title += " and other";');
  });
  server = await serve((request, response) => {
    const path = request.url!.split('?')[0];
    const send = (type: string, body: string | Buffer) => {
      response.writeHead(200, { 'content-type': type });
      response.end(body);
    };
    if (path === '/moved') {
      response.writeHead(302, { location: '/' });
      response.end();
    } else if (path === '/odd.js') send('text/javascript', ODD_SCRIPT);
    else if (path === '/data.json') send('application/json', `{"n":${server.requests.length}}`);
    else if (path === '/') {
      send(
        'text/html; charset=utf-8',
        `<!DOCTYPE html><title>Page</title><h1>Words</h1><script src="/odd.js"></script><script async src="${other.url}o.js"></script>
         <script>fetch('/data.json?at=' + Date.now() + '&page=1'); fetch('http://nowhere.test/x').catch(function () {});</script>`,
      );
    } else {
      response.writeHead(404);
      response.end();
    }
  });
  taken = await capturePage(visitorCapture(`${server.url}moved`));
});
afterAll(async () => {
  await server.close().catch(() => undefined);
  await other.close();
});

describe('capture', () => {
  it('keeps redirects, failures and exact bytes', () => {
    const { capture, bodies } = taken;
    expect(capture.documentUrl).toBe(server.url);
    expect(capture.exchanges[0]!.outcome).toEqual({ state: 'redirected', to: server.url });
    expect(capture.exchanges.find((one) => one.url.startsWith('http://nowhere'))!.outcome.state).toBe(
      'failed',
    );
    expect(Buffer.from(new CapturedPage(capture, bodies).body(`${server.url}odd.js`)!)).toEqual(ODD_SCRIPT);
  });
});

describe('replay', () => {
  it('never reaches the live server, stopped or running, and asks for the same addresses though they hold the time', async () => {
    const before = server.requests.length + other.requests.length;
    const running = await measureCapture({ ...taken, conditions, ...ONE_RUN });
    expect(server.requests.length + other.requests.length).toBe(before);
    await server.close();
    const stopped = await measureCapture({ ...taken, conditions, ...ONE_RUN });
    for (const { runs } of [running, stopped]) {
      expect(runs[0]!.metrics.firstPaintMs).toBeGreaterThan(0);
      expect(runs[0]!.requests.find((one) => one.url.endsWith('o.js'))!.status).toBe(200);
      expect(runs[0]!.replayNotes).toEqual([]);
      expect(runs[0]!.requests.find((one) => one.url.startsWith('http://nowhere'))!.failed).not.toBeNull();
    }
  });

  it('says how the metrics hang together: Speed Index never earlier than first paint', async () => {
    const { runs } = await measureCapture({ ...taken, conditions, ...ONE_RUN, runs: 2 });
    for (const { metrics, requests } of runs) {
      expect(metrics.speedIndexMs!).toBeGreaterThanOrEqual(metrics.firstPaintMs! - 17);
      expect(metrics.requests).toBe(requests.length);
      expect(metrics.wireBytes).toBe(requests.reduce((sum, one) => sum + one.wireBytes, 0));
    }
  });
});

describe('Archive', () => {
  const exchange = (url: string, bodyHash: string, order: number) => exchangeOf({ url, bodyHash, order });
  const bodies = new Map([
    ['a', new Uint8Array([1])],
    ['b', new Uint8Array([2])],
  ]);
  const archive = new Archive(
    [
      exchange('https://q.test/x?a=1&b=2', 'a', 0),
      exchange('https://q.test/x?a=1&b=3', 'b', 1),
      exchange('https://q.test/y', 'a', 2),
      exchange('https://q.test/y', 'b', 3),
      exchange('https://q.test/t?at=1790000000120', 'b', 4),
    ],
    bodies,
    [],
    { seed: 1, startMs: 1_790_000_000_000 },
  );
  const body = (url: string) => {
    const match = archive.match('GET', url);
    return match.how === 'missing' ? 'missing' : `${match.how} ${match.answer.body![0]}`;
  };

  it('answers the exact address first, then the same path with most query parameters in common', () => {
    expect(body('https://q.test/x?a=1&b=3')).toBe('exact 2');
    expect(body('https://q.test/x?b=3&c=9')).toBe('loose 2');
    expect(body('https://q.test/z')).toBe('missing');
    // A time of the page's own clock is as good as another; any other number is not.
    expect(body('https://q.test/t?at=1790000000987')).toBe('exact 2');
    expect(body('https://q.test/t?at=1690000000987')).toBe('loose 2');
    expect(archive.match('POST', 'https://q.test/y').how).toBe('missing');
  });

  it('answers repeated requests in their captured order, from the start after each rewind', () => {
    archive.rewind();
    expect([1, 2, 3].map(() => body('https://q.test/y'))).toEqual(['exact 1', 'exact 2', 'exact 2']);
    archive.rewind();
    expect(body('https://q.test/y')).toBe('exact 1');
  });
});
