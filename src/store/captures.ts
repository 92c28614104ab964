import { holdBack } from '../core/har/held-back.ts';
import type { Capture } from '../core/measure/exchange.ts';
import type { VisitState } from '../core/measure/visit.ts';
import type { Queries } from './database.ts';
import { CAPTURE } from './records/capture.ts';
import { secretsOf } from './settings.ts';
import { addCaptureSecrets } from './states.ts';

export interface StoredCapture {
  id: number;
  capture: Capture;
}

/** Stores a capture and its bodies; what it was made with that lets somebody in is stored apart, and sealed. Call it inside a transaction. */
export async function addCapture(
  queries: Queries,
  pageId: number,
  capture: Capture,
  bodies: ReadonlyMap<string, Uint8Array>,
  state: VisitState | null,
): Promise<number> {
  const given = state ? (await secretsOf(queries, pageId)).headers.map(([name]) => name) : [];
  const apart = state ? holdBack(capture, given) : null;
  const [row] = await queries.query<{ id: number }>(
    'INSERT INTO capture (page_id, taken_at, data) VALUES ($1, $2, $3) RETURNING id',
    [pageId, capture.takenAt, CAPTURE.write(apart?.capture ?? capture)],
  );
  for (const [hash, bytes] of bodies) {
    await addBody(queries, hash, bytes);
    await queries.query('INSERT INTO capture_body (capture_id, hash) VALUES ($1, $2)', [row!.id, hash]);
  }
  if (state) await addCaptureSecrets(queries, row!.id, { state, held: apart?.held ?? [] });
  return row!.id;
}

/** Keeps bytes under their hash, once. */
export async function addBody(queries: Queries, hash: string, bytes: Uint8Array): Promise<void> {
  await queries.query('INSERT INTO body (hash, bytes) VALUES ($1, $2) ON CONFLICT (hash) DO NOTHING', [
    hash,
    bytes,
  ]);
}

export async function findCapture(queries: Queries, id: number): Promise<StoredCapture | null> {
  const [row] = await queries.query<{ id: number; data: unknown }>(
    'SELECT id, data FROM capture WHERE id = $1',
    [id],
  );
  return row ? { id: row.id, capture: CAPTURE.read(row.data) } : null;
}

export async function latestCapture(queries: Queries, pageId: number): Promise<StoredCapture | null> {
  const [row] = await queries.query<{ id: number; data: unknown }>(
    'SELECT id, data FROM capture WHERE page_id = $1 ORDER BY id DESC LIMIT 1',
    [pageId],
  );
  return row ? { id: row.id, capture: CAPTURE.read(row.data) } : null;
}

/** A page of a site with its newest capture. */
export interface CapturedNeighbour {
  pageId: number;
  name: string;
  url: string;
  captureId: number;
  /** It was made with someone's cookies or storage. */
  signedIn: boolean;
}

/** The other pages of a page's site that were captured, by their order of importance. */
export function capturedNeighbours(queries: Queries, pageId: number): Promise<CapturedNeighbour[]> {
  return queries.query<CapturedNeighbour>(
    `SELECT page.id AS "pageId", page.name, page.url, latest.id AS "captureId",
            EXISTS (SELECT 1 FROM capture_state WHERE capture_id = latest.id) AS "signedIn"
     FROM page JOIN LATERAL
       (SELECT id FROM capture WHERE page_id = page.id ORDER BY id DESC LIMIT 1) latest ON true
     WHERE page.site_id = (SELECT site_id FROM page WHERE id = $1) AND page.id <> $1
     ORDER BY page.rank, page.id`,
    [pageId],
  );
}

/** A page's newest capture that was made as any visitor: without a sign-in or steps of the user's. */
export async function latestVisitorCapture(queries: Queries, pageId: number): Promise<Capture | null> {
  const [row] = await queries.query<{ data: unknown }>(
    `SELECT capture.data FROM capture LEFT JOIN capture_state ON capture_id = capture.id
     WHERE page_id = $1 AND capture_id IS NULL ORDER BY capture.id DESC LIMIT 1`,
    [pageId],
  );
  return row ? CAPTURE.read(row.data) : null;
}

/** One body by its hash. */
export async function bodyOf(queries: Queries, hash: string): Promise<Uint8Array | null> {
  const [row] = await queries.query<{ bytes: Uint8Array }>('SELECT bytes FROM body WHERE hash = $1', [hash]);
  return row?.bytes ?? null;
}

/** The exact body bytes of a capture, by their hashes. */
export async function bodiesOf(queries: Queries, captureId: number): Promise<Map<string, Uint8Array>> {
  const rows = await queries.query<{ hash: string; bytes: Uint8Array }>(
    'SELECT body.hash, body.bytes FROM capture_body JOIN body USING (hash) WHERE capture_id = $1',
    [captureId],
  );
  return new Map(rows.map((row) => [row.hash, row.bytes]));
}

/** Deletes what no capture holds any more, nor what was made of one. */
export async function dropUnusedBodies(queries: Queries): Promise<void> {
  await queries.query(
    `DELETE FROM body WHERE NOT EXISTS (SELECT 1 FROM capture_body WHERE capture_body.hash = body.hash)
       AND NOT EXISTS (SELECT 1 FROM lighter_body WHERE lighter_body.hash = body.hash)`,
  );
}
