'use client';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { AssetKind } from '@/core/measure/exchange';
import type { Hold, MapAsset } from '@/core/path/map';
import { ms } from '@/core/path/words';
import type { MapView } from '@/usecases/map-view';
import { call } from '../api';
import { KIND_MARK } from '../figures';
import { useKey } from '../keyboard';
import { JobButton, StageFrame, type StageProps } from '../parts/StageFrame';
import { panned, stripLength, Strips, zoomed, type Axis } from './map/axis';
import { BillBar, BillLines, Findings, HandOvers } from './map/Bill';
import { Differences } from './map/Differences';
import { Evidence } from './map/Evidence';
import { Footnotes, NoteDialog, type NoteSubject } from './map/Footnotes';
import { StripsOfChart, Ticks, useLaidOut } from './map/Strip';
import { BANDS, BelowTheChart, keyOf, Timeline, type MapLine } from './map/Timeline';

const PAINTS: readonly [id: string, name: string][] = [
  ['first-paint', 'first paint'],
  ['first-contentful-paint', 'first contentful paint'],
  ['largest-contentful-paint', 'largest contentful paint'],
  ['fold', 'the fold 95 % complete'],
];

/** Map: the bill is the time axis, and the assets hang below it. */
export function MapStage(props: StageProps) {
  const [paint, setPaint] = useState('first-paint');
  const [against, setAgainst] = useState<number | null>(null);
  const query = useQuery({
    queryKey: ['page', props.pageId, 'map', props.conditionsId, paint, against],
    queryFn: () =>
      call<MapView | null>(
        `/api/pages/${props.pageId}/map?conditions=${props.conditionsId}&paint=${paint}${against === null ? '' : `&against=${against}`}`,
      ),
    placeholderData: (before) => before,
  });
  return (
    <StageFrame
      query={query}
      empty={
        <>
          <h1>There is nothing to map yet.</h1>
          <p>Measure the page first: its map is made from the median run.</p>
          <JobButton kind="measure" label="Measure" {...props} />
        </>
      }
    >
      {(data) => (
        <Mapped key={paint} data={data} paint={paint} onPaint={setPaint} onAgainst={setAgainst} {...props} />
      )}
    </StageFrame>
  );
}

function Mapped({
  data,
  paint,
  onPaint,
  onAgainst,
  pageId,
  conditionsId,
}: StageProps & {
  data: MapView;
  paint: string;
  onPaint: (paint: string) => void;
  onAgainst: (id: number) => void;
}) {
  const target = data.target?.atMs ?? null;
  const lastEnd = Math.max(1_000, ...data.assets.map((asset) => asset.endMs ?? asset.startMs), target ?? 0);
  const end = lastEnd * 1.02;
  const upToPaint: Axis = {
    from: 0,
    to: target === null ? end : Math.min(target * 1.22, Math.max(end, target * 1.05)),
  };
  const chart = useRef<HTMLDivElement>(null);
  const limit = Math.max(end, upToPaint.to);
  const strips = useStrips(chart, upToPaint, limit);
  const [find, setFind] = useState('');
  const [hidden, setHidden] = useState<ReadonlySet<AssetKind>>(new Set());
  const [ownFirst, setOwnFirst] = useState(false);
  const [closed, setClosed] = useState<Hold[]>([]);
  const [note, setNote] = useState<NoteSubject | null>(null);
  const firstHolder =
    data.assets
      .filter((asset) => asset.hold === 'holds' && asset.kind !== 'document')
      .sort((a, b) => b.waitedMs - a.waitedMs)[0] ?? data.assets[0];
  const [selected, setSelected] = useState(firstHolder ? keyOf(firstHolder) : '');
  const lines = useMemo(
    () => linesOf(data.assets, { find, hidden, ownFirst, closed }),
    [data.assets, find, hidden, ownFirst, closed],
  );
  const listed = lines.flatMap((line) => (line.kind === 'asset' ? [line.asset] : []));
  const chosen = data.assets.find((asset) => keyOf(asset) === selected);
  const step = (by: number) => {
    const index = listed.findIndex((asset) => keyOf(asset) === selected);
    const next = listed[Math.min(listed.length - 1, Math.max(0, index + by))];
    if (next) setSelected(keyOf(next));
  };
  const pick = (url: string) => {
    const asset = data.assets.find((one) => one.url === url);
    if (asset) setSelected(keyOf(asset));
  };
  const zoom = (by: number) => {
    const { axis } = strips;
    strips.show(zoomed(axis, target ?? (axis.from + axis.to) / 2, by, limit));
  };
  useKey('j', () => step(1));
  useKey('k', () => step(-1));
  useKey('+', () => zoom(0.7));
  useKey('-', () => zoom(1.4));
  useKey('ArrowLeft', () => strips.show(panned(strips.axis, -0.15, limit)));
  useKey('ArrowRight', () => strips.show(panned(strips.axis, 0.15, limit)));
  useKey('f', () => chosen && setNote({ urls: [chosen.url], atMs: null }));
  const kinds = [...new Set(data.assets.map((asset) => asset.kind))];

  return (
    <div className="with-side">
      <main className="screen">
        <h1 className="sentence">{data.sentence}</h1>
        <div className="row">
          <input
            className="small-field"
            style={{ width: 150 }}
            aria-label="Find an asset by name"
            placeholder="Find by name"
            value={find}
            onChange={(event) => setFind(event.target.value)}
          />
          <select
            className="small-field"
            style={{ width: 'auto' }}
            aria-label="The paint that is looked back from"
            value={paint}
            onChange={(event) => onPaint(event.target.value)}
          >
            {PAINTS.map(([id, name]) => (
              <option key={id} value={id}>
                bill of {name}
              </option>
            ))}
          </select>
          <WholeOrNot strips={strips} upToPaint={upToPaint} />
          <button
            type="button"
            className="box"
            aria-pressed={ownFirst}
            onClick={() => setOwnFirst((now) => !now)}
          >
            {ownFirst ? 'All hosts alike' : 'Own hosts first'}
          </button>
          <span className="row" style={{ margin: 0, gap: 3 }} role="group" aria-label="Kinds shown">
            {kinds.map((kind) => (
              <button
                key={kind}
                type="button"
                className={`kind toggle ${hidden.has(kind) ? 'off' : ''}`}
                aria-pressed={!hidden.has(kind)}
                aria-label={`Show ${kind}`}
                onClick={() =>
                  setHidden((now) => {
                    const next = new Set(now);
                    if (!next.delete(kind)) next.add(kind);
                    return next;
                  })
                }
              >
                {KIND_MARK[kind]}
              </button>
            ))}
          </span>
        </div>
        <StripsOfChart value={strips}>
          <div ref={chart} className="chart" style={stripLength(strips)}>
            <div className="axis-row">
              <div style={{ alignSelf: 'center' }}>
                <b>The bill</b>{' '}
                <span className="muted">{target === null ? '' : `sums to ${ms(target)}`}</span>
              </div>
              <BillBar data={data} onPick={pick} />
            </div>
            <HandOvers data={data} onPick={pick} />
            <BillLines data={data} pageId={pageId} conditionsId={conditionsId} onPick={pick} />
            <p className="legend muted">
              <i className="hold-mark holds" />
              holds <i className="hold-mark crowds" />
              crowds <i className="hold-mark after" />
              after · thin line: waiting, with its figure · ticks: connecting · outline: server · filled:
              bytes · notch: running a script, reading a stylesheet
            </p>
            <Timeline
              lines={lines}
              data={data}
              selected={selected}
              dimmed={ownFirst}
              onSelect={setSelected}
              onBand={(hold) =>
                setClosed((now) => (now.includes(hold) ? now.filter((one) => one !== hold) : [...now, hold]))
              }
            />
            <BelowTheChart data={data} end={limit} />
            <div className="axis-row">
              <div className="muted cursor-time" style={{ fontSize: 12 }} />
              <Ticks />
            </div>
            <i className="cursor" aria-hidden />
          </div>
        </StripsOfChart>
        <Findings findings={data.findings} onPick={pick} />
        <Differences data={data} onAgainst={onAgainst} onPick={pick} />
        <Footnotes notes={data.footnotes} onPick={pick} />
        <div className="row">
          <a
            className="box"
            href={`/api/pages/${pageId}/report?conditions=${conditionsId}`}
            download="report.html"
          >
            Report to share
          </a>
          <a
            className="box"
            href={`/api/pages/${pageId}/assets.csv?conditions=${conditionsId}&paint=${paint}`}
            download="assets.csv"
          >
            Assets as CSV
          </a>
          <button type="button" className="box" onClick={() => setNote({ urls: [], atMs: null })}>
            Footnote on the page
          </button>
        </div>
      </main>
      <aside className="side" aria-label="Evidence">
        {chosen ? (
          <Evidence
            key={keyOf(chosen)}
            asset={chosen}
            pageId={pageId}
            conditionsId={conditionsId}
            onNote={() => setNote({ urls: [chosen.url], atMs: null })}
          />
        ) : (
          <p className="muted">Select an asset to see its evidence.</p>
        )}
      </aside>
      {note ? (
        <NoteDialog
          pageId={pageId}
          subject={note}
          others={[...new Set(data.assets.map((asset) => asset.url))].filter(
            (url) => !note.urls.includes(url),
          )}
          onClose={() => setNote(null)}
        />
      ) : null}
    </div>
  );
}

/** The chart's lines: bands in their order, the assets of each filtered. */
function linesOf(
  assets: readonly MapAsset[],
  show: { find: string; hidden: ReadonlySet<AssetKind>; ownFirst: boolean; closed: readonly Hold[] },
): MapLine[] {
  const word = show.find.toLowerCase();
  const found = assets.filter(
    (asset) => !show.hidden.has(asset.kind) && asset.url.toLowerCase().includes(word),
  );
  if (show.ownFirst) found.sort((a, b) => Number(a.party === 'third') - Number(b.party === 'third'));
  return BANDS.flatMap(({ hold, title }): MapLine[] => {
    const own = found.filter((asset) => asset.hold === hold);
    const closed = show.closed.includes(hold);
    const head: MapLine = {
      kind: 'band',
      hold,
      title,
      closed,
      assets: own.length,
      bytes: own.reduce((sum, asset) => sum + asset.wireBytes, 0),
    };
    return [head, ...(closed ? [] : own.map((asset): MapLine => ({ kind: 'asset', asset })))];
  });
}

/** Left edge of the lanes within the chart: the labels stand before them. */
const LABEL_PX = 320;

/** Shows the whole load, or only what leads up to the paint. */
function WholeOrNot({ strips, upToPaint }: { strips: Strips; upToPaint: Axis }) {
  const { from, to } = useLaidOut(strips);
  const whole = to - from > upToPaint.to * 1.001;
  const change = () => strips.show(whole ? upToPaint : { from: 0, to: strips.endMs });
  useKey('0', change);
  return (
    <button type="button" className="box" aria-pressed={whole} onClick={change}>
      {whole ? 'Up to the paint' : 'The whole load'} <span className="key">0</span>
    </button>
  );
}

/**
 * The chart's strips, with wheel (Ctrl zooms, Shift moves) and a cursor through everything: an event moves and stretches
 * the strips, and nothing is laid out or drawn anew until the wheel rests.
 */
function useStrips(chart: React.RefObject<HTMLDivElement | null>, start: Axis, endMs: number): Strips {
  const { from, to } = start;
  const strips = useMemo(() => new Strips(endMs, { from, to }), [endMs, from, to]);
  useEffect(() => {
    const element = chart.current;
    if (!element) return;
    let settle: ReturnType<typeof setTimeout> | undefined;
    const momentAt = (clientX: number) => {
      const box = element.getBoundingClientRect();
      const { from, to } = strips.axis;
      return from + ((clientX - box.left - LABEL_PX) / (box.width - LABEL_PX)) * (to - from);
    };
    const wheel = (event: WheelEvent) => {
      if (!event.ctrlKey && !event.shiftKey) return;
      event.preventDefault();
      const by = event.deltaY || event.deltaX;
      strips.stretch(
        event.ctrlKey
          ? zoomed(strips.axis, momentAt(event.clientX), by > 0 ? 1.15 : 1 / 1.15, endMs)
          : panned(strips.axis, by / 800, endMs),
      );
      clearTimeout(settle);
      settle = setTimeout(() => strips.show(strips.axis), 150);
    };
    const move = (event: MouseEvent) => {
      const left = event.clientX - element.getBoundingClientRect().left;
      const inLanes = left >= LABEL_PX;
      const cursor = element.querySelector<HTMLElement>('.cursor');
      if (cursor) {
        cursor.style.opacity = inLanes ? '0.45' : '0';
        cursor.style.transform = `translateX(${left}px)`;
      }
      const label = element.querySelector('.cursor-time');
      const words = inLanes ? `cursor at ${ms(momentAt(event.clientX))}` : '';
      // The browser also tells of the pointer when the page moved under it: then there is nothing to draw.
      if (label && label.textContent !== words) label.textContent = words;
    };
    element.addEventListener('wheel', wheel, { passive: false });
    element.addEventListener('mousemove', move);
    return () => {
      clearTimeout(settle);
      element.removeEventListener('wheel', wheel);
      element.removeEventListener('mousemove', move);
    };
  }, [chart, endMs, strips]);
  return strips;
}
