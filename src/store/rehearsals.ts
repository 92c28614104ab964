import type { Rehearsal } from '../core/rehearse/rehearsal.ts';
import type { Queries } from './database.ts';
import { REHEARSAL } from './records/rehearsal.ts';

/** Older ones of a page go: they are of plans and captures of long ago. */
const MOST_KEPT = 30;

/** Keeps what rehearsing has shown. Call it inside a transaction. */
export async function keepRehearsal(
  queries: Queries,
  pageId: number,
  key: string,
  rehearsal: Rehearsal,
): Promise<void> {
  await queries.query(
    `INSERT INTO rehearsal (page_id, key, data) VALUES ($1, $2, $3)
     ON CONFLICT (page_id, key) DO UPDATE SET data = $3, taken_at = now()`,
    [pageId, key, REHEARSAL.write(rehearsal)],
  );
  await queries.query(
    `DELETE FROM rehearsal WHERE page_id = $1 AND key NOT IN
       (SELECT key FROM rehearsal WHERE page_id = $1 ORDER BY taken_at DESC LIMIT ${MOST_KEPT})`,
    [pageId],
  );
}

/** What rehearsing has shown of what has this hash; null where it was not rehearsed. */
export async function findRehearsal(
  queries: Queries,
  pageId: number,
  key: string,
): Promise<Rehearsal | null> {
  const [row] = await queries.query<{ data: unknown }>(
    'SELECT data FROM rehearsal WHERE page_id = $1 AND key = $2',
    [pageId, key],
  );
  return row ? REHEARSAL.read(row.data) : null;
}
