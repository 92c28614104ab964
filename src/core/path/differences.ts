import type { Hold, MapAsset, PageMap } from './map.ts';
import { bytes, ms, paintName } from './words.ts';

/** One asset that is not the same in two maps. */
export interface MapDifference {
  name: string;
  url: string;
  what: 'appeared' | 'went' | 'grew' | 'shrank' | 'changed its hold';
  sentence: string;
}

const PAST: Record<Hold, string> = { holds: 'held', crowds: 'crowded', after: 'came after' };

/** A change of size that is worth a line: a tenth, and a kilobyte. */
const GREW = { share: 0.1, bytes: 1_000 } as const;

/** What the two maps are called: of one page at two times, or of two pages or conditions side by side. */
export interface Sides {
  was: string;
  is: string;
}
export const IN_TIME: Sides = { was: 'before', is: 'now' };
export const SIDE_BY_SIDE: Sides = { was: 'there', is: 'here' };

/** What appeared, went, grew or changed its hold between two maps: two captures, conditions, or pages. */
export function differencesOf(before: PageMap, after: PageMap, sides: Sides = IN_TIME): MapDifference[] {
  const paint = paintName(after.target);
  const known = byName(before);
  const now = byName(after);
  const { was: there, is: here } = sides;
  const found: MapDifference[] = [];
  const say = (asset: MapAsset, what: MapDifference['what'], sentence: string) =>
    found.push({ name: asset.name, url: asset.url, what, sentence });
  for (const [name, asset] of now) {
    const was = known.get(name);
    if (!was) {
      say(asset, 'appeared', `${bytes(asset.wireBytes)}, ${asset.hold} ${paint}. ${asset.evidence}`);
      continue;
    }
    if (was.hold !== asset.hold)
      say(
        asset,
        'changed its hold',
        `${was.hold} ${there}, ${asset.hold} ${here}${asset.waitedMs >= 1 ? `: ${paint} waits ${ms(asset.waitedMs)} for it` : ''}.`,
      );
    const grown = asset.wireBytes - was.wireBytes;
    if (Math.abs(grown) >= GREW.bytes && Math.abs(grown) >= was.wireBytes * GREW.share)
      say(
        asset,
        grown > 0 ? 'grew' : 'shrank',
        `${bytes(was.wireBytes)} ${there}, ${bytes(asset.wireBytes)} ${here}.`,
      );
  }
  for (const [name, asset] of known)
    if (!now.has(name))
      say(asset, 'went', `${bytes(asset.wireBytes)}; it ${PAST[asset.hold]} ${paint} ${there}.`);
  return found;
}

/** Assets by what is the same in both maps: kind and address, and for documents their turn. */
function byName(map: PageMap): Map<string, MapAsset> {
  let documents = 0;
  return new Map(
    map.assets.map((asset) => [
      asset.kind === 'document' ? `document ${documents++}` : `${asset.kind} ${withoutVersion(asset.url)}`,
      asset,
    ]),
  );
}

/** An address without what is only there to get past caches: a query, a hash in the file's name. */
function withoutVersion(url: string): string {
  return url.replace(/[?#].*$/, '').replace(/[.-][0-9a-f]{8,32}(?=\.\w+$)/i, '');
}
