import { useMemo, useState } from 'react';
import type { Hold, MapAsset } from '@/core/path/map';
import { keyOf, linesOf, type MapLine } from './map-lines';
import { ALL_ROWS, type RowsShown } from './RowFilter';

/** The rows of the map: which are in sight, which is selected, and which the keys went to. */
export interface MapRows {
  lines: readonly MapLine[];
  shown: RowsShown;
  show: (shown: RowsShown) => void;
  selected: string;
  /** The row that the keys went to last: it is brought into sight. */
  followed: string;
  chosen: MapAsset | undefined;
  select: (key: string) => void;
  /** Selects an asset by its address. */
  pick: (url: string) => void;
  /** Selects the row that many further on. */
  step: (by: number) => void;
  /** Shows or hides the rows of a band. */
  toggle: (hold: Hold) => void;
}

export function useMapRows(assets: readonly MapAsset[], first: string): MapRows {
  const [shown, show] = useState(ALL_ROWS);
  const [closed, setClosed] = useState<Hold[]>([]);
  const [selected, select] = useState(first);
  const [followed, setFollowed] = useState('');
  const lines = useMemo(() => linesOf(assets, shown, closed), [assets, shown, closed]);
  return {
    lines,
    shown,
    show,
    selected,
    followed,
    select,
    chosen: assets.find((asset) => keyOf(asset) === selected),
    pick(url) {
      const asset = assets.find((one) => one.url === url);
      if (asset) select(keyOf(asset));
    },
    step(by) {
      const listed = lines.flatMap((line) => (line.kind === 'asset' ? [keyOf(line.asset)] : []));
      const next = listed[Math.min(listed.length - 1, Math.max(0, listed.indexOf(selected) + by))];
      if (next === undefined) return;
      select(next);
      setFollowed(next);
    },
    toggle: (hold) =>
      setClosed((now) => (now.includes(hold) ? now.filter((one) => one !== hold) : [...now, hold])),
  };
}
