import type { VisitKind } from '../core/measure/visit.ts';
import type { Conditions } from '../core/measure/conditions.ts';
import type { HeadlineKey } from '../core/measure/headline.ts';
import type { PaintHeld } from '../core/path/held.ts';
import type { MetricSpreads } from '../core/measure/metrics.ts';
import type { AnyYardstick, Yardstick } from '../core/measure/yardstick.ts';
import type { Frame, RunObservation } from '../core/measure/run.ts';
import type { Queries } from './database.ts';
import { PAINT_HELD } from './records/paint-held.ts';
import { RUN, type StoredRun } from './records/run.ts';
import { jsonOf } from './storable.ts';

export type { StoredRun } from './records/run.ts';

export interface StoredMeasurement {
  id: number;
  pageId: number;
  captureId: number;
  conditionsId: string;
  takenAt: string;
  spreads: MetricSpreads;
  medianRun: number;
  /** The conditions as they were then: the user's own may have been edited since. */
  conditions: Conditions;
  yardstick: AnyYardstick;
  quality: StoredQuality;
}

/** How far the runs can be trusted. */
export interface StoredQuality {
  rejected: string[];
  tooBusy: boolean;
  encodingDeviation: number;
}

export interface NewMeasurement {
  visit: VisitKind;
  conditions: Conditions;
  takenAt: string;
  runs: RunObservation[];
  spreads: MetricSpreads;
  medianRun: number;
  yardstick: Yardstick;
  quality: StoredQuality;
  /** What the paint waited for, in short; null where nobody looked. */
  held: PaintHeld | null;
}

const MEASUREMENT = `id, page_id AS "pageId", capture_id AS "captureId", conditions_id AS "conditionsId",
  to_char(taken_at AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') AS "takenAt", spreads, median_run AS "medianRun", conditions, yardstick, quality`;

/** Stores a measurement with its runs and their frames. Call it inside a transaction. */
export async function addMeasurement(
  queries: Queries,
  pageId: number,
  captureId: number,
  measurement: NewMeasurement,
): Promise<number> {
  const [row] = await queries.query<{ id: number }>(
    `INSERT INTO measurement (page_id, capture_id, conditions_id, taken_at, spreads, median_run, visit, conditions, yardstick, quality, held)
     VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11) RETURNING id`,
    [
      pageId,
      captureId,
      measurement.conditions.id,
      measurement.takenAt,
      jsonOf(measurement.spreads),
      measurement.medianRun,
      measurement.visit,
      jsonOf(measurement.conditions),
      jsonOf(measurement.yardstick),
      jsonOf(measurement.quality),
      measurement.held && PAINT_HELD.write(measurement.held),
    ],
  );
  for (const [position, { frames, finalPicture: _picture, ...run }] of measurement.runs.entries()) {
    const [added] = await queries.query<{ id: number }>(
      'INSERT INTO run (measurement_id, position, data) VALUES ($1, $2, $3) RETURNING id',
      [row!.id, position, RUN.write(run)],
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
  visit: VisitKind = 'first',
): Promise<StoredMeasurement[]> {
  return queries.query<StoredMeasurement>(
    `SELECT ${MEASUREMENT} FROM measurement WHERE page_id = $1 AND conditions_id = $2 AND visit = $4 ORDER BY id DESC LIMIT $3`,
    [pageId, conditionsId, limit, visit],
  );
}

export async function findMeasurement(queries: Queries, id: number): Promise<StoredMeasurement | null> {
  const [row] = await queries.query<StoredMeasurement>(
    `SELECT ${MEASUREMENT} FROM measurement WHERE id = $1`,
    [id],
  );
  return row ?? null;
}

/** A measurement that another one can be held against. */
export interface Comparable {
  id: number;
  /** An earlier one of the same page and conditions, the newest under other conditions, or of another page. */
  relation: 'before' | 'conditions' | 'page';
  takenAt: string;
  page: string;
  conditions: string;
  /** Made with a sign-in or steps of the user's. */
  special: boolean;
}

const MOST_BEFORE = 10;

/** What a measurement can be held against: earlier ones, other conditions, other pages of its site. */
export async function comparableWith(
  queries: Queries,
  { id, pageId, conditionsId }: StoredMeasurement,
): Promise<Comparable[]> {
  const of = (relation: Comparable['relation']) => `measurement.id, '${relation}' AS relation,
    to_char(measurement.taken_at AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') AS "takenAt", page.name AS page,
    conditions ->> 'name' AS conditions, capture_state.capture_id IS NOT NULL AS special
    FROM measurement JOIN page ON page.id = page_id LEFT JOIN capture_state USING (capture_id)`;
  const before = await queries.query<Comparable>(
    `SELECT ${of('before')} WHERE page_id = $1 AND conditions_id = $2 AND visit = 'first' AND measurement.id < $3
     ORDER BY measurement.id DESC LIMIT $4`,
    [pageId, conditionsId, id, MOST_BEFORE],
  );
  const conditions = await queries.query<Comparable>(
    `SELECT DISTINCT ON (conditions_id) ${of('conditions')} WHERE page_id = $1 AND conditions_id <> $2 AND visit = 'first'
     ORDER BY conditions_id, measurement.id DESC`,
    [pageId, conditionsId],
  );
  const pages = await queries.query<Comparable>(
    `SELECT DISTINCT ON (page_id) ${of('page')} WHERE page_id <> $1 AND conditions_id = $2 AND visit = 'first'
       AND page.site_id = (SELECT site_id FROM page WHERE id = $1)
     ORDER BY page_id, measurement.id DESC`,
    [pageId, conditionsId],
  );
  return [...before, ...conditions, ...pages];
}

/** The return visits that were measured together with a measurement's capture. */
export async function returnVisitsOf(
  queries: Queries,
  { captureId, conditionsId }: StoredMeasurement,
): Promise<StoredMeasurement | null> {
  const [row] = await queries.query<StoredMeasurement>(
    `SELECT ${MEASUREMENT} FROM measurement WHERE capture_id = $1 AND conditions_id = $2 AND visit = 'return' ORDER BY id DESC LIMIT 1`,
    [captureId, conditionsId],
  );
  return row ?? null;
}

/** One point of a page's history. */
export interface HistoryPoint {
  takenAt: string;
  /** Of another yardstick, times cannot be compared. */
  yardstickVersion: number;
  firstPaintMs: number | null;
  firstContentfulPaintMs: number | null;
  speedIndexMs: number | null;
  largestContentfulPaintMs: number | null;
}

/** A page's figures over time under conditions, the oldest first. */
export function historyOf(queries: Queries, pageId: number, conditionsId: string): Promise<HistoryPoint[]> {
  const figure = (key: string) => `(spreads -> '${key}' ->> 'median')::double precision AS "${key}"`;
  return queries.query<HistoryPoint>(
    `SELECT to_char(taken_at AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') AS "takenAt",
       (yardstick ->> 'version')::int AS "yardstickVersion", ${figure('firstPaintMs')}, ${figure('firstContentfulPaintMs')}, ${figure('speedIndexMs')}, ${figure('largestContentfulPaintMs')}
     FROM measurement WHERE page_id = $1 AND conditions_id = $2 AND visit = 'first' ORDER BY id`,
    [pageId, conditionsId],
  );
}

/** The newest measurement of every page under conditions. */
export function latestMeasurements(queries: Queries, conditionsId: string): Promise<StoredMeasurement[]> {
  return queries.query<StoredMeasurement>(
    `SELECT DISTINCT ON (page_id) ${MEASUREMENT} FROM measurement WHERE conditions_id = $1 AND visit = 'first' ORDER BY page_id, id DESC`,
    [conditionsId],
  );
}

/** What a page's newest measurement shows of it in a list. */
export interface PageInList {
  pageId: number;
  /** The last frame of its middle run; null where there is none. */
  pictureId: number | null;
  held: PaintHeld | null;
}

/** The newest measurement of every page under conditions, as a list of pages shows it. */
export async function pagesInList(queries: Queries, conditionsId: string): Promise<PageInList[]> {
  const rows = await queries.query<Omit<PageInList, 'held'> & { held: unknown }>(
    `SELECT page_id AS "pageId", held,
       (SELECT frame.id FROM run JOIN frame ON frame.run_id = run.id
         WHERE run.measurement_id = newest.id AND run.position = newest.median_run
         ORDER BY frame.at_ms DESC LIMIT 1) AS "pictureId"
     FROM (SELECT DISTINCT ON (page_id) id, page_id, median_run, held FROM measurement
       WHERE conditions_id = $1 AND visit = 'first' ORDER BY page_id, id DESC) AS newest`,
    [conditionsId],
  );
  return rows.map(({ held, ...row }) => ({ ...row, held: held === null ? null : PAINT_HELD.read(held) }));
}

export async function runsOf(
  queries: Queries,
  measurementId: number,
): Promise<(StoredRun & { id: number })[]> {
  const rows = await queries.query<{ id: number; data: unknown }>(
    'SELECT id, data FROM run WHERE measurement_id = $1 ORDER BY position',
    [measurementId],
  );
  return rows.map((row) => ({ ...RUN.read(row.data), id: row.id }));
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

/**
 * The earliest paint that any variant of a page ever had, as is or treated, ms: under conditions that make the same
 * load as a measurement's (those of one id may have been edited since), and by the same yardstick.
 */
export async function earliestPaintOf(
  queries: Queries,
  { pageId, conditions, yardstick }: Pick<StoredMeasurement, 'pageId' | 'conditions' | 'yardstick'>,
  paint: HeadlineKey,
): Promise<number | null> {
  const same = `conditions - 'name' - 'id' = $2::jsonb - 'name' - 'id'`;
  const [row] = await queries.query<{ earliest: number | null }>(
    `SELECT min(paint) AS earliest FROM (
       SELECT (spreads -> $4 ->> 'min')::double precision AS paint FROM measurement
         WHERE page_id = $1 AND visit = 'first' AND ${same} AND (yardstick ->> 'version')::int = $3
       UNION ALL
       SELECT (arm -> 'spreads' -> $4 ->> 'min')::double precision FROM trial, jsonb_array_elements(data -> 'arms') AS arm
         WHERE page_id = $1 AND ${same} AND (data -> 'yardstick' ->> 'version')::int = $3
     ) AS every_variant`,
    [pageId, jsonOf(conditions), yardstick.version, paint],
  );
  return row?.earliest ?? null;
}
