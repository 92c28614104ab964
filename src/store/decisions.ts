import type { WideDecision } from '../core/treat/wide-decisions.ts';
import type { Queries } from './database.ts';
import { jsonOf } from './storable.ts';

type Row = Omit<WideDecision, 'family'> & { family: string };

const COLUMNS = 'id, family, kind, known_by AS "knownBy", what, treatment, why, spared';

const decisionOf = ({ family, ...row }: Row): WideDecision => ({ ...row, family: family || null });

/** What was decided for a page's site and family, in the order in which it was. */
export async function decisionsFor(queries: Queries, pageId: number): Promise<WideDecision[]> {
  const rows = await queries.query<Row>(
    `SELECT ${COLUMNS.replace('id, family', 'decision.id, decision.family')} FROM decision
       JOIN page ON page.site_id = decision.site_id AND decision.family IN ('', page.family)
     WHERE page.id = $1 ORDER BY decision.id`,
    [pageId],
  );
  return rows.map(decisionOf);
}

/** Decides for a page's site, or its family; what was decided before about the same is replaced. Call it inside a transaction. */
export async function decide(
  queries: Queries,
  pageId: number,
  { family, kind, knownBy, what, treatment, why, spared }: Omit<WideDecision, 'id'>,
): Promise<void> {
  await queries.query(
    `INSERT INTO decision (site_id, family, kind, known_by, what, treatment, why, spared)
       SELECT site_id, $2, $3, $4, $5, $6, $7, $8 FROM page WHERE id = $1
     ON CONFLICT (site_id, family, kind, known_by, what)
       DO UPDATE SET treatment = $6, why = $7, spared = $8`,
    [pageId, family ?? '', kind, knownBy, what, treatment, why, jsonOf(spared)],
  );
  await queries.query(
    'UPDATE site SET decided_at = now() WHERE id = (SELECT site_id FROM page WHERE id = $1)',
    [pageId],
  );
}

/** Changes which pages a decision leaves alone. Call it inside a transaction. @returns false when there is none of that number */
export async function sparePages(queries: Queries, id: number, spared: readonly string[]): Promise<boolean> {
  const [row] = await queries.query<{ siteId: number }>(
    'UPDATE decision SET spared = $2 WHERE id = $1 RETURNING site_id AS "siteId"',
    [id, jsonOf(spared)],
  );
  if (row) await queries.query('UPDATE site SET decided_at = now() WHERE id = $1', [row.siteId]);
  return row !== undefined;
}

/** Takes a decision back. Call it inside a transaction. @returns false when there is none of that number */
export async function dropDecision(queries: Queries, id: number): Promise<boolean> {
  const [row] = await queries.query<{ siteId: number }>(
    'DELETE FROM decision WHERE id = $1 RETURNING site_id AS "siteId"',
    [id],
  );
  if (row) await queries.query('UPDATE site SET decided_at = now() WHERE id = $1', [row.siteId]);
  return row !== undefined;
}
