import type { MapAsset, PageMap } from './map.ts';
import { bytes, ms } from './words.ts';

/** One asset that is not the same in two maps. */
export interface MapDifference {
  name: string;
  url: string;
  what: 'appeared' | 'went' | 'grew' | 'shrank' | 'changed its hold';
  sentence: string;
}

/** A change of size that is worth a line: a tenth, and a kilobyte. */
const GREW = { share: 0.1, bytes: 1_000 } as const;

/** What appeared, went, grew or changed its hold between two maps: two captures, conditions, or pages. */
export function differencesOf(before: PageMap, after: PageMap): MapDifference[] {
  const key = (asset: MapAsset) => `${asset.kind} ${withoutVersion(asset.url)}`;
  const known = new Map(before.assets.map((asset) => [key(asset), asset]));
  const now = new Map(after.assets.map((asset) => [key(asset), asset]));
  const found: MapDifference[] = [];
  const say = (asset: MapAsset, what: MapDifference['what'], sentence: string) =>
    found.push({ name: asset.name, url: asset.url, what, sentence });
  for (const [name, asset] of now) {
    const was = known.get(name);
    if (!was) {
      say(asset, 'appeared', `${bytes(asset.wireBytes)}, ${asset.hold} first paint. ${asset.evidence}`);
      continue;
    }
    if (was.hold !== asset.hold)
      say(
        asset,
        'changed its hold',
        `${was.hold} before, ${asset.hold} now${asset.waitedMs >= 1 ? `: first paint waits ${ms(asset.waitedMs)} for it` : ''}.`,
      );
    const grown = asset.wireBytes - was.wireBytes;
    if (Math.abs(grown) >= GREW.bytes && Math.abs(grown) >= was.wireBytes * GREW.share)
      say(
        asset,
        grown > 0 ? 'grew' : 'shrank',
        `${bytes(was.wireBytes)} before, ${bytes(asset.wireBytes)} now.`,
      );
  }
  for (const [name, asset] of known)
    if (!now.has(name)) say(asset, 'went', `${bytes(asset.wireBytes)}; it had been ${asset.hold}.`);
  return found;
}

/** An address without what is only there to get past caches: a query, a hash in the file's name. */
function withoutVersion(url: string): string {
  return url.replace(/[?#].*$/, '').replace(/[.-][0-9a-f]{8,32}(?=\.\w+$)/i, '');
}
