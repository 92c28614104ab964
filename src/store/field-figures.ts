import type { FieldFigure } from '../core/field/field-figures.ts';
import type { Queries } from './database.ts';

/**
 * Stores visitors' figures: those of the pages and devices they are of take the place of earlier ones, all others
 * stay. Call it inside a transaction.
 */
export async function keepFieldFigures(queries: Queries, figures: readonly FieldFigure[]): Promise<void> {
  const replaced = new Set(figures.map((one) => JSON.stringify([one.url, one.device])));
  for (const one of replaced)
    await queries.query(
      'DELETE FROM field_figure WHERE url = $1 AND device = $2',
      JSON.parse(one) as string[],
    );
  for (const one of figures)
    await queries.query(
      `INSERT INTO field_figure (url, metric, percentile, value, device, period, visits) VALUES ($1, $2, $3, $4, $5, $6, $7)
       ON CONFLICT (url, device, metric, percentile) DO UPDATE SET value = $4, period = $6, visits = $7`,
      [one.url, one.metric, one.percentile, one.value, one.device, one.period, one.visits],
    );
}

export function fieldFiguresOf(queries: Queries, url: string): Promise<FieldFigure[]> {
  return queries.query<FieldFigure>(
    'SELECT url, metric, percentile, value, device, period, visits FROM field_figure WHERE url = $1 ORDER BY metric, percentile',
    [url],
  );
}

export async function forgetFieldFigures(queries: Queries, url: string): Promise<void> {
  await queries.query('DELETE FROM field_figure WHERE url = $1', [url]);
}
