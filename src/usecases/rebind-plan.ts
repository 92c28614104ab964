import { hasMoved, rebind } from '../core/treat/rebind.ts';
import type { Queries } from '../store/database.ts';
import { decisionsFor } from '../store/decisions.ts';
import { findPlan, latestFold, savePlan } from '../store/proofs.ts';
import { nextAssetsOf } from './next-pages.ts';
import { measuredPage, recommendedFor, sceneFor } from './stored-page.ts';

/** Binds the user's own plan to the page as it was just captured, and notes what of it has moved. */
export async function rebindPlan(queries: Queries, pageId: number, conditionsId: string): Promise<void> {
  const own = await findPlan(queries, pageId);
  const page = own && (await measuredPage(queries, pageId, conditionsId));
  if (!page) return;
  const fold = await latestFold(queries, pageId);
  const next = await nextAssetsOf(queries, pageId, page);
  const now = recommendedFor(page, fold, next, await decisionsFor(queries, pageId));
  const { plan, rebound } = rebind(own, sceneFor(page, fold, next), now.plan);
  if (hasMoved(rebound)) await savePlan(queries, pageId, plan, rebound);
}
