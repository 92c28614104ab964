import { LRUCache } from 'lru-cache';
import { Replay } from '../engine/replay/replay-client.ts';
import type { ArmId } from '../core/trial/arms.ts';
import type { Read } from './readings.ts';

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
  read: Read,
  pageId: number,
  conditionsId: string,
  arm: ArmId,
): Promise<string | null> {
  const served = await read('preview arm', pageId, conditionsId, arm);
  if (!served) return null;
  const { overrides, ...page } = served;
  const name = `${pageId} ${arm}`;
  previews.delete(name);
  const replay = await Replay.start({
    ...page,
    arms: [{ name: arm, overrides }],
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
