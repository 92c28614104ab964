import type { MapAsset } from './map.ts';

/** What tells how a request came about; its number, where requests are told apart by one. */
type Asked = Pick<MapAsset, 'url' | 'discovery'> & { id?: string };

/**
 * Addresses of all assets that were found through one, directly or through others it brought. A frame's page brings
 * what its HTML names, and a request that is sent on brings what it is sent on to.
 */
export function broughtBy(assets: readonly Asked[], url: string): string[] {
  const brought = new Set([url]);
  const numbers = new Set(assets.flatMap((one) => (one.url === url ? (numberOf(one) ?? []) : [])));
  // A file is listed where it was asked for, which is not before what brought it: one pass is enough but for ties.
  for (let before = 0; before < brought.size;) {
    before = brought.size;
    for (const one of assets) {
      const { discovery } = one;
      const by = 'url' in discovery ? discovery.url : 'document' in discovery ? discovery.document : null;
      const number = numberOf(one);
      const isBrought = (by !== null && brought.has(by)) || (number !== null && numbers.has(number));
      if (!isBrought) continue;
      brought.add(one.url);
      if (number !== null) numbers.add(number);
    }
  }
  brought.delete(url);
  return [...brought];
}

/** Each hop of a request that is sent on has the number of the first, and after a colon one of its own. */
function numberOf({ id }: Asked): string | null {
  return id?.replace(/:\d+$/, '') ?? null;
}
