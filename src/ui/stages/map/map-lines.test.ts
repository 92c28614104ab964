import { expect, it } from 'vitest';
import type { BillSegment } from '@/core/path/bill';
import type { MapAsset } from '@/core/path/map';
import { bracketsOf, keyOf, type MapLine } from './map-lines.ts';

const asset = (url: string) => ({ url, startMs: 10, hold: 'holds' }) as MapAsset;
const [site, menu, crowd] = [asset('/site.css'), asset('/menu.js'), asset('/crowd.js')];
const lines: MapLine[] = [
  { kind: 'band', hold: 'holds', title: 'Holds it', assets: 3, bytes: 0, closed: false },
  ...[site, menu, crowd].map((one): MapLine => ({ kind: 'asset', asset: one })),
];
const segment = (url: string | undefined, startMs: number, endMs: number) =>
  ({ url, startMs, endMs }) as BillSegment;
const bill = [
  segment(undefined, 0, 100),
  segment('/site.css', 100, 160),
  segment('/site.css', 160, 400),
  segment('/menu.js', 400, 500),
  segment('/site.css', 500, 520),
];
const times = (selected: MapAsset) =>
  bracketsOf(lines, bill, keyOf(selected)).map(({ startMs, endMs }) => [startMs, endMs]);

it('brackets what the bill says of the selected asset alone; what follows upon each other is one', () => {
  expect(times(site)).toEqual([
    [100, 400],
    [500, 520],
  ]);
  expect(times(menu)).toEqual([[400, 500]]);
  expect(times(crowd)).toEqual([]);
});

it('reaches down to its row, and is none where that is not shown', () => {
  const height = (selected: MapAsset) => bracketsOf(lines, bill, keyOf(selected))[0]!.height;
  expect(height(menu) - height(site)).toBe(47);
  expect(bracketsOf(lines.slice(0, 1), bill, keyOf(site))).toEqual([]);
});
