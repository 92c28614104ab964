import { createHash } from 'node:crypto';
import type { AssetKind, Capture, Exchange, Header } from '../../src/core/measure/exchange.ts';
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
      observations: { ruleUsage: [], scriptUsage: [], fonts: [], lcp: null, shifts: [], boxes: [] },
      clock: { seed: 7, startMs: Date.parse('2026-11-03T10:00:00.000Z') },
      dataUrls: [],
      seenOnce: [],
      acceptedCertificates: [],
      notes: [],
    },
  };
}
