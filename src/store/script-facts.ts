import type { Queries } from './database.ts';

/** What was found in a script, as bytes that only the program that found it reads. */
export interface KeptFacts {
  bodyHash: string;
  kind: 'script' | 'module';
  textHash: string;
  data: Uint8Array;
}

/** What a program found in the scripts of a capture. */
export function keptFactsOf(queries: Queries, captureId: number, program: string): Promise<KeptFacts[]> {
  return queries.query<KeptFacts>(
    `SELECT body_hash AS "bodyHash", kind, text_hash AS "textHash", data FROM script_facts
       JOIN capture_body ON capture_body.hash = body_hash
     WHERE capture_id = $1 AND program = $2`,
    [captureId, program],
  );
}

/** Keeps what a program found, and lets go what others did. Call it inside a transaction. */
export async function keepFacts(
  queries: Queries,
  program: string,
  facts: readonly KeptFacts[],
): Promise<void> {
  await queries.query('DELETE FROM script_facts WHERE program <> $1', [program]);
  for (const { bodyHash, kind, textHash, data } of facts)
    // The body may have gone with its page in the meantime.
    await queries.query(
      `INSERT INTO script_facts (body_hash, kind, text_hash, program, data)
         SELECT hash, $2, $3, $4, $5 FROM body WHERE hash = $1 ON CONFLICT DO NOTHING`,
      [bodyHash, kind, textHash, program, data],
    );
}
