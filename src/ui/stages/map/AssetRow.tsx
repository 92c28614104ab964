import type { ReactNode } from 'react';
import type { MapAsset } from '@/core/path/map';
import { shortHost } from '@/core/path/names';
import { count } from '@/core/path/words';
import type { MapView } from '@/usecases/map-view';
import { KIND_MARK } from '../../figures';
import { overTime } from './axis';
import { NoteNumbers } from './NoteNumbers';
import { acrossTheChart, type RowPlace } from './map-lines';

/** A gap this long carries its figure. */
const TOLD_MS = 60;

/** An asset's time: waiting, connecting, the server, the bytes, waiting for its use, and being run or read. */
export function Bars({ asset, windowMs, dimmed }: { asset: MapAsset; windowMs: number; dimmed: boolean }) {
  const finish = asset.endMs ?? windowMs;
  const first = asset.firstByteMs ?? finish;
  const asked = asset.sentMs ?? asset.startMs;
  const waitsUntil = asset.connectMs?.start ?? asked;
  const used = asset.ranMs ?? asset.readMs;
  const look = dimmed ? 'after' : asset.hold;
  const span = (from: number, to: number, className: string, label?: ReactNode) =>
    to <= from ? null : (
      <i className={`bar ${className}`} style={overTime(from, to)}>
        {label}
      </i>
    );
  const wait = (from: number, to: number) =>
    span(from, to, 'wait', to - from >= TOLD_MS ? <em>[{count(to - from)}]</em> : undefined);
  return (
    <>
      {wait(asset.startMs, waitsUntil)}
      {asset.connectMs ? span(asset.connectMs.start, asset.connectMs.end, `connect ${look}`) : null}
      {span(Math.max(asked, asset.connectMs?.end ?? asked), first, `server ${look}`)}
      {span(first, finish, look)}
      {used ? wait(finish, used.start) : null}
      {used ? span(used.start, used.end, `ran ${look}`) : null}
    </>
  );
}

/** An asset's row: its name, and where it holds the paint, how long and why. */
export function AssetRow({
  asset,
  data,
  place,
  selected,
  onSelect,
}: {
  asset: MapAsset;
  data: MapView;
  place: RowPlace;
  selected: boolean;
  onSelect: () => void;
}) {
  const tall = asset.hold === 'holds';
  const notes = data.footnotes.filter((note) => note.urls.includes(asset.url));
  return (
    <button
      type="button"
      className={`asset ${tall ? 'tall' : ''}`}
      style={acrossTheChart(place)}
      aria-pressed={selected}
      onClick={onSelect}
    >
      <span className="label" style={{ display: 'block' }}>
        <div>
          {tall && asset.waitedMs >= 1 ? <span className="waited">{count(asset.waitedMs)}</span> : null}
          <NoteNumbers notes={notes} />
          <span className="kind">{KIND_MARK[asset.kind]}</span>
          <b style={{ fontWeight: 600 }}>{asset.name}</b>{' '}
          <span className="muted">{shortHost(asset.host)}</span>
        </div>
        {tall ? (
          <div className="why" title={asset.evidence}>
            {asset.evidence}
          </div>
        ) : null}
      </span>
    </button>
  );
}
