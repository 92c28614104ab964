import type { Transactions } from './database-types.ts';
import { sealedState } from './states.ts';
import type { VisitState } from '../core/measure/visit.ts';

/** Seals what versions before stored as it was, and has the database drop what it still holds of it. */
export async function sealPlain(database: Transactions): Promise<void> {
  const secrets = await database.query<{ id: number; data: object }>(
    'SELECT page_id AS id, data FROM page_secret WHERE data IS NOT NULL',
  );
  const states = await database.query<{ id: number; data: VisitState }>(
    'SELECT capture_id AS id, data FROM capture_state WHERE data IS NOT NULL',
  );
  if (secrets.length + states.length === 0) return;
  await database.transaction(async (queries) => {
    for (const { id, data } of secrets)
      await queries.query('UPDATE page_secret SET data = NULL, sealed = $2 WHERE page_id = $1', [
        id,
        await queries.seals.seal(JSON.stringify(data)),
      ]);
    for (const { id, data } of states)
      await queries.query('UPDATE capture_state SET data = NULL, sealed = $2 WHERE capture_id = $1', [
        id,
        await queries.seals.seal(sealedState({ state: data, held: [] })),
      ]);
  });
  await database.query('VACUUM FULL page_secret');
  await database.query('VACUUM FULL capture_state');
}
