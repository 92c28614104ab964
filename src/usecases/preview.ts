import { LRUCache } from 'lru-cache';
import type { ArmId } from '../core/trial/arms.ts';
import { armName } from '../core/words/arms.ts';
import { Preview } from '../engine/preview/preview-client.ts';
import type { Read } from './readings.ts';

const key = Symbol.for('wistrel.previews');
const shared = globalThis as unknown as Record<symbol, LRUCache<string, Preview> | undefined>;
/** Each is a process of its own: the one not opened for longest ends for a new one. */
const MOST_OPEN = 6;
const previews = (shared[key] ??= new LRUCache<string, Preview>({
  max: MOST_OPEN,
  dispose: (preview) => void preview.close(),
}));

/**
 * Serves a page, as is or treated, from the stored bytes under names of its own, for clicking through by hand.
 *
 * @param recordedFor the application's origin, where what is done on the page is to be told to its window as a check
 * @returns its address, or null when the page was not measured
 */
export async function openPreview(
  read: Read,
  pageId: number,
  conditionsId: string,
  arm: ArmId,
  recordedFor: string | null = null,
): Promise<string | null> {
  const served = await read('preview arm', pageId, conditionsId, arm);
  if (!served) return null;
  const { overrides, capture, bodies, pageName } = served;
  const { exchanges, documentUrl, clock, takenAt } = capture;
  const words = {
    title: `${pageName}: ${armName(arm)}`,
    about: `Served from what was captured on ${takenAt.slice(0, 10)}. Nothing of it reaches the live site; what was not captured is missing.`,
  };
  const preview = await Preview.open({
    exchanges,
    bodies,
    overrides,
    documentUrl,
    clock,
    words,
    recordedFor,
  });
  // The one of before may show another plan.
  previews.set(`${pageId} ${conditionsId} ${arm} ${recordedFor ?? ''}`, preview);
  return preview.url;
}

export async function closePreviews(): Promise<void> {
  const open = [...previews.values()];
  previews.clear();
  await Promise.all(open.map((preview) => preview.close()));
}
