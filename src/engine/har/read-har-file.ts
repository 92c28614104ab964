import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { Writable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type StreamJson from 'stream-json';
import type StreamJsonPick from 'stream-json/filters/Pick';
import type StreamJsonArray from 'stream-json/streamers/StreamArray';
import { NOTHING_OBSERVED, type Capture, type Exchange } from '../../core/measure/exchange.ts';
import { readEntry, serverTimes, type ReadEntry } from '../../core/har/read-har.ts';
import { readHtml } from '../../core/html/document.ts';
import { headerOf } from '../../core/measure/headers.ts';
import { MOST_REQUESTS, tooLarge } from '../limits.ts';
import { Trouble } from '../errors.ts';

const require = createRequire(import.meta.url);
const { parser } = require('stream-json') as typeof StreamJson;
const { pick } = require('stream-json/filters/Pick') as typeof StreamJsonPick;
const { streamArray } = require('stream-json/streamers/StreamArray') as typeof StreamJsonArray;

export interface HarContents {
  capture: Capture;
  bodies: Map<string, Uint8Array>;
  /** False when the file holds no bodies: then it can be mapped, not replayed. */
  canReplay: boolean;
}

/**
 * Reads a HAR file, entry by entry, so that its size does not matter.
 *
 * @param onProgress is told what share of the file has been read
 * @throws Trouble that says what is wrong with the file
 */
export async function readHarFile(
  path: string,
  onProgress: (share: number) => void = () => undefined,
): Promise<HarContents> {
  const size = (await stat(path).catch(() => null))?.size;
  if (size === undefined) throw new Trouble('input', `There is no file ${path}.`);
  const collector = new Collector();
  const source = createReadStream(path);
  source.on('data', () => onProgress(size ? source.bytesRead / size : 1));
  const take = new Writable({
    objectMode: true,
    write({ value }: { value: unknown }, _encoding, done) {
      try {
        collector.add(value);
        done();
      } catch (error) {
        done(error as Error);
      }
    },
  });
  try {
    await pipeline(source, parser(), pick({ filter: /^log\.entries$/i }), streamArray(), take);
  } catch (error) {
    throw new Trouble(
      'input',
      `${path} is no readable HAR file: ${(error instanceof Error ? error.message.split('\n')[0]! : String(error)).replace(/\.$/, '')}. Nothing stored was changed.`,
    );
  }
  return collector.finish(path);
}

class Collector {
  #entries: { exchange: Exchange; startedMs: number; saysServerMs: boolean }[] = [];
  #bodies = new Map<string, Uint8Array>();
  #total = 0;
  #notes: string[] = [];

  add(value: unknown): void {
    const read: ReadEntry | null = readEntry(value);
    if (!read) return;
    if (this.#entries.length === MOST_REQUESTS)
      throw new Error(`it holds more than ${MOST_REQUESTS} requests`);
    let hash: string | null = null;
    const { body } = read;
    const why = body && tooLarge(body.length, this.#total);
    if (why) this.#notes.push(`${read.exchange.url} ${why}; it is left out.`);
    else if (body && (body.length > 0 || read.exchange.status === 200)) {
      this.#total += body.length;
      hash = createHash('sha256').update(body).digest('hex');
      this.#bodies.set(hash, body);
    }
    this.#entries.push({
      startedMs: read.startedMs,
      saysServerMs: read.saysServerMs,
      exchange: { ...read.exchange, bodyHash: hash, order: 0 },
    });
  }

  finish(path: string): HarContents {
    this.#entries.sort((a, b) => a.startedMs - b.startedMs);
    const first = this.#entries[0];
    const serverMs = serverTimes(this.#entries);
    const exchanges = this.#entries.map(({ exchange, startedMs }, order) => ({
      ...exchange,
      order,
      serverMs: serverMs[order]!,
      startMs: startedMs - (first?.startedMs ?? 0),
    }));
    const page = exchanges.find((one) => one.kind === 'document' && one.outcome.state === 'answered');
    if (!first || !page)
      throw new Trouble(
        'input',
        `${path} holds no page: no entry of it is an HTML document that was answered.`,
      );
    for (const one of exchanges) if (one.kind === 'document' && one !== page) one.kind = chainKind(one, page);
    const html = page.bodyHash ? this.#bodies.get(page.bodyHash) : undefined;
    return {
      canReplay: html !== undefined && html.length > 0,
      bodies: this.#bodies,
      capture: {
        url: exchanges[0]!.url,
        documentUrl: page.url,
        title: html ? readHtml(html, headerOf(page.responseHeaders, 'content-type') ?? '').title : page.url,
        takenAt: new Date(first.startedMs || Date.now()).toISOString(),
        exchanges,
        observations: NOTHING_OBSERVED,
        clock: null,
        dataUrls: [],
        seenOnce: [],
        acceptedCertificates: [],
        notes: ['Read from a HAR file: no observations of rules, scripts and fonts.', ...this.#notes],
      },
    };
  }
}

/** Documents before the page are redirects to it; those after it are frames. */
function chainKind(one: Exchange, page: Exchange): Exchange['kind'] {
  return one.order < page.order ? 'document' : 'embed';
}
