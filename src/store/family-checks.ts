import type { Plan } from '../core/treat/plan.ts';
import type { Queries } from './database.ts';
import { FAMILY_CHECK, type FamilyCheckRecord } from './records/family-check.ts';
import { PLAN as PLAN_RECORD } from './records/plan.ts';

export type StoredFamilyCheck = FamilyCheckRecord & { plan: Plan };

/** Keeps what a plan came to on the family's other pages, in place of what was kept before. */
export async function keepFamilyCheck(
  queries: Queries,
  pageId: number,
  conditionsId: string,
  { plan, ...check }: StoredFamilyCheck,
): Promise<void> {
  await queries.query(
    `INSERT INTO plan_on_family (page_id, conditions_id, plan, data) VALUES ($1, $2, $3, $4)
     ON CONFLICT (page_id, conditions_id) DO UPDATE SET plan = $3, data = $4`,
    [pageId, conditionsId, PLAN_RECORD.write(plan), FAMILY_CHECK.write(check)],
  );
}

/** What it came to when it was tried last; null where it was not. */
export async function findFamilyCheck(
  queries: Queries,
  pageId: number,
  conditionsId: string,
): Promise<StoredFamilyCheck | null> {
  const [row] = await queries.query<{ plan: unknown; data: unknown }>(
    'SELECT plan, data FROM plan_on_family WHERE page_id = $1 AND conditions_id = $2',
    [pageId, conditionsId],
  );
  return row ? { ...FAMILY_CHECK.read(row.data), plan: PLAN_RECORD.read(row.plan) } : null;
}
