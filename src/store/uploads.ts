import type { Database, Queries } from './database.ts';

/** Takes a new file, to be filled part by part. @returns its number */
export async function addUpload(queries: Queries): Promise<number> {
  const [row] = await queries.query<{ id: number }>('INSERT INTO upload DEFAULT VALUES RETURNING id');
  return row!.id;
}

/** Adds the next part of a file. @param number counted from 0 */
export async function addUploadPart(
  queries: Queries,
  uploadId: number,
  number: number,
  content: Uint8Array,
): Promise<void> {
  await queries.query('INSERT INTO upload_part (upload_id, number, content) VALUES ($1, $2, $3)', [
    uploadId,
    number,
    content,
  ]);
}

export async function hasUpload(queries: Queries, uploadId: number): Promise<boolean> {
  return (await queries.query('SELECT 1 FROM upload WHERE id = $1', [uploadId])).length > 0;
}

/** The parts of a file, one after the other, so that its size does not matter. */
export async function* uploadParts(database: Database, uploadId: number): AsyncGenerator<Uint8Array> {
  for (let number = 0; ; number++) {
    const [row] = await database.query<{ content: Uint8Array }>(
      'SELECT content FROM upload_part WHERE upload_id = $1 AND number = $2',
      [uploadId, number],
    );
    if (!row) return;
    yield row.content;
  }
}

export async function deleteUpload(queries: Queries, uploadId: number): Promise<void> {
  await queries.query('DELETE FROM upload WHERE id = $1', [uploadId]);
}

/** Files whose work was never done, nor tried again for a week, go. */
export async function forgetOldUploads(queries: Queries): Promise<void> {
  await queries.query("DELETE FROM upload WHERE kept_at < now() - interval '7 days'");
}
