import type { MapAsset } from './map.ts';

/** What a paint waited for, in short. */
export interface PaintHeld {
  /** How many assets hold it, the document aside. */
  assets: number;
  /** The one that it waited for most beyond all that was needed before; null where there is none to be named. */
  first: { name: string; waitedMs: number } | null;
}

/** What of a map a list of pages has room for. */
export function paintHeldOf(
  assets: readonly Pick<MapAsset, 'name' | 'kind' | 'hold' | 'waitedMs'>[],
): PaintHeld {
  const holding = assets.filter(({ kind, hold }) => kind !== 'document' && hold === 'holds');
  const [most] = holding.toSorted((a, b) => b.waitedMs - a.waitedMs);
  return {
    assets: holding.length,
    first: most && most.waitedMs >= 0.5 ? { name: most.name, waitedMs: most.waitedMs } : null,
  };
}
