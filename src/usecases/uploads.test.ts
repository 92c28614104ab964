import { existsSync, readFileSync, rmSync } from 'node:fs';
import { ReadableStream } from 'node:stream/web';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { emptyData } from '../../tests/data-folders.ts';
import { openDatabase, type Database } from '../store/database.ts';
import { forgetOldUploads, hasUpload } from '../store/uploads.ts';
import { keepUpload, withUploadAsFile } from './uploads.ts';

describe('uploads', () => {
  let folder: string;
  let database: Database;
  beforeAll(async () => {
    folder = emptyData();
    database = await openDatabase(folder, 'the tests');
  });
  afterAll(async () => {
    await database.close();
    rmSync(folder, { recursive: true, force: true });
  });

  const streamed = (chunks: Uint8Array[], broken = false) =>
    new ReadableStream({
      start(controller) {
        for (const chunk of chunks) controller.enqueue(chunk);
        if (broken) controller.error(new Error('The line was cut.'));
        else controller.close();
      },
    });

  it('come out as they went in, whatever their size, and leave no file behind', async () => {
    const chunks = Array.from({ length: 9 }, (_, index) => new Uint8Array(1_000_001).fill(index));
    const id = await keepUpload(database, streamed(chunks));
    let path = '';
    await withUploadAsFile(database, id, (file) => {
      path = file;
      expect(readFileSync(file).equals(Buffer.concat(chunks))).toBe(true);
      return Promise.resolve();
    });
    expect(existsSync(path)).toBe(false);
  });

  it('go when nothing was done with them for a week', async () => {
    const old = await keepUpload(database, streamed([new Uint8Array(3)]));
    await database.query("UPDATE upload SET kept_at = now() - interval '8 days' WHERE id = $1", [old]);
    await forgetOldUploads(database);
    expect(await hasUpload(database, old)).toBe(false);
    expect(await database.query('SELECT id FROM upload')).toHaveLength(1);
  });

  it('are not kept when they are larger than a capture can be, and no more of them is taken', async () => {
    let given = 0;
    const endless = new ReadableStream({
      pull: (controller) => {
        given += 1_000_000;
        controller.enqueue(new Uint8Array(1_000_000));
      },
    });
    await expect(keepUpload(database, endless, 12_000_000)).rejects.toThrow(
      'The file is larger than 12 MB. Nothing of it was kept.',
    );
    expect(given).toBeLessThan(16_000_000);
    expect(await database.query('SELECT id FROM upload')).toHaveLength(1);
  });

  it('are not kept when they break off', async () => {
    await expect(keepUpload(database, streamed([new Uint8Array(5_000_000)], true))).rejects.toThrow();
    // What was kept before stays.
    expect(await database.query('SELECT id FROM upload')).toHaveLength(1);
  });
});
