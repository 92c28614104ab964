import { randomBytes } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import { findConditions, type Conditions } from '../../src/core/measure/conditions.ts';
import type { RequestTiming } from '../../src/core/measure/run.ts';
import { measureCapture } from '../../src/engine/lab/measure-capture.ts';
import { ONE_RUN } from '../engine/defaults.ts';
import { madeCapture, type MadeFile } from '../engine/made-capture.ts';

const laptop = findConditions('home-laptop')!;
/** Slow enough that what the network costs stands out from everything else. */
const far: Conditions = { ...laptop, roundTripMs: 200, downKbps: 4_000, upKbps: 2_000 };

/** A page that asks for nothing but what it says: browsers look for an icon by themselves. */
const page = (html: string): MadeFile => ({
  kind: 'document',
  type: 'text/html',
  body: html.replace('<title>', '<link rel="icon" href="data:,"><title>'),
});
const found = (requests: readonly RequestTiming[], end: string) =>
  requests.find((one) => one.url.endsWith(end))!;

describe('the bottleneck', () => {
  // Something else that is busy on the machine is no fault of the bottleneck.
  const LIMITS = { retry: 2 };

  it(
    'makes a connection cost its round trips, and a server its own time, and says how fast the line is',
    LIMITS,
    async () => {
      const made = madeCapture({
        'https://quay.test/': {
          ...page('<!DOCTYPE html><title>t</title><h1>Words</h1><script src="/big.js"></script>'),
          serverMs: 150,
        },
        // 250,000 bytes that do not compress take half a second at 4 Mbps.
        'https://quay.test/big.js': {
          kind: 'script',
          type: 'text/javascript',
          body: `//${randomBytes(125_000).toString('hex')}`,
        },
      });
      const { runs, quality } = await measureCapture({ ...made, state: null, conditions: far, ...ONE_RUN });
      const document = found(runs[0]!.requests, '/');
      const connect = document.connectMs!.end - document.connectMs!.start;
      // TCP and TLS 1.3: a round trip each; then one for the request, and the server's 150 ms.
      // The browser's own stamp of the start may be some milliseconds late.
      expect(connect).toBeGreaterThan(385);
      expect(connect).toBeLessThan(1_000);
      expect(document.firstByteMs! - document.connectMs!.end).toBeGreaterThan(345);
      expect(document.firstByteMs! - document.connectMs!.end).toBeLessThan(1_000);
      const script = found(runs[0]!.requests, 'big.js');
      expect(script.endMs! - script.firstByteMs!).toBeGreaterThan(430);
      expect(script.endMs! - script.firstByteMs!).toBeLessThan(2_000);
      expect(quality.encodingDeviation).toBe(0);
    },
  );

  it('sends what is urgent first, though it was asked for last', async () => {
    const script = (name: string): [string, MadeFile] => [
      `https://quay.test/${name}.js`,
      {
        kind: 'script',
        type: 'text/javascript',
        body: `//${randomBytes(100_000).toString('hex')}`,
      },
    ];
    const made = madeCapture({
      'https://quay.test/': page(
        '<!DOCTYPE html><title>t</title><script async src="/a.js"></script><script async src="/b.js"></script><p>Words</p><link rel="stylesheet" href="/late.css">',
      ),
      ...Object.fromEntries([script('a'), script('b')]),
      'https://quay.test/late.css': {
        kind: 'stylesheet',
        type: 'text/css',
        body: `/*${randomBytes(10_000).toString('hex')}*/ p { color: navy }`,
      },
    });
    const { runs } = await measureCapture({ ...made, state: null, conditions: far, ...ONE_RUN });
    const { requests } = runs[0]!;
    const css = found(requests, 'late.css');
    for (const name of ['a.js', 'b.js']) {
      expect(found(requests, name).startMs).toBeLessThan(css.startMs + 50);
      expect(found(requests, name).endMs!).toBeGreaterThan(css.endMs! + 100);
    }
  });

  it('replays a plain page of a local server as production would serve it, when told to', async () => {
    const made = madeCapture(
      {
        'http://localhost:3123/': page(
          '<!DOCTYPE html><title>t</title><h1>Words</h1><script src="http://localhost:3123/a.js"></script>',
        ),
        'http://localhost:3123/a.js': {
          kind: 'script',
          type: 'text/javascript',
          body: 'document.title = location.protocol;',
        },
      },
      { protocol: 'http/1.1' },
    );
    const run = async (protocol: Conditions['protocol']) => {
      const conditions = { ...far, protocol };
      const { runs } = await measureCapture({ ...made, state: null, conditions, ...ONE_RUN });
      return runs[0]!;
    };
    const [plain, secure] = [await run('as-captured'), await run('production')];
    for (const { requests } of [plain, secure]) {
      expect(requests.map((one) => one.url)).toEqual(made.capture.exchanges.map((one) => one.url));
      expect(requests.map((one) => one.status)).toEqual([200, 200]);
    }
    const connect = ({ requests }: typeof plain) =>
      requests[0]!.connectMs ? requests[0]!.connectMs.end - requests[0]!.connectMs.start : 0;
    expect(connect(secure)).toBeGreaterThan(connect(plain) + 150);
  });

  it('serves what one host said plainly and what it said securely, from one place, as production would', async () => {
    const script = (body: string): MadeFile => ({ kind: 'script', type: 'text/javascript', body });
    const made = madeCapture({
      'http://quay.test/': page(
        '<!DOCTYPE html><title>t</title><h1>Words</h1><script src="a.js"></script><script src="https://quay.test/b.js"></script>',
      ),
      'http://quay.test/a.js': script('document.title = "plain";'),
      'https://quay.test/b.js': script('document.title += " and secure";'),
    });
    const conditions = { ...far, protocol: 'production' as const };
    const { runs } = await measureCapture({ ...made, state: null, conditions, ...ONE_RUN });
    const { requests, replayNotes } = runs[0]!;
    expect(requests.map((one) => [one.url, one.status])).toEqual(
      made.capture.exchanges.map((one) => [one.url, 200]),
    );
    expect(replayNotes).toEqual([]);
  });

  it(
    'answers a return visit from what the first one cached, and asks again for what is stale',
    LIMITS,
    async () => {
      const script = (body: string, headers: MadeFile['headers']): MadeFile => ({
        kind: 'script',
        type: 'text/javascript',
        body: `${body}//${randomBytes(20_000).toString('hex')}`,
        ...(headers ? { headers } : {}),
      });
      const made = madeCapture({
        'https://quay.test/': page(
          '<!DOCTYPE html><title>t</title><h1>Words</h1><script src="/kept.js"></script><script src="/stale.js"></script>',
        ),
        'https://quay.test/kept.js': script('1;', [['cache-control', 'max-age=600']]),
        'https://quay.test/stale.js': script('2;', [
          ['cache-control', 'no-cache'],
          ['etag', '"v1"'],
        ]),
      });
      const { runs, returning } = await measureCapture({
        ...made,
        state: null,
        conditions: far,
        ...ONE_RUN,
        returnVisits: true,
      });
      const again = returning!.runs[0]!;
      expect(found(runs[0]!.requests, 'kept.js').wireBytes).toBeGreaterThan(20_000);
      expect(found(again.requests, 'kept.js').wireBytes).toBe(0);
      expect(found(again.requests, 'stale.js').wireBytes).toBeLessThan(2_000);
      expect(again.metrics.firstPaintMs!).toBeLessThan(runs[0]!.metrics.firstPaintMs!);
      expect(again.replayNotes).toEqual([]);
    },
  );

  it('finds what keeps moving, names it, and gives the Speed Index without it', LIMITS, async () => {
    const made = madeCapture({
      'https://quay.test/':
        page(`<!DOCTYPE html><title>t</title><div style="width:900px;height:400px;background:#234"></div>
        <div id="beacon" style="width:120px;height:90px;background:#000"></div>
        <script>let on = 0; setInterval(() => { beacon.style.background = (on = 1 - on) ? '#fff' : '#000'; }, 150);</script>`),
    });
    const { runs } = await measureCapture({ ...made, state: null, conditions: laptop, ...ONE_RUN });
    const { moving, metrics } = runs[0]!;
    expect(moving?.elements).toContain('div#beacon');
    expect(moving!.share).toBeLessThan(0.1);
    expect(moving!.maskedSpeedIndexMs!).toBeGreaterThanOrEqual(metrics.firstPaintMs! - 17);
    // With it, the picture is never complete for long.
    expect(metrics.speedIndexMs! - moving!.maskedSpeedIndexMs!).toBeGreaterThan(30);
  });
});
