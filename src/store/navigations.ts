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
  /** The next page's own plan and fold CSS, where it was tried with them as well. */
  toPlan: Plan | null;
  toFoldHash: string | null;
}

export type StoredNavigation = NavigationRecord & NavigationProvenance;

/** Keeps what the way to a next page showed, in place of the one of before. */
export async function keepNavigation(
  queries: Queries,
  pageId: number,
  of: NavigationProvenance,
  navigation: NavigationRecord,
): Promise<void> {
  const { conditions, toPlan } = of;
  await queries.query(
    `INSERT INTO navigation
       (page_id, to_page_id, capture_id, to_capture_id, conditions_id, plan, fold_hash, conditions, data, to_plan,
        to_fold_hash)
     VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11)
     ON CONFLICT (page_id, to_page_id, conditions_id) DO UPDATE SET
       capture_id = $3, to_capture_id = $4, plan = $6, fold_hash = $7, conditions = $8, data = $9, to_plan = $10,
       to_fold_hash = $11`,
    [
      pageId,
      of.toPageId,
      of.captureId,
      of.toCaptureId,
      conditions.id,
      PLAN_RECORD.write(of.plan),
      of.foldHash,
      jsonOf(conditions),
      NAVIGATION.write(navigation),
      toPlan && PLAN_RECORD.write(toPlan),
      of.toFoldHash,
    ],
  );
}

/** The ways from a page that were tried under conditions. */
export async function navigationsFrom(
  queries: Queries,
  pageId: number,
  conditionsId: string,
): Promise<StoredNavigation[]> {
  const rows = await queries.query<
    Omit<NavigationProvenance, 'plan' | 'toPlan'> & { plan: unknown; toPlan: unknown; data: unknown }
  >(
    `SELECT capture_id AS "captureId", to_page_id AS "toPageId", to_capture_id AS "toCaptureId", plan,
            fold_hash AS "foldHash", conditions, data, to_plan AS "toPlan", to_fold_hash AS "toFoldHash"
     FROM navigation WHERE page_id = $1 AND conditions_id = $2 ORDER BY id`,
    [pageId, conditionsId],
  );
  return rows.map(({ plan, toPlan, data, ...of }) => ({
    ...NAVIGATION.read(data),
    ...of,
    plan: PLAN_RECORD.read(plan),
    toPlan: toPlan === null ? null : PLAN_RECORD.read(toPlan),
  }));
}
