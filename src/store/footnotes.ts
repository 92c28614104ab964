import type { Database, Queries } from './database.ts';
import { jsonOf } from './storable.ts';

/** A numbered remark that a user left on a page's map. */
export interface Footnote {
  id: number;
  number: number;
  /** The assets it cites: one, or two it cites together; none for a remark on a line, a moment or the whole. */
  urls: string[];
  /** The line of the bill it is about, by its code; by its words where it was made before lines had codes. */
  line: string | null;
  /** The moment it is about, ms from navigation start. */
  atMs: number | null;
  text: string;
  createdAt: string;
}

export function footnotesOf(queries: Queries, pageId: number): Promise<Footnote[]> {
  return queries.query<Footnote>(
    `SELECT id, number, urls, line, at_ms AS "atMs", text,
       to_char(created_at AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') AS "createdAt"
     FROM footnote WHERE page_id = $1 ORDER BY number`,
    [pageId],
  );
}

/** Adds a footnote under the page's next number; numbers are never given twice. */
export function addFootnote(
  database: Database,
  pageId: number,
  note: Pick<Footnote, 'urls' | 'line' | 'atMs' | 'text'>,
): Promise<number> {
  return database.transaction(async (queries) => {
    const [row] = await queries.query<{ number: number }>(
      'UPDATE page SET last_footnote = last_footnote + 1 WHERE id = $1 RETURNING last_footnote AS number',
      [pageId],
    );
    const { number } = row!;
    await queries.query(
      'INSERT INTO footnote (page_id, number, urls, line, at_ms, text) VALUES ($1, $2, $3, $4, $5, $6)',
      [pageId, number, jsonOf(note.urls), note.line, note.atMs, note.text],
    );
    return number;
  });
}

export async function changeFootnote(queries: Queries, id: number, text: string): Promise<void> {
  await queries.query('UPDATE footnote SET text = $2 WHERE id = $1', [id, text]);
}

export async function deleteFootnote(queries: Queries, id: number): Promise<void> {
  await queries.query('DELETE FROM footnote WHERE id = $1', [id]);
}
