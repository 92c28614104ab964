import { createServer as createHttp, type IncomingMessage, type ServerResponse } from 'node:http';
import { createSecureServer, type Http2ServerResponse, type ServerHttp2Session } from 'node:http2';
import { createServer as createTcp, type Server, type Socket } from 'node:net';
import type { ReplayNote } from '../../core/measure/run.ts';
import { PIECE_BYTES } from '../../core/network/send-order.ts';
import { Archive, type ArchivedAnswer } from './archive.ts';
import { measureOffset } from './calibrate.ts';
import { encodeNear } from './encode.ts';
import { isNotModified, moveDates } from './headers.ts';
import { answering, listenOn, orRefuse } from './listen.ts';
import type { ArmFiles, ReplayedHost, ReplayLoad, ReplayReport } from './messages.ts';
import { isText, replaceOrigins } from './origins.ts';
import { ResponseScheduler } from './response-scheduler.ts';
import { Shaper } from './shaper.ts';

/** A few bytes more or less of a smaller body than this are no deviation to speak of. */
const TELLING_BYTES = 2_000;

/** Serves a capture's bytes on 127.0.0.1, one port a host, through the bottleneck where there is one. */
export class ReplayServer {
  #load: ReplayLoad;
  #archives = new Map<string, Archive>();
  #arm = '';
  #notes: ReplayNote[] = [];
  #servers: Server[] = [];
  #sockets = new Set<Socket>();
  #encoded = new WeakMap<Uint8Array, { bytes: Buffer; deviation: number }>();
  #upgrades = new WeakMap<Uint8Array, Uint8Array>();
  #shaper: Shaper | null = null;
  #movedByMs: number;

  constructor(load: ReplayLoad) {
    this.#load = load;
    this.#movedByMs = Date.now() - Date.parse(load.takenAt);
    for (const arm of load.arms) this.addArm(arm);
    this.#arm = load.arms[0]?.name ?? '';
  }

  addArm(arm: ArmFiles): void {
    this.#archives.set(
      arm.name,
      new Archive(this.#load.exchanges, this.#load.bodies, arm.overrides, this.#load.clock),
    );
  }

  choose(name: string): void {
    this.#archive(name).rewind();
    this.#arm = name;
    this.#notes = [];
    this.#shaper?.takeLateness();
    this.#shaper?.takeSentBytes();
  }

  report(): ReplayReport {
    return {
      notes: this.#notes,
      latenessMs: this.#shaper?.takeLateness() ?? [],
      sentBytes: this.#shaper?.takeSentBytes() ?? 0,
    };
  }

  #archive(name: string): Archive {
    const archive = this.#archives.get(name);
    if (!archive) throw new Error(`There is no arm “${name}”.`);
    return archive;
  }

  /** Opens a port for every captured host; Chromium is told to find the hosts there. */
  async listen(): Promise<ReplayedHost[]> {
    const { network } = this.#load;
    if (network) this.#shaper = new Shaper(network, await measureOffset());
    const places = new Map<string, Set<string>>();
    for (const url of [this.#load.documentUrl, ...this.#load.exchanges.map((one) => one.url)]) {
      const { origin } = new URL(url);
      // As production serves it, what a host said plainly and what it said securely come from one place.
      const place = this.#load.asProduction ? origin.replace(/^http:/, 'https:') : origin;
      places.set(place, (places.get(place) ?? new Set()).add(origin));
    }
    const hosts: ReplayedHost[] = [];
    for (const [place, origins] of places) {
      const { protocol, hostname, port } = new URL(place);
      const listen = await listenOn(this.#serve(place, [...origins]));
      hosts.push({ host: hostname, port: Number(port || (protocol === 'https:' ? 443 : 80)), listen });
    }
    return hosts;
  }

  /** A server for one place: plain or secure, its sockets behind the bottleneck. @param origins captured ones that it answers for */
  #serve(place: string, origins: readonly string[]): Server {
    const { certificate, asProduction, exchanges } = this.#load;
    const secure = place.startsWith('https:');
    const oldProtocol =
      !asProduction &&
      exchanges.some((one) => one.url.startsWith(`${place}/`) && one.protocol === 'http/1.1');
    const answer = answering((path, request, response) => this.#answer(origins, path, request, response));
    const inner: Server = secure
      ? createSecureServer(
          { ...certificate, allowHTTP1: true, ...(oldProtocol ? { ALPNProtocols: ['http/1.1'] } : {}) },
          answer as never,
        )
      : createHttp(answer);
    inner.on('error', () => undefined);
    inner.on('tlsClientError', () => undefined);
    const shaper = this.#shaper;
    const outer = shaper
      ? createTcp((socket) => {
          this.#keep(socket);
          // TLS and HTTP/2 end inside the bottleneck: kernel buffers would swallow what is to be ordered.
          inner.emit('connection', shaper.connect(socket));
        })
      : inner.on('connection', (socket: Socket) => this.#keep(socket));
    this.#servers.push(outer);
    return outer;
  }

  #keep(socket: Socket): void {
    this.#sockets.add(socket);
    socket.on('close', () => this.#sockets.delete(socket));
    socket.on('error', () => undefined);
  }

  #answer(
    origins: readonly string[],
    path: string,
    request: IncomingMessage,
    response: ServerResponse,
  ): void {
    const archive = this.#archive(this.#arm);
    const method = request.method ?? 'GET';
    const urls = origins.map((origin) => origin + path);
    const url = urls.find((one) => archive.holds(method, one)) ?? urls[0]!;
    const match = archive.match(method, url);
    request.resume();
    if (match.how === 'missing') {
      this.#notes.push({ url, matched: 'missing', answeredWith: null });
      response.writeHead(504, { 'content-type': 'text/plain' });
      response.end('The capture holds no answer for this request.');
      return;
    }
    if (match.how === 'loose') this.#notes.push({ url, matched: 'loose', answeredWith: match.url });
    const { answer } = match;
    const send = () => orRefuse(response, () => this.#send(answer, request, response));
    setTimeout(send, this.#load.serverTimes ? answer.serverMs : 0);
  }

  #send(answer: ArchivedAnswer, request: IncomingMessage, response: ServerResponse): void {
    if (response.destroyed) return;
    const stream = (response as ServerResponse & Partial<Http2ServerResponse>).stream ?? null;
    if (answer.failed) {
      if (stream) stream.close();
      else response.destroy();
      return;
    }
    const headers = joined(moveDates(answer.headers, this.#movedByMs));
    headers['date'] = new Date().toUTCString();
    const unchanged =
      answer.status === 200 &&
      isNotModified(
        {
          ifNoneMatch: request.headers['if-none-match'],
          ifModifiedSince: request.headers['if-modified-since'],
        },
        answer.headers,
      );
    if (unchanged) {
      delete headers['content-type'];
      response.writeHead(304, headers);
      response.end();
      return;
    }
    const type = String(headers['content-type'] ?? '');
    const body = answer.body === null ? null : this.#encode(answer, this.#upgraded(answer.body, type)).bytes;
    if (body) headers['content-length'] = String(body.length);
    if (body && answer.encodeNear) headers['content-encoding'] = answer.encodeNear.encoding;
    if (this.#load.asProduction && /html/.test(type))
      headers['content-security-policy'] = [headers['content-security-policy'] ?? []]
        .flat()
        .concat('upgrade-insecure-requests');
    response.writeHead(answer.status, headers);
    if (request.method === 'HEAD' || !body || body.length === 0) response.end();
    else if (stream?.session && this.#shaper) {
      const scheduler = ResponseScheduler.of(stream.session as ServerHttp2Session, PIECE_BYTES);
      scheduler.send(stream, body, request.headers['priority'] as string | undefined);
    } else response.end(body);
  }

  /** As production would serve it, a page names its own plain addresses as secure ones. */
  #upgraded(body: Uint8Array, type: string): Uint8Array {
    if (!this.#load.asProduction || !isText(type)) return body;
    let known = this.#upgrades.get(body);
    if (!known) {
      const plain = new Set(
        this.#load.exchanges
          .filter((one) => one.url.startsWith('http:'))
          .map((one) => new URL(one.url).origin),
      );
      const places = [...plain].map((from): [string, string] => [from, from.replace(/^http:/, 'https:')]);
      known = Buffer.from(replaceOrigins(Buffer.from(body).toString('latin1'), places), 'latin1');
      this.#upgrades.set(body, known);
    }
    return known;
  }

  #encode(answer: ArchivedAnswer, body: Uint8Array): { bytes: Uint8Array; deviation: number } {
    if (!answer.encodeNear) return { bytes: body, deviation: 0 };
    let encoded = this.#encoded.get(body);
    if (!encoded) this.#encoded.set(body, (encoded = encodeNear(body, answer.encodeNear)));
    return encoded;
  }

  /** Encodes every body before the first load, so that no load pays for it. @returns the greatest deviation from a captured size, as a share */
  warm(): number {
    let most = 0;
    for (const archive of this.#archives.values()) {
      for (const exchange of this.#load.exchanges) {
        const match = archive.match(exchange.method, exchange.url);
        if (match.how === 'missing' || !match.answer.body) continue;
        const { deviation } = this.#encode(match.answer, match.answer.body);
        if (exchange.wireBytes >= TELLING_BYTES && Math.abs(deviation) > Math.abs(most)) most = deviation;
      }
      archive.rewind();
    }
    return most;
  }

  close(): void {
    for (const server of this.#servers) server.close();
    for (const socket of this.#sockets) socket.destroy();
  }
}

/** Headers of one name joined as HTTP allows; cookies stay apart (RFC 9110, section 5.3). */
function joined(headers: readonly (readonly [string, string])[]): Record<string, string | string[]> {
  const out: Record<string, string | string[]> = {};
  for (const [name, value] of headers) {
    const key = name.toLowerCase();
    const known = out[key];
    out[key] =
      known === undefined
        ? value
        : key === 'set-cookie'
          ? [known, value].flat()
          : `${String(known)}, ${value}`;
  }
  return out;
}
