import { hasMoved, rebind } from '../core/treat/rebind.ts';
import { recommendPlan } from '../core/treat/recommend.ts';
import type { Queries } from '../store/database.ts';
import { findPlan, latestFold, savePlan } from '../store/proofs.ts';
import { measuredPage, sceneFor } from './stored-page.ts';

/** Binds the user's own plan to the page as it was just captured, and notes what of it has moved. */
export async function rebindPlan(queries: Queries, pageId: number, conditionsId: string): Promise<void> {
  const own = await findPlan(queries, pageId);
  const page = own && (await measuredPage(queries, pageId, conditionsId));
  if (!page) return;
  const fold = await latestFold(queries, pageId);
  const scene = sceneFor(page, fold);
  const { plan, rebound } = rebind(own, scene, recommendPlan(scene));
  if (hasMoved(rebound)) await savePlan(queries, pageId, plan, rebound);
}
