import type { Conditions } from '../core/measure/conditions.ts';
import type { Plan } from '../core/treat/plan.ts';
import type { Queries } from './database.ts';
import { NAVIGATION, type NavigationRecord } from './records/navigation.ts';
import { PLAN as PLAN_RECORD } from './records/plan.ts';
import { jsonOf } from './storable.ts';

/** What was tried: of which bytes, plan, fold CSS and conditions. */
export interface NavigationProvenance {
  captureId: number;
  toPageId: number;
  toCaptureId: number;
  /** With what it asks for ahead. */
  plan: Plan;
  foldHash: string | null;
  conditions: Conditions;
}

export type StoredNavigation = NavigationRecord & NavigationProvenance;

/** Keeps what the way to a next page showed, in place of the one of before. */
export async function keepNavigation(
  queries: Queries,
  pageId: number,
  { captureId, toPageId, toCaptureId, plan, foldHash, conditions }: NavigationProvenance,
  navigation: NavigationRecord,
): Promise<void> {
  await queries.query(
    `INSERT INTO navigation
       (page_id, to_page_id, capture_id, to_capture_id, conditions_id, plan, fold_hash, conditions, data)
     VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9)
     ON CONFLICT (page_id, to_page_id, conditions_id) DO UPDATE SET
       capture_id = $3, to_capture_id = $4, plan = $6, fold_hash = $7, conditions = $8, data = $9`,
    [
      pageId,
      toPageId,
      captureId,
      toCaptureId,
      conditions.id,
      PLAN_RECORD.write(plan),
      foldHash,
      jsonOf(conditions),
      NAVIGATION.write(navigation),
    ],
  );
}

/** The ways from a page that were tried under conditions. */
export async function navigationsFrom(
  queries: Queries,
  pageId: number,
  conditionsId: string,
): Promise<StoredNavigation[]> {
  const rows = await queries.query<Omit<NavigationProvenance, 'plan'> & { plan: unknown; data: unknown }>(
    `SELECT capture_id AS "captureId", to_page_id AS "toPageId", to_capture_id AS "toCaptureId", plan,
            fold_hash AS "foldHash", conditions, data
     FROM navigation WHERE page_id = $1 AND conditions_id = $2 ORDER BY id`,
    [pageId, conditionsId],
  );
  return rows.map(({ plan, data, ...of }) => ({
    ...NAVIGATION.read(data),
    ...of,
    plan: PLAN_RECORD.read(plan),
  }));
}
