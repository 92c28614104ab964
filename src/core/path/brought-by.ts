import type { MapAsset } from './map.ts';

/** Addresses of all assets that were found through one, directly or through others it brought. */
export function broughtBy(assets: readonly Pick<MapAsset, 'url' | 'discovery'>[], url: string): string[] {
  const brought = new Set([url]);
  // A file is listed where it was asked for, which is not before what brought it: one pass is enough but for ties.
  for (let before = 0; before < brought.size;) {
    before = brought.size;
    for (const { url: own, discovery } of assets)
      if ('url' in discovery && brought.has(discovery.url)) brought.add(own);
  }
  brought.delete(url);
  return [...brought];
}
