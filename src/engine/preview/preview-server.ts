import { randomBytes } from 'node:crypto';
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { Exchange, Header, PageClock } from '../../core/measure/exchange.ts';
import { headerOf } from '../../core/measure/headers.ts';
import { Archive, type Override } from '../replay/archive.ts';
import { answering, listenOn } from '../replay/listen.ts';
import { isText, replaceOrigins } from '../replay/origins.ts';
import { readHtml, rewrite } from '../../core/html/document.ts';
import { bundleOf } from '../chromium/bundles.ts';
import { pagePolicy, shellDocument, shellPolicy, type ShellRecorder, type ShellWords } from './shell.ts';

/** What is served for looking at by hand. */
export interface PreviewLoad {
  exchanges: readonly Exchange[];
  bodies: ReadonlyMap<string, Uint8Array>;
  overrides: readonly Override[];
  documentUrl: string;
  clock: PageClock | null;
  words: ShellWords;
  /** The application's origin, to whose window what is done on the page is told as a check; null for looking alone. */
  recordedFor: string | null;
}

const NOT_CAPTURED =
  '<!DOCTYPE html><meta charset="utf-8"><title>Not captured</title><p>This address is not in the capture. Only the captured page can be clicked through here.</p><p><a href="javascript:history.back()">Back</a></p>';

/** Headers that say what a body is, and who of the page's own hosts may read it. All else is left out. */
const PASSED =
  /^(content-type|content-language|x-content-type-options|link|location|refresh|vary|timing-allow-origin|access-control-.+|cross-origin-resource-policy)$/i;

/**
 * Serves one arm of a captured page over plain HTTP, for any browser: each captured host under a name below
 * `*.localhost` (which is loopback: RFC 6761, section 6.3) that nobody can guess, all on one port. Captured addresses in
 * text are rewritten to those names, so that nothing reaches the live site; the page is shown in a frame of a small
 * document of ours, which keeps it from leading anywhere else.
 */
export class PreviewServer {
  #load: PreviewLoad;
  #archive: Archive;
  #server: Server;
  #below = `${randomBytes(12).toString('hex')}.localhost`;
  /** Captured origins by the names that they are served under. */
  #origins = new Map<string, string>();
  #places: [string, string][] = [];
  #page = '';
  #recorder: ShellRecorder | null = null;
  #ours = '';
  #askedAt = Date.now();

  constructor(load: PreviewLoad) {
    this.#load = load;
    this.#archive = new Archive(load.exchanges, load.bodies, load.overrides, load.clock);
    this.#server = createServer(
      answering((path, request, response) => this.#answer(path, request, response)),
    );
  }

  /** @returns the address to open */
  async listen(): Promise<string> {
    const port = await listenOn(this.#server);
    const { origin, pathname, search } = new URL(this.#load.documentUrl);
    const captured = new Set([origin, ...this.#load.exchanges.map((one) => new URL(one.url).origin)]);
    for (const [index, from] of [...captured].entries()) {
      const host = `h${index}.${this.#below}:${port}`;
      this.#origins.set(host, from);
      this.#places.push([from, `http://${host}`]);
    }
    this.#ours = `http://*.${this.#below}:${port}`;
    const [, served] = this.#places[0]!;
    this.#page = served + pathname + search;
    const { recordedFor: application } = this.#load;
    if (application)
      this.#recorder = { page: served, application, nonce: randomBytes(16).toString('base64url') };
    return `http://${this.#shell(port)}/`;
  }

  /** How long nothing has been asked for, ms. */
  get idleMs(): number {
    return Date.now() - this.#askedAt;
  }

  #shell(port: number): string {
    return `page.${this.#below}:${port}`;
  }

  #answer(path: string, request: IncomingMessage, response: ServerResponse): void {
    request.resume();
    this.#askedAt = Date.now();
    const host = request.headers.host ?? '';
    const origin = this.#origins.get(host);
    if (origin !== undefined) this.#answerCaptured(origin + path, request, response);
    else if (path === '/' && host === this.#shell(request.socket.localPort ?? 0))
      response
        .writeHead(200, {
          'content-type': 'text/html; charset=utf-8',
          'content-security-policy': shellPolicy(this.#ours, this.#recorder),
          'cache-control': 'no-store',
          'referrer-policy': 'no-referrer',
        })
        .end(shellDocument(this.#page, this.#load.words, this.#recorder));
    // Asked under a name that was pointed here (RFC 9110, section 15.5.20).
    else response.writeHead(421, { 'content-type': 'text/plain' }).end('There is nothing of that name here.');
  }

  #answerCaptured(url: string, request: IncomingMessage, response: ServerResponse): void {
    const match = this.#archive.match(request.method ?? 'GET', url);
    // What would stand between the page and its answers from now on is not installed.
    const isServiceWorker = request.headers['service-worker'] !== undefined;
    if (match.how === 'missing' || match.answer.failed || isServiceWorker) {
      response.writeHead(404, { ...this.#guards, 'content-type': 'text/html; charset=utf-8' });
      response.end(NOT_CAPTURED);
      return;
    }
    const { status, headers, body } = match.answer;
    const isRewritten = body !== null && isText(headerOf(headers, 'content-type') ?? '');
    response.writeHead(status, [...this.#passed(headers), ...Object.entries(this.#guards).flat()]);
    const served = body && url === this.#recordedUrl ? this.#withRecorder(body, headers) : body;
    response.end(
      isRewritten
        ? Buffer.from(replaceOrigins(Buffer.from(served!).toString('latin1'), this.#places), 'latin1')
        : (served ?? undefined),
    );
  }

  /** The page's own address, where what is done on it is written down. */
  get #recordedUrl(): string | null {
    return this.#recorder && this.#load.documentUrl.replace(/#.*/, '');
  }

  /** The page with our recorder before all scripts of its own. */
  #withRecorder(body: Uint8Array, headers: readonly Header[]): Uint8Array {
    const { afterCharset: at } = readHtml(body, headerOf(headers, 'content-type') ?? '');
    const shell = JSON.stringify(`http://${this.#shell(Number(new URL(this.#page).port))}`);
    const code = `${bundleOf('own-world/recorder.ts').replace(/;$/, '')}.record(${shell})`;
    const text = `<script>${code.replaceAll('</script', '<\\/script')}</script>`;
    return rewrite(body, [{ start: at, end: at, text }]);
  }

  /** Names and values in turn. */
  #passed(headers: readonly Header[]): string[] {
    return headers
      .filter(([name]) => PASSED.test(name))
      .flatMap(([name, value]) => [name, replaceOrigins(value, this.#places)]);
  }

  get #guards(): Record<string, string> {
    return {
      'content-security-policy': pagePolicy(this.#ours),
      'cache-control': 'no-store',
      'referrer-policy': 'same-origin',
    };
  }
}
