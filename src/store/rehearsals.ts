import type { Rehearsal } from '../core/rehearse/rehearsal.ts';
import type { Queries } from './database.ts';
import type { NewPicture } from './proofs.ts';
import { REHEARSAL } from './records/rehearsal.ts';

/** What pictures of a rule at fault are of. */
export const EVIDENCE = ['authored', 'treated', 'difference'] as const;

/** Numbers of the pictures of one rule at fault. */
export type Evidence = Record<(typeof EVIDENCE)[number], number>;

/** Older ones of a page go: they are of plans and captures of long ago. */
const MOST_KEPT = 30;

/** Keeps what rehearsing has shown. Call it inside a transaction. */
export async function keepRehearsal(
  queries: Queries,
  pageId: number,
  key: string,
  rehearsal: Rehearsal,
  pictures: readonly NewPicture[] = [],
): Promise<void> {
  await queries.query(
    `INSERT INTO rehearsal (page_id, key, data) VALUES ($1, $2, $3)
     ON CONFLICT (page_id, key) DO UPDATE SET data = $3, taken_at = now()`,
    [pageId, key, REHEARSAL.write(rehearsal)],
  );
  await queries.query('DELETE FROM picture WHERE page_id = $1 AND rehearsal_key = $2', [pageId, key]);
  for (const { name, mimeType, image } of pictures)
    await queries.query(
      'INSERT INTO picture (page_id, rehearsal_key, name, mime_type, image) VALUES ($1, $2, $3, $4, $5)',
      [pageId, key, name, mimeType, image],
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

/** The pictures of what a rehearsal found at fault, by the ids of the rules. */
export async function evidenceOf(
  queries: Queries,
  pageId: number,
  key: string,
): Promise<Map<string, Evidence>> {
  const rows = await queries.query<{ id: number; name: string }>(
    'SELECT id, name FROM picture WHERE page_id = $1 AND rehearsal_key = $2 ORDER BY id',
    [pageId, key],
  );
  const found = new Map<string, Partial<Evidence>>();
  for (const { id, name } of rows) {
    const [ruleId, of] = name.split(' ') as [string, keyof Evidence];
    found.set(ruleId, { ...found.get(ruleId), [of]: id });
  }
  return new Map(
    [...found].flatMap(([ruleId, { authored, treated, difference }]) =>
      authored && treated && difference ? [[ruleId, { authored, treated, difference }] as const] : [],
    ),
  );
}
