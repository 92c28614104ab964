import { createHash } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { extname, join, sep } from 'node:path';
import sharp from 'sharp';
import {
  NOTHING_OBSERVED,
  type Capture,
  type Exchange,
  type Header,
  type Observations,
} from '../../src/core/measure/exchange.ts';
import type { AssetKind } from '../../src/core/measure/discovery.ts';
import { CapturedPage } from '../../src/core/page/captured-page.ts';
import { exchangeOf } from './defaults.ts';

/** One file of a capture made by hand. */
export interface MadeFile {
  body: string | Buffer;
  type: string;
  kind: AssetKind;
  headers?: Header[];
  serverMs?: number;
}

/** A capture that no live site ever gave: files by address, the first one the page itself. */
export function madeCapture(
  files: Record<string, MadeFile>,
  over: Partial<Exchange> = {},
): { capture: Capture; bodies: Map<string, Uint8Array> } {
  const bodies = new Map<string, Uint8Array>();
  const exchanges = Object.entries(files).map(([url, file], order) => {
    const body = Buffer.from(file.body);
    const hash = createHash('sha256').update(body).update(url).digest('hex');
    bodies.set(hash, body);
    return exchangeOf({
      order,
      url,
      kind: file.kind,
      responseHeaders: [['content-type', file.type], ...(file.headers ?? [])],
      mimeType: file.type,
      bodyHash: hash,
      bodyBytes: body.length,
      wireBytes: body.length,
      serverMs: file.serverMs ?? 0,
      ...over,
    });
  });
  const url = Object.keys(files)[0]!;
  return {
    bodies,
    capture: {
      url,
      documentUrl: url,
      title: 'Made',
      takenAt: '2026-11-03T10:00:00.000Z',
      exchanges,
      observations: NOTHING_OBSERVED,
      clock: { seed: 7, startMs: Date.parse('2026-11-03T10:00:00.000Z') },
      dataUrls: [],
      seenOnce: [],
      acceptedCertificates: [],
      notes: [],
    },
  };
}

interface MadePageOptions {
  url?: string;
  type?: string;
  policies?: string[];
  observations?: Partial<Observations> | undefined;
}

/** A page made by hand: its HTML, and files by their path or address. */
export function madePage(
  html: string | Buffer,
  files: Record<string, string | MadeFile> = {},
  {
    url = 'https://quay.test/',
    type = 'text/html; charset=utf-8',
    policies = [],
    observations = {},
  }: MadePageOptions = {},
): CapturedPage {
  const made: Record<string, MadeFile> = {
    [url]: {
      body: html,
      type,
      kind: 'document',
      headers: policies.map((policy) => ['content-security-policy', policy]),
    },
  };
  for (const [name, body] of Object.entries(files)) {
    if (typeof body !== 'string') {
      made[new URL(name, url).href] = body;
      continue;
    }
    const isSheet = /\.css(\?|$)/.test(name);
    made[new URL(name, url).href] = {
      body,
      type: isSheet ? 'text/css' : 'text/javascript',
      kind: isSheet ? 'stylesheet' : 'script',
    };
  }
  const { capture, bodies } = madeCapture(made);
  return new CapturedPage({ ...capture, observations: { ...NOTHING_OBSERVED, ...observations } }, bodies);
}

/** A picture of one colour. */
export async function madeImage(width: number, height: number, type: 'png' | 'jpeg' = 'png', turned = 1) {
  const image = sharp({ create: { width, height, channels: 3, background: 'teal' } }).toFormat(type);
  const body = await image.withMetadata({ orientation: turned }).toBuffer();
  return { body, type: `image/${type}`, kind: 'image' } satisfies MadeFile;
}

const KINDS: Record<string, [type: string, kind: AssetKind]> = {
  '.html': ['text/html', 'document'],
  '.css': ['text/css', 'stylesheet'],
  '.js': ['text/javascript', 'script'],
  '.woff2': ['font/woff2', 'font'],
  '.jpg': ['image/jpeg', 'image'],
  '.png': ['image/png', 'image'],
  '.svg': ['image/svg+xml', 'image'],
};

/** A capture of a folder's files as they would be served: its index.html is the page. */
export function folderCapture(folder: string, origin = 'https://template.test') {
  const files: Record<string, MadeFile> = {};
  const names = readdirSync(folder, { recursive: true, encoding: 'utf8' }).sort();
  for (const name of ['index.html', ...names.filter((one) => one !== 'index.html')]) {
    const known = KINDS[extname(name)];
    if (!known) continue;
    const url = `${origin}/${name === 'index.html' ? '' : name.split(sep).join('/')}`;
    files[url] = { body: readFileSync(join(folder, name)), type: known[0], kind: known[1] };
  }
  return madeCapture(files);
}
