import { createServer as createHttp, type IncomingMessage, type ServerResponse } from 'node:http';
import { createSecureServer, type Http2ServerRequest, type Http2ServerResponse } from 'node:http2';
import type { AddressInfo } from 'node:net';
import { gzipSync } from 'node:zlib';
import { demoAssets, type DemoAnswer } from './assets.ts';
import { HOST_ROLES, type Names } from './names.ts';
import { DemoPages, type Origin } from './pages.ts';

export interface DemoServer {
  httpsPort: number;
  httpPort: number;
  /** Address of a page over HTTPS. */
  url(path: string): string;
  plainUrl(path: string): string;
  close(): Promise<void>;
}

export interface DemoOptions {
  names: Names;
  /** Key and certificate, PEM; for all hosts of the demo. */
  certificate: { key: string; cert: string };
  httpsPort: number;
  httpPort: number;
  /** The time each page takes to be made, ms. */
  pageWaitMs?: number;
}

const COMPRESSED = /^text\/|javascript|json/;

/** Starts the demo site and its stand-in third parties on 127.0.0.1: HTTPS with HTTP/2, and plain HTTP. */
export async function startDemoSite(options: DemoOptions): Promise<DemoServer> {
  const { names } = options;
  let httpsPort = options.httpsPort;
  let httpPort = options.httpPort;
  const originsOf =
    (secure: boolean): Origin =>
    (role) =>
      secure ? `https://${names.hosts[role]}:${httpsPort}` : `http://${names.hosts[role]}:${httpPort}`;
  const sites = new Map<boolean, { assets: Map<string, DemoAnswer>; pages: DemoPages }>();
  const siteFor = (secure: boolean) => {
    let site = sites.get(secure);
    if (!site) {
      const origin = originsOf(secure);
      sites.set(secure, (site = { assets: demoAssets(names, origin), pages: new DemoPages(names, origin) }));
    }
    return site;
  };

  const answerFor = (secure: boolean, host: string, path: string, crew: boolean): DemoAnswer | null => {
    const { assets, pages } = siteFor(secure);
    const asset = assets.get(host + path);
    if (asset) return asset;
    if (host !== names.hosts.www) return null;
    const html = pages.page(path, crew);
    if (html === null) return null;
    const waitMs = options.pageWaitMs ?? 140;
    return {
      type: 'text/html; charset=utf-8',
      body: Buffer.from(html),
      waitMs,
      cacheSeconds: 0,
      // Most of what it takes, as a real server would say of itself.
      serverTiming: `tides;desc="tide tables";dur=${Math.round(0.55 * waitMs)}, sailings;desc="next sailings";dur=${Math.round(0.3 * waitMs)}`,
    };
  };

  const handle =
    (secure: boolean) =>
    (request: IncomingMessage | Http2ServerRequest, response: ServerResponse | Http2ServerResponse) => {
      const host = String(request.headers[':authority'] ?? request.headers.host ?? '').replace(/:\d+$/, '');
      const path = new URL(request.url ?? '/', 'http://demo.invalid').pathname;
      const crew = /(^|;\s*)crew=aboard/.test(String(request.headers.cookie ?? ''));
      const answer = answerFor(secure, host, path, crew);
      setTimeout(() => send(request, response as ServerResponse, answer), answer?.waitMs ?? 20);
    };

  const secure = createSecureServer({ ...options.certificate, allowHTTP1: true }, handle(true));
  const plain = createHttp(handle(false));
  const sessions = new Set<{ destroy(): void }>();
  secure.on('session', (session) => {
    sessions.add(session);
    session.on('close', () => sessions.delete(session));
  });
  await Promise.all([listen(secure, httpsPort), listen(plain, httpPort)]);
  httpsPort = (secure.address() as AddressInfo).port;
  httpPort = (plain.address() as AddressInfo).port;

  return {
    httpsPort,
    httpPort,
    url: (path) => originsOf(true)('www') + path,
    plainUrl: (path) => originsOf(false)('www') + path,
    async close() {
      for (const session of sessions) session.destroy();
      plain.closeAllConnections();
      await Promise.all([
        new Promise((done) => secure.close(done)),
        new Promise((done) => plain.close(done)),
      ]);
    },
  };
}

/** Host names of a demo, for its certificate. */
export function hostNames(names: Names): string[] {
  return HOST_ROLES.map((role) => names.hosts[role]);
}

function send(
  request: IncomingMessage | Http2ServerRequest,
  response: ServerResponse,
  answer: DemoAnswer | null,
): void {
  if (response.destroyed) return;
  if (!answer) {
    response.writeHead(404, { 'content-type': 'text/plain; charset=utf-8' });
    response.end('There is no such page at Skerravane Ferries.');
    return;
  }
  const gzip =
    COMPRESSED.test(answer.type) && String(request.headers['accept-encoding'] ?? '').includes('gzip');
  const body = gzip ? gzipSync(answer.body) : answer.body;
  response.writeHead(200, {
    'content-type': answer.type,
    'content-length': body.length,
    'cache-control': answer.cacheSeconds ? `public, max-age=${answer.cacheSeconds}` : 'no-cache',
    'access-control-allow-origin': '*',
    ...(answer.serverTiming ? { 'server-timing': answer.serverTiming } : {}),
    ...(gzip ? { 'content-encoding': 'gzip', vary: 'accept-encoding' } : {}),
  });
  response.end(request.method === 'HEAD' ? undefined : body);
}

function listen(
  server: {
    listen(port: number, host: string, done: () => void): unknown;
    once(event: 'error', f: (e: Error) => void): unknown;
  },
  port: number,
): Promise<void> {
  return new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, '127.0.0.1', resolve);
  });
}
