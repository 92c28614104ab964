import type { Conditions } from '../core/measure/conditions.ts';
import type { Plan } from '../core/treat/plan.ts';
import type { Queries } from './database.ts';
import { PLAN as PLAN_RECORD } from './records/plan.ts';
import { RULE_GAINS, type RuleGainsRecord } from './records/rule-gains.ts';
import { jsonOf } from './storable.ts';

/** What was measured: of which bytes, plan, fold CSS and conditions. */
export interface RuleGainsProvenance {
  captureId: number;
  plan: Plan;
  foldHash: string | null;
  conditions: Conditions;
}

export type StoredRuleGains = RuleGainsRecord & RuleGainsProvenance;

/** Keeps what each rule gained; the one of before under these conditions goes. Call it inside a transaction. */
export async function keepRuleGains(
  queries: Queries,
  pageId: number,
  { captureId, plan, foldHash, conditions }: RuleGainsProvenance,
  gains: RuleGainsRecord,
): Promise<void> {
  await queries.query('DELETE FROM rule_gains WHERE page_id = $1 AND conditions_id = $2', [
    pageId,
    conditions.id,
  ]);
  await queries.query(
    `INSERT INTO rule_gains (page_id, capture_id, conditions_id, plan, fold_hash, conditions, data)
     VALUES ($1, $2, $3, $4, $5, $6, $7)`,
    [
      pageId,
      captureId,
      conditions.id,
      PLAN_RECORD.write(plan),
      foldHash,
      jsonOf(conditions),
      RULE_GAINS.write(gains),
    ],
  );
}

/** What each rule gained when it was measured last; null where it was not. */
export async function findRuleGains(
  queries: Queries,
  pageId: number,
  conditionsId: string,
): Promise<StoredRuleGains | null> {
  const [row] = await queries.query<Omit<RuleGainsProvenance, 'plan'> & { plan: unknown; data: unknown }>(
    `SELECT capture_id AS "captureId", plan, fold_hash AS "foldHash", conditions, data FROM rule_gains
     WHERE page_id = $1 AND conditions_id = $2 ORDER BY id DESC LIMIT 1`,
    [pageId, conditionsId],
  );
  if (!row) return null;
  const { plan, data, ...of } = row;
  return { ...RULE_GAINS.read(data), ...of, plan: PLAN_RECORD.read(plan) };
}
