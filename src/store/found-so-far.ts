import type { FoundSoFar } from '../core/rehearse/rehearsal.ts';
import type { Queries } from './database.ts';
import { FOUND_SO_FAR } from './records/found-so-far.ts';

/** What a rehearsal had found before it was broken off; null where there was none of just this. */
export async function foundSoFar(
  queries: Queries,
  pageId: number,
  basis: string,
): Promise<FoundSoFar | null> {
  const [row] = await queries.query<{ data: unknown }>(
    'SELECT data FROM found_so_far WHERE page_id = $1 AND basis = $2',
    [pageId, basis],
  );
  return row ? FOUND_SO_FAR.read(row.data) : null;
}

/** Keeps what a rehearsal has found, in the place of what was found of anything else. */
export async function keepFoundSoFar(
  queries: Queries,
  pageId: number,
  basis: string,
  found: FoundSoFar,
): Promise<void> {
  await queries.query(
    `INSERT INTO found_so_far (page_id, basis, data) VALUES ($1, $2, $3)
     ON CONFLICT (page_id) DO UPDATE SET basis = $2, data = $3`,
    [pageId, basis, FOUND_SO_FAR.write(found)],
  );
}

/** Lets it go: the rehearsal is through. */
export async function dropFoundSoFar(queries: Queries, pageId: number): Promise<void> {
  await queries.query('DELETE FROM found_so_far WHERE page_id = $1', [pageId]);
}
