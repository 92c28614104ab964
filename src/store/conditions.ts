import { findConditions, type Conditions } from '../core/measure/conditions.ts';
import type { Yardstick } from '../core/measure/yardstick.ts';
import type { Queries } from './database.ts';
import { jsonOf } from './storable.ts';

/** Conditions of the user's own, the oldest first. */
export async function ownConditions(queries: Queries): Promise<Conditions[]> {
  const rows = await queries.query<{ data: Conditions }>(
    'SELECT data FROM conditions ORDER BY created_at, id',
  );
  return rows.map((row) => row.data);
}

/** Built-in conditions or the user's own; null for none of that id. */
export async function conditionsById(queries: Queries, id: string): Promise<Conditions | null> {
  const builtIn = findConditions(id);
  if (builtIn) return builtIn;
  const [row] = await queries.query<{ data: Conditions }>('SELECT data FROM conditions WHERE id = $1', [id]);
  return row?.data ?? null;
}

export async function saveConditions(queries: Queries, conditions: Conditions): Promise<void> {
  await queries.query(
    'INSERT INTO conditions (id, data) VALUES ($1, $2) ON CONFLICT (id) DO UPDATE SET data = $2',
    [conditions.id, jsonOf(conditions)],
  );
}

export async function deleteConditions(queries: Queries, id: string): Promise<void> {
  await queries.query('DELETE FROM conditions WHERE id = $1', [id]);
}

/** How fast a machine was that measured here; the newest. */
export async function latestYardstick(queries: Queries): Promise<Yardstick | null> {
  const [row] = await queries.query<{ data: Yardstick }>(
    `SELECT data FROM yardstick ORDER BY data ->> 'takenAt' DESC LIMIT 1`,
  );
  return row?.data ?? null;
}

export async function saveYardstick(queries: Queries, yardstick: Yardstick): Promise<void> {
  await queries.query(
    'INSERT INTO yardstick (machine, data) VALUES ($1, $2) ON CONFLICT (machine) DO UPDATE SET data = $2',
    [yardstick.machine, jsonOf(yardstick)],
  );
}
