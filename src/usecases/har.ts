import { createWriteStream, mkdirSync } from 'node:fs';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ReadableStream } from 'node:stream/web';
import type { HarFile } from '../core/har/format.ts';
import { writeHar } from '../core/har/write-har.ts';
import type { Queries } from '../store/database.ts';
import { secretsOf } from '../store/settings.ts';
import { dataFolder } from './application.ts';
import { measuredPage } from './stored-page.ts';

/** A page's newest capture under conditions as HAR 1.2; null when it was not measured. */
export async function harOf(
  queries: Queries,
  pageId: number,
  conditionsId: string,
  keepSecrets: boolean,
): Promise<HarFile | null> {
  const page = await measuredPage(queries, pageId, conditionsId);
  if (!page) return null;
  const secrets = await secretsOf(queries, pageId);
  return writeHar(page.capture, page.bodies, {
    keepSecrets,
    secretHeaders: secrets.headers.map(([name]) => name),
    metrics: page.medianRun.metrics,
  });
}

/** Puts an uploaded file aside as it arrives, whatever its size. @returns where it is */
export async function putAside(body: ReadableStream): Promise<string> {
  const folder = join(dataFolder(), 'uploads');
  mkdirSync(folder, { recursive: true });
  const file = join(folder, `${Date.now()}-${Math.floor(Math.random() * 1e9)}.har`);
  try {
    await pipeline(Readable.fromWeb(body), createWriteStream(file));
    return file;
  } catch (error) {
    await rm(file, { force: true });
    throw error;
  }
}
