'use client';
import { useWindowVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useEffectEvent, useLayoutEffect, useRef, useState, type ReactNode } from 'react';
import type { BillSegment } from '@/core/path/bill';
import type { Hold, MapAsset } from '@/core/path/map';
import { shortHost } from '@/core/path/party';
import { bytes, count, ms } from '@/core/path/words';
import type { Busy, MapView } from '@/usecases/map-view';
import { KIND_MARK } from '../../figures';
import { atMoment, overTime, stretches } from './axis';
import { NoteNumbers } from './Footnotes';
import { Strip } from './Strip';

export const BANDS: readonly { hold: Hold; title: string }[] = [
  { hold: 'holds', title: 'Holds it' },
  { hold: 'crowds', title: 'Crowds it' },
  { hold: 'after', title: 'After' },
];

/** One line of the chart: a band's head or an asset. */
export type MapLine =
  | { kind: 'band'; hold: Hold; title: string; assets: number; bytes: number; closed: boolean }
  | { kind: 'asset'; asset: MapAsset };

export const keyOf = (asset: MapAsset) => `${asset.url} ${Math.round(asset.startMs)}`;

const HEIGHT = { band: 34, holds: 47, other: 28 } as const;

function heightOf(line: MapLine | undefined): number {
  if (!line || line.kind === 'band') return HEIGHT.band;
  return line.asset.hold === 'holds' ? HEIGHT.holds : HEIGHT.other;
}

/** The lines of the bill that an asset in sight caused, with how far its row is from the top: it hangs from them. */
function hangsOf(lines: readonly MapLine[], bill: readonly BillSegment[]) {
  const middles = new Map<string, number>();
  let top = 0;
  for (const line of lines) {
    if (line.kind === 'asset' && line.asset.hold === 'holds' && !middles.has(line.asset.url))
      middles.set(line.asset.url, top + heightOf(line) / 2);
    top += heightOf(line);
  }
  return bill.flatMap((segment) => {
    const height = segment.url === undefined ? undefined : middles.get(segment.url);
    return height === undefined ? [] : [{ segment, height }];
  });
}

/** The assets under the bill, in three bands on its axis; only the rows in sight are drawn. */
export function Timeline({
  lines,
  data,
  selected,
  followed,
  dimmed,
  onSelect,
  onBand,
}: {
  lines: MapLine[];
  data: MapView;
  selected: string;
  /** The row that the keys went to last: it is brought into sight. */
  followed: string;
  /** Assets of other hosts are outlines when the own ones come first. */
  dimmed: boolean;
  onSelect: (key: string) => void;
  onBand: (hold: Hold) => void;
}) {
  const list = useRef<HTMLDivElement>(null);
  const [top, setTop] = useState(0);
  useLayoutEffect(() => {
    const chart = list.current?.parentElement;
    if (!chart) return;
    const measure = () => {
      if (list.current) setTop(list.current.getBoundingClientRect().top + window.scrollY);
    };
    measure();
    // What stands above it is opened and put away.
    const observer = new ResizeObserver(measure);
    observer.observe(chart);
    return () => observer.disconnect();
  }, []);
  const virtual = useWindowVirtualizer({
    count: lines.length,
    estimateSize: (index) => heightOf(lines[index]),
    getItemKey: (index) => {
      const line = lines[index]!;
      return line.kind === 'band' ? line.hold : `${keyOf(line.asset)} ${index}`;
    },
    scrollMargin: top,
    scrollPaddingStart: 12,
    scrollPaddingEnd: 12,
    overscan: 10,
  });
  const follow = useEffectEvent((key: string) => {
    const index = lines.findIndex((line) => line.kind === 'asset' && keyOf(line.asset) === key);
    if (index >= 0) virtual.scrollToIndex(index, { align: 'auto' });
  });
  useEffect(() => {
    if (followed) follow(followed);
  }, [followed]);
  return (
    <div ref={list} style={{ height: virtual.getTotalSize(), position: 'relative' }}>
      {virtual.getVirtualItems().map((item) => {
        const line = lines[item.index];
        if (!line) return null;
        const place = {
          position: 'absolute' as const,
          top: item.start - top,
          left: 0,
          right: 0,
          height: item.size,
        };
        return line.kind === 'band' ? (
          <div key={item.key} className="band" style={place}>
            <b>{line.title}</b>
            <span className="muted">
              {line.assets} {line.assets === 1 ? 'asset' : 'assets'} · {bytes(line.bytes)}
            </span>
            <button
              type="button"
              className="key"
              aria-expanded={!line.closed}
              onClick={() => onBand(line.hold)}
            >
              {line.closed ? 'show' : 'hide'}
            </button>
          </div>
        ) : (
          <AssetRow
            key={item.key}
            asset={line.asset}
            data={data}
            style={place}
            selected={keyOf(line.asset) === selected}
            onSelect={() => onSelect(keyOf(line.asset))}
          />
        );
      })}
      {/* One strip for all rows: a wheel event moves one thing, however many rows are in sight. */}
      <div className="over-lanes" aria-hidden>
        <Strip>
          {hangsOf(lines, data.paintBill).map(({ segment, height }) => (
            <i
              key={segment.startMs}
              className="hang"
              style={{ ...overTime(segment.startMs, segment.endMs), height }}
            />
          ))}
          {virtual.getVirtualItems().map((item) => {
            const line = lines[item.index];
            return line?.kind === 'asset' ? (
              <span key={item.key} className="lane" style={{ top: item.start - top, height: item.size }}>
                <Bars
                  asset={line.asset}
                  windowMs={data.windowMs}
                  dimmed={dimmed && line.asset.party === 'third'}
                />
              </span>
            ) : null;
          })}
          {data.target ? <i className="paint-line" style={atMoment(data.target.atMs)} /> : null}
        </Strip>
      </div>
    </div>
  );
}

/** A gap this long carries its figure. */
const TOLD_MS = 60;

/** An asset's time: waiting, connecting, the server, the bytes, waiting for its use, and being run or read. */
function Bars({ asset, windowMs, dimmed }: { asset: MapAsset; windowMs: number; dimmed: boolean }) {
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

function AssetRow({
  asset,
  data,
  style,
  selected,
  onSelect,
}: {
  asset: MapAsset;
  data: MapView;
  style: React.CSSProperties;
  selected: boolean;
  onSelect: () => void;
}) {
  const tall = asset.hold === 'holds';
  const notes = data.footnotes.filter((note) => note.urls.includes(asset.url));
  return (
    <button
      type="button"
      className={`asset ${tall ? 'tall' : ''}`}
      style={style}
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
        {tall ? <div className="why">{asset.evidence}</div> : null}
      </span>
    </button>
  );
}

const timesOf = (all: readonly Busy[]) => ms(all.reduce((sum, one) => sum + one.endMs - one.startMs, 0));

/** What the visitor sees, each picture as wide as it stays, and where the line and the main thread were full. */
export function BelowTheChart({ data, end }: { data: MapView; end: number }) {
  return (
    <>
      <div className="axis-row" style={{ marginTop: 8 }}>
        <div>
          <b>What the visitor sees</b>
          <div className="muted">each picture as wide as it stays</div>
        </div>
        <div className="sees">
          <Strip>
            {data.frames.map((frame, index) => {
              const until = data.frames[index + 1]?.atMs ?? end;
              if (until - frame.atMs < end / 400) return null;
              return (
                <figure
                  key={frame.id}
                  style={overTime(frame.atMs, until)}
                  title={`${ms(frame.atMs)}, ${Math.round(frame.completeness * 100)} % complete`}
                >
                  <img src={`/api/pictures/frame/${frame.id}`} alt={`From ${ms(frame.atMs)}`} />
                </figure>
              );
            })}
            {data.target ? <i className="paint-line" style={atMoment(data.target.atMs)} /> : null}
          </Strip>
        </div>
      </div>
      <div className="axis-row">
        <div className="muted" style={{ fontSize: 12, alignSelf: 'center' }}>
          thick where full: main thread above, line below
        </div>
        <div
          className="busy"
          role="img"
          aria-label={`The axis, thick where the main thread was busy (${timesOf(data.threadBusy)}) and where the line was full (${timesOf(data.lineFull)})`}
        >
          <Strip>
            <i className="above" style={{ backgroundImage: stretches(data.threadBusy) }} />
            <i className="below" style={{ backgroundImage: stretches(data.lineFull) }} />
          </Strip>
        </div>
      </div>
    </>
  );
}
