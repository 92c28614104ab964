import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { gunzipSync, gzipSync } from 'node:zlib';
import type { Plan } from '../core/treat/plan.ts';
import type { ResultOf } from '../engine/jobs/orders.ts';

/** The demo data: the results of a real run of the tool on the demo home page, and when that was. */
export interface Seed {
  date: string;
  url: string;
  measure: ResultOf<'measure'>;
  fold: ResultOf<'fold'>;
  lighter: ResultOf<'lighter-images'>;
  /** By reading alone. */
  plan: Plan;
  rehearse: ResultOf<'rehearse'>;
  trial: ResultOf<'trial'>;
  ruleGains: ResultOf<'rule-gains'>;
}

const FOLDER = join(process.cwd(), 'src', 'demo');

/** Where the demo's addresses in its files say it is served. */
const WRITTEN_ORIGIN = 'https://www.skerravane.localhost:9443';

/** The demo's made-up file of visitors' percentiles, for the demo as it is served now. */
export function visitorsFile(origin: string): string {
  const text = readFileSync(join(FOLDER, 'visitors.csv'), 'utf8');
  return text.replaceAll(WRITTEN_ORIGIN, origin);
}

const FILE = join(FOLDER, 'seed', 'home.json.gz');

/** Bytes and maps are kept as tagged objects, so that the file is plain JSON. */
export function writeSeed(seed: Seed): void {
  const text = JSON.stringify(seed, (_key, value: unknown) => {
    if (value instanceof Map) return { $map: [...value] };
    if (isBufferJson(value)) return { $bytes: Buffer.from(value.data).toString('base64') };
    if (value instanceof Uint8Array) return { $bytes: Buffer.from(value).toString('base64') };
    return value;
  });
  writeFileSync(FILE, gzipSync(text, { level: 9 }));
}

export function readSeed(): Seed {
  return JSON.parse(gunzipSync(readFileSync(FILE)).toString('utf8'), (_key, value: unknown) => {
    if (typeof value !== 'object' || value === null) return value;
    if ('$bytes' in value) return Buffer.from(String(value.$bytes), 'base64');
    if ('$map' in value) return new Map(value.$map as [unknown, unknown][]);
    return value;
  }) as Seed;
}

/** A Buffer has turned itself into this before a replacer sees it. */
function isBufferJson(value: unknown): value is { type: 'Buffer'; data: number[] } {
  return (
    typeof value === 'object' &&
    value !== null &&
    'type' in value &&
    value.type === 'Buffer' &&
    'data' in value &&
    Array.isArray(value.data)
  );
}
