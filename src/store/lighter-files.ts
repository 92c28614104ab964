import { addBody } from './captures.ts';
import type { Queries } from './database.ts';
import { LIGHTER_IMAGES, type LighterRecord } from './records/lighter-files.ts';

export interface StoredLighter extends LighterRecord {
  captureId: number;
}

/** Keeps a page's lighter images in the place of those of before. Call it inside a transaction. */
export async function keepLighter(
  queries: Queries,
  pageId: number,
  captureId: number,
  record: LighterRecord,
  bodies: ReadonlyMap<string, Uint8Array>,
): Promise<void> {
  await queries.query('DELETE FROM lighter_images WHERE page_id = $1', [pageId]);
  await queries.query(
    'INSERT INTO lighter_images (page_id, capture_id, taken_at, data) VALUES ($1, $2, $3, $4)',
    [pageId, captureId, record.takenAt, LIGHTER_IMAGES.write(record)],
  );
  for (const [hash, bytes] of bodies) {
    await addBody(queries, hash, bytes);
    await queries.query('INSERT INTO lighter_body (page_id, hash) VALUES ($1, $2)', [pageId, hash]);
  }
}

/** The lighter images of a page; null where none were made. */
export async function lighterOf(queries: Queries, pageId: number): Promise<StoredLighter | null> {
  const [row] = await queries.query<{ captureId: number; data: unknown }>(
    'SELECT capture_id AS "captureId", data FROM lighter_images WHERE page_id = $1',
    [pageId],
  );
  return row ? { ...LIGHTER_IMAGES.read(row.data), captureId: row.captureId } : null;
}

/** When they were made, to know them from others; '' where none were. */
export async function lighterMark(queries: Queries, pageId: number): Promise<string> {
  const [row] = await queries.query<{ mark: string }>(
    'SELECT taken_at::text AS mark FROM lighter_images WHERE page_id = $1',
    [pageId],
  );
  return row?.mark ?? '';
}

/** The bytes of their versions, by hash. */
export async function lighterBodies(queries: Queries, pageId: number): Promise<Map<string, Uint8Array>> {
  const rows = await queries.query<{ hash: string; bytes: Uint8Array }>(
    'SELECT body.hash, body.bytes FROM lighter_body JOIN body USING (hash) WHERE page_id = $1',
    [pageId],
  );
  return new Map(rows.map((row) => [row.hash, row.bytes]));
}
