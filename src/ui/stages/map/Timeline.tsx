'use client';
import { useWindowVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useEffectEvent, useLayoutEffect, useRef, useState } from 'react';
import { bytes } from '@/core/path/words';
import type { MapView } from '@/usecases/map-view';
import { AssetRow, Bars } from './AssetRow';
import { atMoment, overTime } from './axis';
import { acrossTheChart, bracketsOf, heightOf, keyOf, type BandLine, type RowPlace } from './map-lines';
import { Strip } from './Strip';
import type { MapRows } from './useMapRows';

/** What of the window the bill and its ticks take, which stay on top, px. */
const HEAD = 112;

/** The assets under the bill, in three bands on its axis; only the rows in sight are drawn. */
export function Timeline({ data, rows }: { data: MapView; rows: MapRows }) {
  const { lines, followed } = rows;
  const list = useRef<HTMLDivElement>(null);
  const top = useTop(list);
  const virtual = useWindowVirtualizer({
    count: lines.length,
    estimateSize: (index) => heightOf(lines[index]),
    getItemKey: (index) => {
      const line = lines[index]!;
      return line.kind === 'band' ? line.hold : `${keyOf(line.asset)} ${index}`;
    },
    scrollMargin: top,
    scrollPaddingStart: HEAD,
    scrollPaddingEnd: 12,
    overscan: 10,
    // As the server sees it: the first assets stand in the document.
    initialRect: { width: 1_280, height: 800 },
  });
  const follow = useEffectEvent((key: string) => {
    const index = lines.findIndex((line) => line.kind === 'asset' && keyOf(line.asset) === key);
    if (index >= 0) virtual.scrollToIndex(index, { align: 'auto' });
  });
  useEffect(() => {
    if (followed) follow(followed);
  }, [followed]);
  const inSight = virtual.getVirtualItems().flatMap((item) => {
    const line = lines[item.index];
    return line ? [{ line, key: item.key, top: item.start - top, height: item.size }] : [];
  });
  return (
    <div ref={list} style={{ height: virtual.getTotalSize(), position: 'relative' }}>
      {inSight.map(({ line, key, ...place }) =>
        line.kind === 'band' ? (
          <BandHead key={key} band={line} place={place} onToggle={() => rows.toggle(line.hold)} />
        ) : (
          <AssetRow
            key={key}
            asset={line.asset}
            data={data}
            place={place}
            selected={keyOf(line.asset) === rows.selected}
            onSelect={() => rows.select(keyOf(line.asset))}
          />
        ),
      )}
      {/* One strip for all rows: a wheel event moves one thing, however many rows are in sight. */}
      <div className="over-lanes" aria-hidden>
        <Strip>
          {bracketsOf(lines, data.paintBill, rows.selected).map(({ startMs, endMs, height }) => (
            <i key={startMs} className="bracket" style={{ ...overTime(startMs, endMs), height }} />
          ))}
          {inSight.map(({ line, key, ...place }) =>
            line.kind === 'asset' ? (
              <span key={key} className="lane" style={place}>
                <Bars
                  asset={line.asset}
                  windowMs={data.windowMs}
                  // Those of other hosts are outlines when the own ones come first.
                  dimmed={rows.shown.ownFirst && line.asset.party === 'third'}
                />
              </span>
            ) : null,
          )}
          {data.target ? <i className="paint-line" style={atMoment(data.target.atMs)} /> : null}
        </Strip>
      </div>
    </div>
  );
}

/** How far an element is from the top of the document, px: what stands above it is opened and put away. */
function useTop(list: React.RefObject<HTMLElement | null>): number {
  const [top, setTop] = useState(0);
  useLayoutEffect(() => {
    const chart = list.current?.parentElement;
    if (!chart) return;
    const measure = () => {
      if (list.current) setTop(list.current.getBoundingClientRect().top + window.scrollY);
    };
    measure();
    const observer = new ResizeObserver(measure);
    observer.observe(chart);
    return () => observer.disconnect();
  }, [list]);
  return top;
}

/** The head of a band: what it is, how much is in it, and whether its rows are shown. */
function BandHead({ band, place, onToggle }: { band: BandLine; place: RowPlace; onToggle: () => void }) {
  return (
    <div className="band" style={acrossTheChart(place)}>
      <b>{band.title}</b>
      <span className="muted">
        {band.assets} {band.assets === 1 ? 'asset' : 'assets'} · {bytes(band.bytes)}
      </span>
      <button type="button" className="key" aria-expanded={!band.closed} onClick={onToggle}>
        {band.closed ? 'show' : 'hide'}
      </button>
    </div>
  );
}
