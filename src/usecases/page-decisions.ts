import { decisionsIn } from '../core/treat/decisions.ts';
import type { Plan } from '../core/treat/plan.ts';
import { hasMoved, rebind } from '../core/treat/rebind.ts';
import type { Queries } from '../store/database.ts';
import { decisionsFor } from '../store/decisions.ts';
import { dropPageDecisions, latestFold, pageDecisionsOf, savePageDecisions } from '../store/proofs.ts';
import { nextAssetsOf } from './next-pages.ts';
import { measuredPage, recommendedFor, sceneFor, type PlanNow } from './stored-page.ts';

/**
 * Keeps what a plan decides over the recommended one.
 *
 * @param before what was decided so far and stays decided where the plan still says so
 */
export async function keepDecisions(
  queries: Queries,
  pageId: number,
  plan: Plan,
  { recommended, decided: before }: Pick<PlanNow, 'recommended' | 'decided'>,
): Promise<void> {
  const decisions = decisionsIn(plan, recommended, before);
  if (decisions.rules.length) await savePageDecisions(queries, pageId, decisions);
  else await dropPageDecisions(queries, pageId);
}

/** Binds what the user decided to the page as it was just captured, and notes what of it has moved. */
export async function rebindDecisions(queries: Queries, pageId: number, conditionsId: string): Promise<void> {
  const before = await pageDecisionsOf(queries, pageId);
  const page = before && (await measuredPage(queries, pageId, conditionsId));
  if (!page) return;
  const fold = await latestFold(queries, pageId);
  const next = await nextAssetsOf(queries, pageId, page);
  const now = recommendedFor(page, fold, next, await decisionsFor(queries, pageId));
  const { decisions, rebound } = rebind(before, sceneFor(page, fold, next), now.plan);
  if (hasMoved(rebound)) await savePageDecisions(queries, pageId, decisions, rebound);
}
