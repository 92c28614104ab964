import type { BillSegment } from './bill.ts';
import type { MapAsset } from './map.ts';

/** A moment on the bill at which one asset's turn ends and the next one's begins. */
export interface HandOver {
  /** From 1, in the order of time. */
  number: number;
  atMs: number;
  from: { url: string; name: string };
  to: { url: string; name: string };
  /** How the next one came to be known: "in the HTML, line 12". */
  found: string;
  /** True when the next one could not be asked for before: the one before named it. */
  serial: boolean;
}

/** An asset that the paint waited less for is passed over: it handed on at once. */
const LEAST_TURN_MS = 20;

/**
 * The hand-overs along a bill: where the wait passes from one asset to another. A chain of serial ones is what
 * could be asked for side by side.
 */
export function handOversOf(bill: readonly BillSegment[], assets: readonly MapAsset[]): HandOver[] {
  const byUrl = new Map(assets.map((asset) => [asset.url, asset]));
  const waitedMs = new Map<string | undefined, number>();
  for (const { url, startMs, endMs } of bill) waitedMs.set(url, (waitedMs.get(url) ?? 0) + endMs - startMs);
  const turns = bill.flatMap(({ url, startMs }) => {
    const asset = url === undefined ? undefined : byUrl.get(url);
    return asset ? [{ asset, startMs }] : [];
  });
  const handOvers: HandOver[] = [];
  for (const [index, { asset: to, startMs }] of turns.entries()) {
    const from = turns[index - 1]?.asset;
    // Back at an asset that had its turn before, nothing new is waited for.
    if (!from || turns.slice(0, index).some((turn) => turn.asset === to)) continue;
    if (waitedMs.get(to.url)! < LEAST_TURN_MS) continue;
    const { discovery } = to;
    const by =
      discovery.by === 'parser' ? discovery.document : 'url' in discovery ? discovery.url : undefined;
    handOvers.push({
      number: handOvers.length + 1,
      atMs: startMs,
      from: { url: from.url, name: from.name },
      to: { url: to.url, name: to.name },
      found: to.found,
      serial: by === from.url,
    });
  }
  return handOvers;
}
