import { sealedForCapture } from './states.ts';
import type { Database, Queries } from './database.ts';
import { dropUnusedBodies } from './captures.ts';

/** A measurement that is kept, and what it takes. */
export interface KeptMeasurement {
  id: number;
  takenAt: string;
  /** How often the page was loaded for it. */
  runs: number;
  firstPaintMs: number | null;
  firstContentfulPaintMs: number | null;
  speedIndexMs: number | null;
  /** What goes with it: its pictures, and files of the page that no other capture holds, bytes. */
  ownBytes: number;
  /** Fold CSS or a trial was made from its capture: that stays, and the capture with it. */
  captureStays: boolean;
}

/** What keeps a capture, other than the measurements it was made for: what is shown or used of what was made from it. */
const STANDING = `(EXISTS (SELECT 1 FROM fold WHERE fold.capture_id = capture.id AND
    (fold.id IN (SELECT id FROM fold AS newest WHERE newest.page_id = capture.page_id ORDER BY id DESC LIMIT 2)
     OR fold.id = (SELECT max(id) FROM fold AS own WHERE own.page_id = capture.page_id AND own.answers IS NOT NULL
       AND NOT (own.data ->> 'shared')::boolean)))
  OR EXISTS (SELECT 1 FROM trial WHERE trial.capture_id = capture.id AND trial.id =
    (SELECT max(id) FROM trial AS newest WHERE newest.page_id = trial.page_id AND newest.conditions_id = trial.conditions_id))
  OR EXISTS (SELECT 1 FROM rule_gains WHERE rule_gains.capture_id = capture.id)
  OR EXISTS (SELECT 1 FROM navigation WHERE navigation.capture_id = capture.id OR navigation.to_capture_id = capture.id))`;

/** A page's measurements under conditions, the newest first. All are kept until their user deletes them. */
export function keptMeasurements(
  queries: Queries,
  pageId: number,
  conditionsId: string,
): Promise<KeptMeasurement[]> {
  const figure = (key: string) => `(spreads -> '${key}' ->> 'median')::double precision AS "${key}"`;
  return queries.query<KeptMeasurement>(
    `SELECT measurement.id, to_char(measurement.taken_at AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') AS "takenAt",
       ${figure('firstPaintMs')}, ${figure('firstContentfulPaintMs')}, ${figure('speedIndexMs')},
       (SELECT count(*)::int FROM run WHERE measurement_id = measurement.id) AS runs,
       stays AS "captureStays",
       ((SELECT COALESCE(sum(length(image)), 0) FROM frame JOIN run ON run.id = run_id
           JOIN measurement AS one ON one.id = run.measurement_id
         WHERE one.capture_id = measurement.capture_id AND one.conditions_id = measurement.conditions_id)
        + CASE WHEN stays THEN 0 ELSE (SELECT COALESCE(sum(length(bytes)), 0) FROM capture_body AS held JOIN body USING (hash)
             WHERE held.capture_id = measurement.capture_id AND NOT EXISTS
               (SELECT 1 FROM capture_body AS other WHERE other.hash = held.hash AND other.capture_id <> held.capture_id)) END
       )::double precision AS "ownBytes"
     FROM measurement JOIN capture ON capture.id = measurement.capture_id
       CROSS JOIN LATERAL (SELECT ${STANDING} OR EXISTS (SELECT 1 FROM measurement AS other
         WHERE other.capture_id = capture.id AND other.conditions_id <> measurement.conditions_id) AS stays) AS standing
     WHERE measurement.page_id = $1 AND conditions_id = $2 AND visit = 'first' ORDER BY measurement.id DESC`,
    [pageId, conditionsId],
  );
}

/**
 * Deletes a measurement with its return visits, runs and pictures; its capture as well, unless something else was
 * made from it.
 *
 * @returns false when the page has no such measurement
 */
export async function deleteMeasurement(database: Database, pageId: number, id: number): Promise<boolean> {
  const { isGone, sealed } = await database.transaction(async (queries) => {
    const [gone] = await queries.query<{ captureId: number; conditionsId: string }>(
      `DELETE FROM measurement WHERE id = $1 AND page_id = $2 AND visit = 'first'
       RETURNING capture_id AS "captureId", conditions_id AS "conditionsId"`,
      [id, pageId],
    );
    if (!gone) return { isGone: false, sealed: [] };
    const sealed = await sealedForCapture(queries, gone.captureId);
    await queries.query(
      "DELETE FROM measurement WHERE capture_id = $1 AND conditions_id = $2 AND visit = 'return'",
      [gone.captureId, gone.conditionsId],
    );
    const captures = await queries.query(
      `DELETE FROM capture WHERE id = $1 AND NOT ${STANDING}
         AND NOT EXISTS (SELECT 1 FROM measurement WHERE measurement.capture_id = capture.id) RETURNING id`,
      [gone.captureId],
    );
    await dropUnusedBodies(queries);
    return { isGone: true, sealed: captures.length > 0 ? sealed : [] };
  });
  await database.seals.forget(sealed);
  return isGone;
}
