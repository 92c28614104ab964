import type { Hold, MapAsset } from '@/core/path/map';
import { rowsOf, type RowsShown } from './RowFilter';
import { BANDS, type MapLine } from './Timeline';

/** The chart's lines: bands in their order, the assets of each. */
export function linesOf(assets: readonly MapAsset[], shown: RowsShown, closed: readonly Hold[]): MapLine[] {
  const rows = rowsOf(assets, shown);
  return BANDS.flatMap(({ hold, title }): MapLine[] => {
    const own = rows.filter((asset) => asset.hold === hold);
    const head: MapLine = {
      kind: 'band',
      hold,
      title,
      closed: closed.includes(hold),
      assets: own.length,
      bytes: own.reduce((sum, asset) => sum + asset.wireBytes, 0),
    };
    return [head, ...(head.closed ? [] : own.map((asset): MapLine => ({ kind: 'asset', asset })))];
  });
}
