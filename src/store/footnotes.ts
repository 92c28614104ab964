import type { Database, Queries } from './database.ts';

/** A numbered remark that a user left on a page's map. */
export interface Footnote {
  id: number;
  number: number;
  /** The assets it cites: one, or two it cites together; none for a remark on the whole or a moment. */
  urls: string[];
  /** The moment it is about, ms from navigation start. */
  atMs: number | null;
  text: string;
  createdAt: string;
}

export function footnotesOf(queries: Queries, pageId: number): Promise<Footnote[]> {
  return queries.query<Footnote>(
    `SELECT id, number, urls, at_ms AS "atMs", text,
       to_char(created_at AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') AS "createdAt"
     FROM footnote WHERE page_id = $1 ORDER BY number`,
    [pageId],
  );
}

/** Adds a footnote under the page's next number; numbers are never given twice. */
export async function addFootnote(
  database: Database,
  pageId: number,
  note: Pick<Footnote, 'urls' | 'atMs' | 'text'>,
): Promise<number> {
  const [row] = await database.query<{ number: number }>(
    `INSERT INTO footnote (page_id, number, urls, at_ms, text)
     VALUES ($1, (SELECT COALESCE(max(number), 0) + 1 FROM footnote WHERE page_id = $1), $2, $3, $4)
     RETURNING number`,
    [pageId, JSON.stringify(note.urls), note.atMs, note.text],
  );
  return row!.number;
}

export async function changeFootnote(queries: Queries, id: number, text: string): Promise<void> {
  await queries.query('UPDATE footnote SET text = $2 WHERE id = $1', [id, text]);
}

export async function deleteFootnote(queries: Queries, id: number): Promise<void> {
  await queries.query('DELETE FROM footnote WHERE id = $1', [id]);
}
