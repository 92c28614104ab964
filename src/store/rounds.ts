import type { Metrics } from '../core/measure/metrics.ts';
import type { Queries } from './database.ts';
import { jsonOf } from './storable.ts';

/** What rounds are of: a page under conditions, and the hash of all that went in. */
export interface RoundsOf {
  pageId: number;
  conditionsId: string;
  basis: string;
}

/** The rounds that were taken so far, each the metrics of its arms in their order. */
export async function roundsSoFar(
  queries: Queries,
  { pageId, conditionsId, basis }: RoundsOf,
): Promise<Metrics[][]> {
  const rows = await queries.query<{ metrics: Metrics[] }>(
    'SELECT metrics FROM round WHERE page_id = $1 AND conditions_id = $2 AND basis = $3 ORDER BY id',
    [pageId, conditionsId, basis],
  );
  return rows.map(({ metrics }) => metrics);
}

/** Keeps a round that was taken, and lets go those of something else. Call it inside a transaction. */
export async function keepRound(
  queries: Queries,
  { pageId, conditionsId, basis }: RoundsOf,
  metrics: readonly Metrics[],
): Promise<void> {
  await queries.query('DELETE FROM round WHERE page_id = $1 AND conditions_id = $2 AND basis <> $3', [
    pageId,
    conditionsId,
    basis,
  ]);
  await queries.query('INSERT INTO round (page_id, conditions_id, basis, metrics) VALUES ($1, $2, $3, $4)', [
    pageId,
    conditionsId,
    basis,
    jsonOf(metrics),
  ]);
}

/** Lets all rounds go: what they were of is finished. Call it inside a transaction. */
export async function dropRounds(
  queries: Queries,
  { pageId, conditionsId }: Pick<RoundsOf, 'pageId' | 'conditionsId'>,
): Promise<void> {
  await queries.query('DELETE FROM round WHERE page_id = $1 AND conditions_id = $2', [pageId, conditionsId]);
}
