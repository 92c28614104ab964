import { createWriteStream } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ReadableStream } from 'node:stream/web';
import type { Database } from '../store/database.ts';
import { addUpload, addUploadPart, deleteUpload, uploadParts } from '../store/uploads.ts';

/** A file larger than this is no capture of a page. */
export const UPLOAD_LIMIT = 1_000_000_000;

/** A file over the limit. */
export class TooLarge extends Error {
  constructor(limit: number) {
    super(
      `The file is larger than ${limit / 1_000_000} MB. Nothing of it was kept. Record it without films, or for a shorter time.`,
    );
  }
}

/** A row holds this much of a file. */
const PART_BYTES = 4_000_000;

/**
 * Keeps a file as it arrives, part by part; one that breaks off is not kept.
 *
 * @returns its number
 * @throws TooLarge as soon as more has come than the limit
 */
export async function keepUpload(
  database: Database,
  body: ReadableStream,
  limit = UPLOAD_LIMIT,
): Promise<number> {
  const id = await addUpload(database);
  try {
    let number = 0;
    let waiting: Uint8Array[] = [];
    let size = 0;
    let all = 0;
    const write = async () => {
      await addUploadPart(database, id, number++, Buffer.concat(waiting));
      waiting = [];
      size = 0;
    };
    for await (const chunk of body as AsyncIterable<Uint8Array>) {
      waiting.push(chunk);
      size += chunk.length;
      all += chunk.length;
      if (all > limit) throw new TooLarge(limit);
      if (size >= PART_BYTES) await write();
    }
    if (size > 0) await write();
    return id;
  } catch (error) {
    await deleteUpload(database, id);
    throw error;
  }
}

/** Lets work read an upload as a file, which is gone afterwards. */
export async function withUploadAsFile<T>(
  database: Database,
  uploadId: number,
  work: (path: string) => Promise<T>,
): Promise<T> {
  const folder = await mkdtemp(join(tmpdir(), 'wistrel-upload-'));
  try {
    const path = join(folder, 'upload');
    await pipeline(Readable.from(uploadParts(database, uploadId)), createWriteStream(path, { mode: 0o600 }));
    return await work(path);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
