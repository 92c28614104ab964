import { LRUCache } from 'lru-cache';
import { Replay } from '../engine/replay/replay-client.ts';
import { applyPlan } from '../core/treat/apply.ts';
import { sceneOf } from '../core/treat/scene.ts';
import { TREATED, type ArmId } from '../core/trial/arms.ts';
import { overridesOf } from '../engine/replay/overrides.ts';
import type { Queries } from '../store/database.ts';
import { measuredPage, planFor } from './stored-page.ts';

const key = Symbol.for('wistrel.previews');
const shared = globalThis as unknown as Record<symbol, LRUCache<string, Replay> | undefined>;
/** Each is a process of its own: the one not opened for longest ends for a new one. */
const MOST_OPEN = 6;
const previews = (shared[key] ??= new LRUCache<string, Replay>({
  max: MOST_OPEN,
  dispose: (replay) => void replay.close(),
}));

/**
 * Serves a page, as is or treated, from the stored bytes on an origin of its own, for clicking through by hand.
 *
 * @returns its address, or null when the page was not measured
 */
export async function openPreview(
  queries: Queries,
  pageId: number,
  conditionsId: string,
  arm: ArmId,
): Promise<string | null> {
  const page = await measuredPage(queries, pageId, conditionsId);
  if (!page) return null;
  const { plan, fold } = await planFor(queries, pageId, page);
  const treated = applyPlan(sceneOf(page.assets, fold), arm === TREATED ? plan : { ...plan, rules: [] });
  const name = `${pageId} ${arm}`;
  previews.delete(name);
  const replay = await Replay.start({
    capture: page.capture,
    bodies: page.bodies,
    arms: [{ name: arm, overrides: overridesOf(page.capture.documentUrl, treated) }],
    conditions: null,
  });
  previews.set(name, replay);
  return replay.preview(arm);
}

export async function closePreviews(): Promise<void> {
  const open = [...previews.values()];
  previews.clear();
  await Promise.all(open.map((replay) => replay.close()));
}
