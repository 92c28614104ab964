import { createWriteStream } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ReadableStream } from 'node:stream/web';
import type { Database } from '../store/database.ts';
import { addUpload, addUploadPart, deleteUpload, uploadParts } from '../store/uploads.ts';

/** A row holds this much of a file. */
const PART_BYTES = 4_000_000;

/** Keeps a file as it arrives, whatever its size; one that breaks off is not kept. @returns its number */
export async function keepUpload(database: Database, body: ReadableStream): Promise<number> {
  const id = await addUpload(database);
  try {
    let number = 0;
    let waiting: Uint8Array[] = [];
    let size = 0;
    const write = async () => {
      await addUploadPart(database, id, number++, Buffer.concat(waiting));
      waiting = [];
      size = 0;
    };
    for await (const chunk of body as AsyncIterable<Uint8Array>) {
      waiting.push(chunk);
      size += chunk.length;
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
