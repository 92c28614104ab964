import { createHash } from 'node:crypto';
import { chmodSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { brotliCompressSync, createGzip, deflateSync, gzipSync } from 'node:zlib';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { capturePage } from '../../src/engine/capture/capture-page.ts';
import { findChromium } from '../../src/engine/chromium/launch.ts';
import { LOAD_LIMITS } from '../../src/engine/chromium/visit.ts';
import { discoverPages } from '../../src/engine/discover/discover-pages.ts';
import { visitorCapture } from './defaults.ts';
import { serve, type TestServer } from './odd-servers.ts';

/** So many megabytes of nothing, packed. */
async function packedZeros(megabytes: number): Promise<Buffer> {
  const packed: Buffer[] = [];
  const gzip = createGzip().on('data', (piece: Buffer) => packed.push(piece));
  for (let written = 0; written < megabytes; written++) gzip.write(Buffer.alloc(1_000_000));
  gzip.end();
  for await (const _ of gzip) void _;
  return Buffer.concat(packed);
}

/** Signs of several bytes that no piece ends before, and bytes that are no text in UTF-8. */
const SIGNS = Buffer.from(`/* ${'ſ漢😀'.repeat(300_000)} */ document.title += '+signs';`);
const LATIN = Buffer.concat([Buffer.from('/* '), Buffer.alloc(5_000, 0xe9), Buffer.from(' */ p{}')]);
const NUMBERS = Buffer.from(Array.from({ length: 3_000_000 }, (_, index) => (index * 7) % 256));

const FILES: Record<string, { type: string; encoding?: string; plain: Buffer; packed: Buffer }> = {
  '/signs.js': {
    type: 'text/javascript',
    encoding: 'br',
    plain: SIGNS,
    packed: brotliCompressSync(SIGNS),
  },
  '/latin.css': {
    type: 'text/css;charset=iso-8859-1',
    encoding: 'gzip',
    plain: LATIN,
    packed: gzipSync(LATIN),
  },
  '/numbers.bin': {
    type: 'application/octet-stream',
    encoding: 'deflate',
    plain: NUMBERS,
    packed: deflateSync(NUMBERS),
  },
  '/stated-nowhere.js': {
    type: 'text/javascript',
    plain: Buffer.from("document.title += '+chunked'"),
    packed: Buffer.from("document.title += '+chunked'"),
  },
};

const HTML = `<!doctype html><html><head><meta charset="utf-8"><title>Packed</title>
<link rel="stylesheet" href="/latin.css"></head><body><p>Here it is</p>
<script src="/signs.js"></script><script src="/stated-nowhere.js"></script>
<script src="/bomb.js"></script>
<script>document.write('<script src="http://localhost:' + location.port + '/stated-nowhere.js"></' + 'script>');</script>
<script>document.title += '+' + document.cookie;</script>
<script>fetch('/numbers.bin').then((answer) => answer.arrayBuffer()).then((all) => { document.title += '+' + all.byteLength; });</script>
</body></html>`;

let site: TestServer;
let bomb: Buffer;

beforeAll(async () => {
  bomb = await packedZeros(500);
  site = await serve(({ url }, response) => {
    const file = FILES[url ?? ''];
    if (file) {
      response.setHeader('content-type', file.type);
      if (file.encoding) response.setHeader('content-encoding', file.encoding);
      // Without an end that is told beforehand.
      response.write(file.packed.subarray(0, 10));
      response.end(file.packed.subarray(10));
    } else if (url?.startsWith('/bomb.')) {
      const type = { js: 'text/javascript', html: 'text/html', xml: 'application/xml' }[url.slice(6)]!;
      response.setHeader('content-type', type);
      response.setHeader('content-encoding', 'gzip');
      response.end(bomb);
    } else if (url === '/framing') {
      response.setHeader('content-type', 'text/html');
      response.end('<!doctype html><title>Framing</title><p>Tide</p><iframe src="/bomb.html"></iframe>');
    } else if (url === '/for-ever.js') void forEver(response);
    else {
      response.setHeader('content-type', 'text/html');
      response.setHeader('set-cookie', ['a=1', 'b=2']);
      response.setHeader('content-encoding', 'gzip');
      response.end(gzipSync(url === '/for-ever' ? HTML.replace('bomb.js', 'for-ever.js') : HTML));
    }
  });
});
afterAll(() => site.close());

async function forEver(response: { write(piece: Buffer): boolean; destroyed: boolean }): Promise<void> {
  while (!response.destroyed) if (!response.write(Buffer.alloc(500_000))) await sleep(5);
}

const limits = { ...LOAD_LIMITS, loadMs: 20_000, quietMs: 400 };

it.each(['bomb.js', 'for-ever.js'])(
  'what is packed is taken byte for byte, and what unpacks without end is let go: %s',
  async (large) => {
    const url = `${site.url}${large === 'bomb.js' ? '' : 'for-ever'}`;
    const { capture, bodies } = await capturePage(visitorCapture(url, { limits }));
    for (const [path, { plain }] of Object.entries(FILES)) {
      const exchange = capture.exchanges.find((one) => one.url === new URL(path, url).href)!;
      expect([path, exchange.status, exchange.bodyHash]).toEqual([
        path,
        200,
        createHash('sha256').update(plain).digest('hex'),
      ]);
      expect(bodies.get(exchange.bodyHash!)!.length).toBe(plain.length);
    }
    // Everything behind it ran, with what it was given; another host’s script on this machine as well.
    expect(capture.title).toBe(`Packed+signs+chunked+chunked+a=1; b=2+${NUMBERS.length}`);
    const left = capture.exchanges.find((one) => one.url.endsWith(large))!;
    expect(left.bodyHash).toBeNull();
    expect(capture.notes).toContain(`${left.url} is over 25 MB; it is replayed as a failure.`);
    const html = capture.exchanges[0]!;
    expect(Buffer.from(bodies.get(html.bodyHash!)!).toString()).toContain(`<script src="/${large}">`);
  },
);

it('keeps nothing of a file that broke off on its way: its beginning is not what a visitor has', async () => {
  const script = Buffer.from(`/* ${'tide '.repeat(40_000)} */ document.title += '+ran';`);
  const packed = gzipSync(script);
  const cutting = await serve(({ url }, response) => {
    const isPacked = url === '/packed.js';
    if (url !== '/plain.js' && !isPacked)
      return void response
        .setHeader('content-type', 'text/html')
        .end('<title>Cut</title><p>Here<script src=/plain.js></script><script src=/packed.js></script>');
    response.setHeader('content-type', 'text/javascript');
    if (isPacked) response.setHeader('content-encoding', 'gzip').setHeader('content-length', packed.length);
    response.write(isPacked ? packed.subarray(0, -40) : script.subarray(0, 100_000));
    setTimeout(() => response.destroy(), 200);
  });
  try {
    const { capture } = await capturePage(visitorCapture(cutting.url, { limits }));
    for (const name of ['plain.js', 'packed.js']) {
      const exchange = capture.exchanges.find((one) => one.url.endsWith(name))!;
      expect([name, exchange.bodyHash]).toEqual([name, null]);
      expect(capture.notes).toContain(`${exchange.url} broke off on its way; it is replayed as a failure.`);
    }
  } finally {
    await cutting.close();
  }
});

/** As if what a local server says came from the public network. */
function withPublicNetwork(...servers: TestServer[]): () => void {
  const folder = mkdtempSync(join(tmpdir(), 'wistrel-public-'));
  const chromium = join(folder, 'chromium');
  const spaces = servers.map(({ url }) => `${new URL(url).host}=public`).join(',');
  const before = process.env['WISTREL_CHROMIUM'];
  writeFileSync(chromium, `#!/bin/sh\nexec ${findChromium()} --ip-address-space-overrides=${spaces} "$@"\n`);
  chmodSync(folder, 0o755);
  chmodSync(chromium, 0o755);
  process.env['WISTREL_CHROMIUM'] = chromium;
  return () => {
    if (before === undefined) Reflect.deleteProperty(process.env, 'WISTREL_CHROMIUM');
    else process.env['WISTREL_CHROMIUM'] = before;
    rmSync(folder, { recursive: true });
  };
}

const endless = async () => {
  await expect(capturePage(visitorCapture(`${site.url}bomb.html`, { limits }))).rejects.toThrow(
    `The HTML of ${site.url}bomb.html is over 25 MB when it is unpacked. Nothing stored was changed. Give the address of a page that a visitor could load.`,
  );
};

it('says of a page whose own HTML unpacks without end what it is, of a frame of it that it is left out', async () => {
  await endless();
  const { capture } = await capturePage(visitorCapture(`${site.url}framing`, { limits }));
  const frame = capture.exchanges.find((one) => one.url.endsWith('/bomb.html'))!;
  expect([capture.title, frame.bodyHash]).toEqual(['Framing', null]);
  expect(capture.notes).toContain(`${frame.url} is over 25 MB; it is replayed as a failure.`);
});

it('says so of a page of the public network too, and takes others as they are', async () => {
  const asBefore = withPublicNetwork(site);
  try {
    await endless();
    const { capture, bodies } = await capturePage(visitorCapture(site.url, { limits }));
    const html = capture.exchanges[0]!;
    expect(Buffer.from(bodies.get(html.bodyHash!)!).toString()).toBe(HTML);
    expect(capture.title).toBe(`Packed+signs+chunked+chunked+a=1; b=2+${NUMBERS.length}`);
  } finally {
    asBefore();
  }
});

it('says of a sitemap that unpacks without end what it is', async () => {
  const found = discoverPages({ url: `${site.url}bomb.xml`, limit: 10, accepted: [] });
  await expect(found).rejects.toThrow(/bomb\.xml is over 25 MB when it is unpacked\. Nothing was added/);
});
