import type { MetricSpreads } from '../core/measure/metrics.ts';
import type { Frame, RunObservation } from '../core/measure/run.ts';
import type { Queries } from './database.ts';

/** A run without its pictures, which are kept apart. */
export type StoredRun = Omit<RunObservation, 'frames' | 'finalPicture'>;

export interface StoredMeasurement {
  id: number;
  pageId: number;
  captureId: number;
  conditionsId: string;
  takenAt: string;
  spreads: MetricSpreads;
  medianRun: number;
}

export interface NewMeasurement {
  conditionsId: string;
  takenAt: string;
  runs: RunObservation[];
  spreads: MetricSpreads;
  medianRun: number;
}

const MEASUREMENT = `id, page_id AS "pageId", capture_id AS "captureId", conditions_id AS "conditionsId",
  to_char(taken_at AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') AS "takenAt", spreads, median_run AS "medianRun"`;

/** Stores a measurement with its runs and their frames. Call it inside a transaction. */
export async function addMeasurement(
  queries: Queries,
  pageId: number,
  captureId: number,
  measurement: NewMeasurement,
): Promise<number> {
  const [row] = await queries.query<{ id: number }>(
    'INSERT INTO measurement (page_id, capture_id, conditions_id, taken_at, spreads, median_run) VALUES ($1, $2, $3, $4, $5, $6) RETURNING id',
    [
      pageId,
      captureId,
      measurement.conditionsId,
      measurement.takenAt,
      JSON.stringify(measurement.spreads),
      measurement.medianRun,
    ],
  );
  for (const [position, { frames, finalPicture: _picture, ...run }] of measurement.runs.entries()) {
    const [added] = await queries.query<{ id: number }>(
      'INSERT INTO run (measurement_id, position, data) VALUES ($1, $2, $3) RETURNING id',
      [row!.id, position, JSON.stringify(run)],
    );
    for (const frame of frames) {
      await queries.query('INSERT INTO frame (run_id, at_ms, completeness, image) VALUES ($1, $2, $3, $4)', [
        added!.id,
        frame.atMs,
        frame.completeness,
        frame.image,
      ]);
    }
  }
  return row!.id;
}

/** A page's measurements under conditions, the newest first. */
export function measurementsOf(
  queries: Queries,
  pageId: number,
  conditionsId: string,
  limit = 20,
): Promise<StoredMeasurement[]> {
  return queries.query<StoredMeasurement>(
    `SELECT ${MEASUREMENT} FROM measurement WHERE page_id = $1 AND conditions_id = $2 ORDER BY id DESC LIMIT $3`,
    [pageId, conditionsId, limit],
  );
}

/** The newest measurement of every page under conditions. */
export function latestMeasurements(queries: Queries, conditionsId: string): Promise<StoredMeasurement[]> {
  return queries.query<StoredMeasurement>(
    `SELECT DISTINCT ON (page_id) ${MEASUREMENT} FROM measurement WHERE conditions_id = $1 ORDER BY page_id, id DESC`,
    [conditionsId],
  );
}

export async function runsOf(
  queries: Queries,
  measurementId: number,
): Promise<(StoredRun & { id: number })[]> {
  const rows = await queries.query<{ id: number; data: StoredRun }>(
    'SELECT id, data FROM run WHERE measurement_id = $1 ORDER BY position',
    [measurementId],
  );
  return rows.map((row) => ({ ...row.data, id: row.id }));
}

export type FrameInfo = Omit<Frame, 'image'> & { id: number };

export function framesOf(queries: Queries, runId: number): Promise<FrameInfo[]> {
  return queries.query<FrameInfo>(
    'SELECT id, at_ms AS "atMs", completeness FROM frame WHERE run_id = $1 ORDER BY at_ms',
    [runId],
  );
}

export async function frameImage(queries: Queries, id: number): Promise<Uint8Array | null> {
  return (
    (await queries.query<{ image: Uint8Array }>('SELECT image FROM frame WHERE id = $1', [id]))[0]?.image ??
    null
  );
}
