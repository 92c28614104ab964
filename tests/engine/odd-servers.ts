import { createServer, type RequestListener, type Server } from 'node:http';
import { createServer as createHttps } from 'node:https';
import { readFile } from 'node:fs/promises';
import type { AddressInfo } from 'node:net';
import { extname, join, normalize } from 'node:path';
import { makeCertificate, type OwnCertificate } from '../../src/engine/chromium/certificates.ts';

/** A small server on loopback, for one test. */
export interface TestServer {
  url: string;
  requests: string[];
  close(): Promise<void>;
}

async function listen(server: Server, scheme: string, requests: string[]): Promise<TestServer> {
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const { port } = server.address() as AddressInfo;
  return {
    url: `${scheme}://127.0.0.1:${port}/`,
    requests,
    close: () =>
      new Promise((resolve) => {
        server.close(() => resolve());
        server.closeAllConnections();
      }),
  };
}

/** Serves with a handler of the test's own. */
export function serve(handler: RequestListener): Promise<TestServer> {
  const requests: string[] = [];
  const server = createServer((request, response) => {
    requests.push(request.url ?? '');
    handler(request, response);
  });
  return listen(server, 'http', requests);
}

/** Pages as they should not be, by path. */
export function serveOddPages(): Promise<TestServer> {
  return serve((request, response) => {
    const html = (body: string, status = 200) => {
      response.writeHead(status, { 'content-type': 'text/html' });
      response.end(body);
    };
    switch (request.url) {
      case '/broken':
        return html('<p>It broke.</p>', 500);
      case '/circle':
        response.writeHead(302, { location: '/circle' });
        return response.end();
      case '/picture':
        response.writeHead(200, { 'content-type': 'image/png' });
        return response.end(Buffer.from('iVBORw0KGgo=', 'base64'));
      case '/text':
        response.writeHead(200, { 'content-type': 'text/plain' });
        return response.end('words');
      case '/endless':
        return html('<p>Here</p><img src="/never">');
      case '/never':
        return undefined;
      case '/malformed':
        return html(
          '<html><head><link rel=stylesheet href=/bad.css><body><p><b>Unclosed <i>x</p><div class=a>Text</div><script>var = ;</script><script src=/gone.js></script>',
        );
      case '/bad.css':
        response.writeHead(200, { 'content-type': 'text/css' });
        return response.end('.a { color: red } } .b { color: blue; @media {');
      case '/blank':
        return html('<link rel=stylesheet href=/blank.css><p style="color:#fff">x</p>');
      case '/blank.css':
        response.writeHead(200, { 'content-type': 'text/css' });
        return response.end('body{background:#fff}');
      default:
        response.writeHead(404);
        return response.end();
    }
  });
}

/** An HTTPS server with a certificate of its own making. */
export async function serveOwnCertificate(
  certificate?: OwnCertificate,
  page = '<title>Own</title><p>Hello</p>',
): Promise<TestServer> {
  certificate ??= await makeCertificate(['127.0.0.1']);
  const server = createHttps(certificate, (_request, response) => {
    response.writeHead(200, { 'content-type': 'text/html' });
    response.end(page);
  });
  return listen(server as unknown as Server, 'https', []);
}

const TYPES: Record<string, string> = {
  '.html': 'text/html',
  '.css': 'text/css',
  '.js': 'text/javascript',
  '.jpg': 'image/jpeg',
  '.ico': 'image/x-icon',
};

/** Serves a folder of static files: a website template of somebody else's making. */
export function serveFolder(folder: string): Promise<TestServer> {
  return serve((request, response) => {
    const path = normalize(new URL(request.url ?? '/', 'http://x').pathname);
    void readFile(join(folder, path === '/' ? 'index.html' : path)).then(
      (body) => {
        response.writeHead(200, {
          'content-type': TYPES[extname(path)] ?? 'text/html',
          'cache-control': 'max-age=60',
        });
        setTimeout(() => response.end(body), 60);
      },
      () => {
        response.writeHead(404);
        response.end();
      },
    );
  });
}
