import { hasMoved, rebind } from '../core/treat/rebind.ts';
import { recommendPlan } from '../core/treat/recommend.ts';
import { sceneOf } from '../core/treat/scene.ts';
import type { Database } from '../store/database.ts';
import { findPlan, latestFold, savePlan } from '../store/proofs.ts';
import { measuredPage } from './stored-page.ts';

/** Binds the user's own plan to the page as it was just captured, and notes what of it has moved. */
export async function rebindPlan(database: Database, pageId: number, conditionsId: string): Promise<void> {
  const own = await findPlan(database, pageId);
  const page = own && (await measuredPage(database, pageId, conditionsId));
  if (!page) return;
  const fold = await latestFold(database, pageId);
  const scene = sceneOf(page.assets, fold);
  const { plan, rebound } = rebind(own, scene, recommendPlan(scene));
  if (hasMoved(rebound)) await savePlan(database, pageId, plan, rebound);
}
