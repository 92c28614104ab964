import { createServer } from 'node:http';
import type { Server } from 'node:net';
import type { Exchange } from '../../core/measure/exchange.ts';
import { headerOf } from '../../core/measure/headers.ts';
import type { Archive } from './archive.ts';
import { answering, listenOn } from './listen.ts';
import { isText, replaceOrigins } from './origins.ts';

const NOT_CAPTURED =
  '<!DOCTYPE html><meta charset="utf-8"><title>Not captured</title><p>This address is not in the capture. Only the captured page can be clicked through here.</p><p><a href="javascript:history.back()">Back</a></p>';

/**
 * Serves one arm for looking at by hand, over plain HTTP: captured addresses in text are rewritten to the
 * ports they are served on here, so that any browser can open it and nothing reaches the live site.
 */
export async function servePreview(
  archive: Archive,
  exchanges: readonly Exchange[],
  documentUrl: string,
): Promise<{ url: string; servers: Server[] }> {
  const origins = [...new Set(exchanges.map((one) => new URL(one.url).origin))];
  const places: [string, string][] = [];
  const servers = origins.map((origin) =>
    createServer(
      answering((path, request, response) => {
        const match = archive.match(request.method ?? 'GET', origin + path);
        if (match.how === 'missing' || match.answer.failed) {
          response.writeHead(404, { 'content-type': 'text/html; charset=utf-8' });
          response.end(NOT_CAPTURED);
          return;
        }
        const { answer } = match;
        const type = headerOf(answer.headers, 'content-type') ?? '';
        const text = isText(type);
        const body =
          answer.body && text
            ? Buffer.from(replaceOrigins(Buffer.from(answer.body).toString('latin1'), places), 'latin1')
            : answer.body;
        const headers = answer.headers.filter(
          ([name]) => !/^(content-security-policy|x-frame-options|set-cookie)/i.test(name),
        );
        response.writeHead(
          answer.status,
          headers.flatMap(([name, value]) => [name, replaceOrigins(value, places)]),
        );
        response.end(body ?? undefined);
      }),
    ),
  );
  for (const [index, server] of servers.entries())
    places.push([origins[index]!, `http://127.0.0.1:${await listenOn(server)}`]);
  const { origin, pathname, search } = new URL(documentUrl);
  return { url: places.find(([from]) => from === origin)![1] + pathname + search, servers };
}
