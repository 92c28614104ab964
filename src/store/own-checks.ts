import { readOwnChecks, type OwnCheck } from '../core/checks/own-check.ts';
import type { Database, Queries } from './database.ts';

/** Checks of one's own as they were written, empty for none: of a page, and of its family where it has one. */
export interface OwnChecksText {
  page: string;
  family: { name: string; text: string } | null;
}

export async function ownChecksText(queries: Queries, pageId: number): Promise<OwnChecksText> {
  const [row] = await queries.query<{ page: string | null; family: string; ofFamily: string | null }>(
    `SELECT o.text AS page, p.family, f.text AS "ofFamily" FROM page p
     LEFT JOIN own_check o ON o.page_id = p.id
     LEFT JOIN family_check f ON f.site_id = p.site_id AND f.family = p.family
     WHERE p.id = $1`,
    [pageId],
  );
  const family = row?.family ? { name: row.family, text: row.ofFamily ?? '' } : null;
  return { page: row?.page ?? '', family };
}

/** All that a page is held to: what its family is, then what it is alone. */
export async function ownChecksOf(queries: Queries, pageId: number): Promise<OwnCheck[]> {
  const { page, family } = await ownChecksText(queries, pageId);
  const all = [...readOwnChecks(family?.text ?? ''), ...readOwnChecks(page)];
  return [...new Map(all.map((check) => [check.text, check])).values()];
}

/**
 * Keeps both, or neither.
 *
 * @param text as `readOwnChecks` reads it; empty for none
 * @param ofFamily the same for all pages of its family; null leaves that as it is
 */
export async function saveOwnChecks(
  database: Database,
  pageId: number,
  text: string,
  ofFamily: string | null,
): Promise<void> {
  await database.transaction(async (queries) => {
    await queries.query(
      'INSERT INTO own_check (page_id, text) VALUES ($1, $2) ON CONFLICT (page_id) DO UPDATE SET text = $2',
      [pageId, text],
    );
    if (ofFamily === null) return;
    await queries.query(
      `INSERT INTO family_check (site_id, family, text)
       SELECT site_id, family, $2 FROM page WHERE id = $1 AND family <> ''
       ON CONFLICT (site_id, family) DO UPDATE SET text = $2`,
      [pageId, ofFamily],
    );
  });
}
