import { readFileSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';

/** A small site on loopback: a framework's sheet and two of its own, a script that holds the parser, a chat of another host. */
export interface QuaySite {
  url(path: string): string;
  close(): Promise<void>;
}

const FRAMEWORK = readFileSync(
  join(import.meta.dirname, '../../node_modules/bootstrap/dist/css/bootstrap.min.css'),
);

const STYLE = `.quay-top { background: #12343b; color: #fff; padding: 16px; }
.quay-chat { position: fixed; right: 12px; top: 200px; width: 140px; margin: 0; padding: 12px; background: #8a3b12; color: #fff; }
.quay-far { margin-top: 3000px; }`;

/** Nothing of it concerns the fold. */
const FAR = '.quay-far { color: #8a3b12; }';

/** It paints above the fold, without anybody having asked for it. */
const CHAT = `var chat = document.createElement('p');
chat.className = 'quay-chat';
chat.textContent = 'Ask the harbour';
document.body.appendChild(chat);`;

const page = (
  title: string,
  chat: string,
) => `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>${title}</title>
<meta name="viewport" content="width=device-width, initial-scale=1">
<link rel="icon" href="data:,">
<link rel="stylesheet" href="/framework.css">
<link rel="stylesheet" href="/quay.css">
<link rel="stylesheet" href="/far.css">
<script src="/lib.js"></script>
</head><body>
<header class="quay-top"><h1 class="display-5">${title}</h1></header>
<main class="container"><p class="lead">The tide turns at noon.</p><a class="btn btn-primary" href="/">Book</a></main>
<p class="quay-far">Far below.</p>
<script async src="${chat}"></script>
</body></html>`;

export function startQuaySite(): Promise<QuaySite> {
  const server = createServer(({ url = '' }, response) => {
    const { port } = server.address() as AddressInfo;
    const answer = (type: string, body: string | Buffer) => {
      response.writeHead(200, { 'content-type': type });
      response.end(body);
    };
    switch (url) {
      case '/framework.css':
        return answer('text/css', FRAMEWORK);
      case '/quay.css':
        return answer('text/css', STYLE);
      case '/far.css':
        return answer('text/css', FAR);
      case '/lib.js':
        return answer('text/javascript', 'window.quay = { tides: ["low", "high"] };');
      case '/chat.js':
        return answer('text/javascript', CHAT);
      case '/':
      case '/news/winter':
      case '/news/ferry':
        return answer('text/html', page(url === '/' ? 'Quay' : url, `http://chat.localhost:${port}/chat.js`));
      default:
        response.writeHead(404);
        response.end();
    }
  });
  return new Promise((resolve) =>
    server.listen(0, '127.0.0.1', () => {
      const { port } = server.address() as AddressInfo;
      resolve({
        url: (path) => `http://127.0.0.1:${port}${path}`,
        close: () =>
          new Promise((closed) => {
            server.close(() => closed());
            server.closeAllConnections();
          }),
      });
    }),
  );
}
