import { activeRules } from '../core/treat/plan.ts';
import type { Queries } from '../store/database.ts';
import { latestTrial, type StoredTrial } from '../store/proofs.ts';
import { caveatsOf } from './caveats.ts';
import { whyTrialStale } from './staleness.ts';

export type ProveView = StoredTrial & {
  /** Why it says nothing of what there is now; none while it holds. */
  stale: string[];
  caveats: string[];
  runsApart: boolean;
};

export async function proveView(
  queries: Queries,
  pageId: number,
  conditionsId: string,
): Promise<ProveView | null> {
  const trial = await latestTrial(queries, pageId, conditionsId);
  if (!trial) return null;
  return {
    ...trial,
    stale: await whyTrialStale(queries, pageId, conditionsId, trial),
    caveats: trial.conditions
      ? caveatsOf({
          spreads: trial.arms[0]!.spreads,
          conditions: trial.conditions,
          yardstick: trial.yardstick,
        })
      : [],
    runsApart: activeRules(trial.plan).some((rule) => rule.treatment === 'delay'),
  };
}
