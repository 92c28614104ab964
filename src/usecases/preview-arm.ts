import { applyPlan } from '../core/treat/apply.ts';
import { TREATED, type ArmId } from '../core/trial/arms.ts';
import type { Capture } from '../core/measure/exchange.ts';
import { overridesOf } from '../engine/replay/overrides.ts';
import type { Queries } from '../store/database.ts';
import { findPage } from '../store/sites.ts';
import { measuredPage, planFor, sceneFor } from './stored-page.ts';

/** What serving an arm of a page takes. */
export interface PreviewArm {
  capture: Capture;
  bodies: Map<string, Uint8Array>;
  pageName: string;
  overrides: ReturnType<typeof overridesOf>;
}

/** An arm of a page from its stored bytes; null when the page was not measured. */
export async function previewArm(
  queries: Queries,
  pageId: number,
  conditionsId: string,
  arm: ArmId,
): Promise<PreviewArm | null> {
  const page = await measuredPage(queries, pageId, conditionsId);
  if (!page) return null;
  const { plan, fold, next } = await planFor(queries, pageId, page);
  const treated = applyPlan(sceneFor(page, fold, next), arm === TREATED ? plan : { ...plan, rules: [] });
  const { capture, bodies } = page;
  const pageName = (await findPage(queries, pageId))!.name;
  return { capture, bodies, pageName, overrides: overridesOf(capture.documentUrl, treated) };
}
