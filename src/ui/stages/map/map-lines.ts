import type { CSSProperties } from 'react';
import type { BillSegment } from '@/core/path/bill';
import type { Hold, MapAsset } from '@/core/path/map';
import { rowsOf, type RowsShown } from './RowFilter';

const BANDS: readonly { hold: Hold; title: string }[] = [
  { hold: 'holds', title: 'Holds it' },
  { hold: 'crowds', title: 'Crowds it' },
  { hold: 'after', title: 'After' },
];

/** One line of the chart: a band's head or an asset. */
export type MapLine = BandLine | { kind: 'asset'; asset: MapAsset };

export interface BandLine {
  kind: 'band';
  hold: Hold;
  title: string;
  assets: number;
  bytes: number;
  closed: boolean;
}

export const keyOf = (asset: MapAsset) => `${asset.url} ${Math.round(asset.startMs)}`;

/** What is selected at first: what the paint waited for longest. */
export function firstChoice(assets: readonly MapAsset[]): string {
  const holding = assets.filter((asset) => asset.hold === 'holds' && asset.kind !== 'document');
  const first = holding.sort((a, b) => b.waitedMs - a.waitedMs)[0] ?? assets[0];
  return first ? keyOf(first) : '';
}

/** The chart's lines: bands in their order, the assets of each. */
export function linesOf(assets: readonly MapAsset[], shown: RowsShown, closed: readonly Hold[]): MapLine[] {
  const rows = rowsOf(assets, shown);
  return BANDS.flatMap(({ hold, title }): MapLine[] => {
    const own = rows.filter((asset) => asset.hold === hold);
    const head: BandLine = {
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

/** Where a row stands in the chart, px. */
export interface RowPlace {
  top: number;
  height: number;
}

/** A row's style: from the chart's left edge to its right one. */
export function acrossTheChart(place: RowPlace): CSSProperties {
  return { position: 'absolute', left: 0, right: 0, ...place };
}

const HEIGHT = { band: 34, holds: 47, other: 28 } as const;

/** How high a line stands, px. */
export function heightOf(line: MapLine | undefined): number {
  if (!line || line.kind === 'band') return HEIGHT.band;
  return line.asset.hold === 'holds' ? HEIGHT.holds : HEIGHT.other;
}

/**
 * What the bill says of the selected asset, as brackets from the bill down to its row: what follows upon each other is
 * one. None where it holds nothing, or is not in sight.
 */
export function bracketsOf(
  lines: readonly MapLine[],
  bill: readonly BillSegment[],
  selected: string,
): { startMs: number; endMs: number; height: number }[] {
  const at = lines.findIndex((line) => line.kind === 'asset' && keyOf(line.asset) === selected);
  const line = lines[at];
  if (line?.kind !== 'asset') return [];
  const height = lines.slice(0, at).reduce((sum, one) => sum + heightOf(one), 0) + BRACKET_INTO_ROW;
  const brackets: { startMs: number; endMs: number; height: number }[] = [];
  for (const { url, startMs, endMs } of bill) {
    if (url !== line.asset.url) continue;
    const before = brackets.at(-1);
    if (before?.endMs === startMs) before.endMs = endMs;
    else brackets.push({ startMs, endMs, height });
  }
  return brackets;
}

/** So far a bracket goes into its row, px. */
const BRACKET_INTO_ROW = 8;
