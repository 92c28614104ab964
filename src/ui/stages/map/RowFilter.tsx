'use client';
import { lazy, useState } from 'react';
import type { AssetKind } from '@/core/measure/discovery';
import type { MapAsset } from '@/core/path/map';
import { FindField } from '../../parts/FindField';
import { Later } from '../../parts/Later';
import { KIND_MARK } from '../../figures';
import { toggled } from './toggled';

const HostMenu = lazy(() => import('./HostMenu').then((one) => ({ default: one.HostMenu })));

/** Which rows the chart shows, and in what order. */
export interface RowsShown {
  /** Part of an address. */
  find: string;
  hiddenKinds: ReadonlySet<AssetKind>;
  hiddenHosts: ReadonlySet<string>;
  /** The page's own hosts first, those of others as outlines. */
  ownFirst: boolean;
}

export const ALL_ROWS: RowsShown = {
  find: '',
  hiddenKinds: new Set(),
  hiddenHosts: new Set(),
  ownFirst: false,
};

/** The assets that are shown, in the order in which they are. */
export function rowsOf(assets: readonly MapAsset[], shown: RowsShown): MapAsset[] {
  const word = shown.find.toLowerCase();
  const rows = assets.filter(
    ({ kind, host, url }) =>
      !shown.hiddenKinds.has(kind) && !shown.hiddenHosts.has(host) && url.toLowerCase().includes(word),
  );
  if (shown.ownFirst) rows.sort((a, b) => Number(a.party === 'third') - Number(b.party === 'third'));
  return rows;
}

/** Finds rows by name, hides kinds and hosts, puts own hosts first. */
export function RowFilter({
  assets,
  shown,
  onShow,
}: {
  assets: readonly MapAsset[];
  shown: RowsShown;
  onShow: (shown: RowsShown) => void;
}) {
  const kinds = [...new Set(assets.map((asset) => asset.kind))];
  return (
    <>
      <FindField
        label="Find an asset by name"
        value={shown.find}
        onFind={(find) => onShow({ ...shown, find })}
      />
      <button
        type="button"
        className="box"
        aria-pressed={shown.ownFirst}
        onClick={() => onShow({ ...shown, ownFirst: !shown.ownFirst })}
      >
        {shown.ownFirst ? 'All hosts alike' : 'Own hosts first'}
      </button>
      <HostChoice
        assets={assets}
        hidden={shown.hiddenHosts}
        onHide={(hiddenHosts) => onShow({ ...shown, hiddenHosts })}
      />
      <span className="row" style={{ margin: 0, gap: 3 }} role="group" aria-label="Kinds shown">
        {kinds.map((kind) => (
          <button
            key={kind}
            type="button"
            className={`kind toggle ${shown.hiddenKinds.has(kind) ? 'off' : ''}`}
            aria-pressed={!shown.hiddenKinds.has(kind)}
            aria-label={`${KIND_MARK[kind] ?? kind}: show`}
            onClick={() => onShow({ ...shown, hiddenKinds: toggled(shown.hiddenKinds, kind) })}
          >
            {KIND_MARK[kind]}
          </button>
        ))}
      </span>
    </>
  );
}

/** The hosts whose assets are shown: the page's own before the others. */
function HostChoice({
  assets,
  hidden,
  onHide,
}: {
  assets: readonly MapAsset[];
  hidden: ReadonlySet<string>;
  onHide: (hidden: ReadonlySet<string>) => void;
}) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const count = new Map<string, number>();
  for (const { host } of assets) if (host) count.set(host, (count.get(host) ?? 0) + 1);
  const third = new Set(assets.filter((one) => one.party === 'third').map((one) => one.host));
  const hosts = [...count.keys()].sort((a, b) => Number(third.has(a)) - Number(third.has(b)));
  const seen = hosts.filter((host) => !hidden.has(host)).length;
  return (
    <>
      <button
        type="button"
        className="box"
        aria-haspopup="menu"
        aria-expanded={anchor !== null}
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        Hosts <span className="muted">{seen === hosts.length ? seen : `${seen} of ${hosts.length}`}</span>
      </button>
      {anchor ? (
        <Later>
          <HostMenu
            anchor={anchor}
            hosts={hosts.map((host) => ({ host, assets: count.get(host)!, isThird: third.has(host) }))}
            hidden={hidden}
            onHide={onHide}
            onClose={() => setAnchor(null)}
          />
        </Later>
      ) : null}
    </>
  );
}
