import {
  createServer as createHttp,
  type IncomingMessage,
  type RequestListener,
  type ServerResponse,
} from 'node:http';
import { createSecureServer } from 'node:http2';
import type { AddressInfo, Server } from 'node:net';
import type { ReplayNote } from '../../core/measure/run.ts';
import { Archive, type ArchivedAnswer } from './archive.ts';
import { encodeNear } from './encode.ts';
import type { FromReplay, ReplayLoad, ToReplay } from './messages.ts';

/**
 * The replay process: serves a capture's bytes on 127.0.0.1, one port a host, so that neither the
 * application nor the measuring process disturbs it. It is told what to do by messages and ends with its parent.
 */
class ReplayServer {
  #load: ReplayLoad;
  #archives = new Map<string, Archive>();
  #arm = '';
  #notes: ReplayNote[] = [];
  #servers: Server[] = [];
  #encoded = new WeakMap<Uint8Array, Buffer>();

  constructor(load: ReplayLoad) {
    this.#load = load;
    for (const arm of load.arms) this.addArm(arm);
    this.#arm = load.arms[0]?.name ?? '';
  }

  addArm(arm: ReplayLoad['arms'][number]): void {
    this.#archives.set(arm.name, new Archive(this.#load.exchanges, this.#load.bodies, arm.overrides));
  }

  choose(name: string): void {
    const archive = this.#archives.get(name);
    if (!archive) throw new Error(`There is no arm “${name}”.`);
    archive.rewind();
    this.#arm = name;
    this.#notes = [];
  }

  get notes(): ReplayNote[] {
    return this.#notes;
  }

  /** Opens a port for every captured host; Chromium is told to find the hosts there. */
  async listen(): Promise<{ host: string; port: number; listen: number }[]> {
    const origins = new Set([new URL(this.#load.documentUrl).origin]);
    for (const exchange of this.#load.exchanges) origins.add(new URL(exchange.url).origin);
    const hosts: { host: string; port: number; listen: number }[] = [];
    for (const origin of origins) {
      const { protocol, hostname, port } = new URL(origin);
      const secure = protocol === 'https:';
      const answer: RequestListener = (request, response) => this.#answer(origin, request, response);
      const oldProtocol = this.#load.exchanges.some(
        (one) => one.url.startsWith(`${origin}/`) && one.protocol === 'http/1.1',
      );
      const server = secure
        ? createSecureServer(
            {
              ...this.#load.certificate,
              allowHTTP1: true,
              ...(oldProtocol ? { ALPNProtocols: ['http/1.1'] } : {}),
            },
            answer as never,
          )
        : createHttp(answer);
      hosts.push({
        host: hostname,
        port: Number(port || (secure ? 443 : 80)),
        listen: await listenOn(server),
      });
      this.#servers.push(server);
    }
    return hosts;
  }

  /**
   * Serves one arm for looking at by hand, over plain HTTP: captured addresses in text are rewritten to the
   * ports they are served on here, so that any browser can open it and nothing reaches the live site.
   */
  async preview(arm: string): Promise<string> {
    const archive = this.#archives.get(arm);
    if (!archive) throw new Error(`There is no arm “${arm}”.`);
    const origins = [...new Set(this.#load.exchanges.map((one) => new URL(one.url).origin))];
    const places: [string, string][] = [];
    const servers = origins.map((origin) =>
      createHttp((request, response) => {
        const url = origin + (request.url ?? '/');
        const match = archive.match(request.method ?? 'GET', url);
        if (match.how === 'missing' || match.answer.failed) {
          response.writeHead(404, { 'content-type': 'text/html; charset=utf-8' });
          response.end(
            '<!DOCTYPE html><meta charset="utf-8"><title>Not captured</title><p>This address is not in the capture. Only the captured page can be clicked through here.</p><p><a href="javascript:history.back()">Back</a></p>',
          );
          return;
        }
        const { answer } = match;
        const type = answer.headers.find(([name]) => name.toLowerCase() === 'content-type')?.[1] ?? '';
        const text = /html|css|javascript|json|xml/.test(type);
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
    );
    for (const [index, server] of servers.entries())
      places.push([origins[index]!, `http://127.0.0.1:${await listenOn(server)}`]);
    this.#servers.push(...servers);
    const { origin, pathname, search } = new URL(this.#load.documentUrl);
    return places.find(([from]) => from === origin)![1] + pathname + search;
  }

  #answer(origin: string, request: IncomingMessage, response: ServerResponse): void {
    const url = origin + (request.url ?? '/');
    const match = this.#archives.get(this.#arm)!.match(request.method ?? 'GET', url);
    request.resume();
    if (match.how === 'missing') {
      this.#notes.push({ url, matched: 'missing', answeredWith: null });
      response.writeHead(504, { 'content-type': 'text/plain' });
      response.end('The capture holds no answer for this request.');
      return;
    }
    if (match.how === 'loose') this.#notes.push({ url, matched: 'loose', answeredWith: match.url });
    const { answer } = match;
    setTimeout(() => this.#send(answer, request, response), this.#load.serverTimes ? answer.serverMs : 0);
  }

  #send(answer: ArchivedAnswer, request: IncomingMessage, response: ServerResponse): void {
    if (response.destroyed) return;
    if (answer.failed) {
      const stream = (response as { stream?: { close(): void } }).stream;
      if (stream) stream.close();
      else response.destroy();
      return;
    }
    const body = answer.body === null ? null : this.#encode(answer, answer.body);
    const headers: Record<string, string | string[]> = {};
    for (const [name, value] of answer.headers) {
      const key = name.toLowerCase();
      const known = headers[key];
      headers[key] =
        known === undefined
          ? value
          : key === 'set-cookie'
            ? [known, value].flat()
            : `${String(known)}, ${value}`;
    }
    headers['date'] = new Date().toUTCString();
    if (body) headers['content-length'] = String(body.length);
    if (body && answer.encodeNear) headers['content-encoding'] = answer.encodeNear.encoding;
    response.writeHead(answer.status, headers);
    response.end(request.method === 'HEAD' ? undefined : (body ?? undefined));
  }

  #encode(answer: ArchivedAnswer, body: Uint8Array): Uint8Array {
    if (!answer.encodeNear) return body;
    let encoded = this.#encoded.get(body);
    if (!encoded) this.#encoded.set(body, (encoded = encodeNear(body, answer.encodeNear).bytes));
    return encoded;
  }

  /** Encodes every body before the first load, so that no load pays for it. */
  warm(): void {
    for (const archive of this.#archives.values()) {
      for (const exchange of this.#load.exchanges) {
        const match = archive.match(exchange.method, exchange.url);
        if (match.how !== 'missing' && match.answer.body) this.#encode(match.answer, match.answer.body);
      }
      archive.rewind();
    }
  }

  close(): void {
    for (const server of this.#servers) server.close();
  }
}

function replaceOrigins(text: string, places: readonly [string, string][]): string {
  let out = text;
  for (const [from, to] of places) {
    out = out.replaceAll(from, to).replaceAll(from.replaceAll('/', '\\/'), to.replaceAll('/', '\\/'));
    out = out.replaceAll(`"${from.replace(/^https?:/, '')}`, `"${to}`);
  }
  return out;
}

function listenOn(server: Server): Promise<number> {
  return new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(0, '127.0.0.1', () => resolve((server.address() as AddressInfo).port));
  });
}

let server: ReplayServer | null = null;

async function obey(message: ToReplay): Promise<FromReplay> {
  switch (message.type) {
    case 'load': {
      server = new ReplayServer(message.load);
      server.warm();
      return { type: 'ready', hosts: await server.listen() };
    }
    case 'arm':
      server?.choose(message.name);
      return { type: 'done' };
    case 'add-arm':
      server?.addArm(message.arm);
      return { type: 'done' };
    case 'notes':
      return { type: 'notes', notes: server?.notes ?? [] };
    case 'preview':
      return { type: 'preview', url: await server!.preview(message.arm) };
    case 'close':
      server?.close();
      setImmediate(() => process.exit(0));
      return { type: 'done' };
  }
}

process.on('message', (message: ToReplay) => {
  obey(message).then(
    (answer) => process.send?.(answer),
    (error: unknown) =>
      process.send?.({
        type: 'failed',
        message: error instanceof Error ? error.message : String(error),
      } satisfies FromReplay),
  );
});
process.on('disconnect', () => process.exit(0));
