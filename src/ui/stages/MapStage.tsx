'use client';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { Hold, MapAsset } from '@/core/path/map';
import { ms } from '@/core/path/words';
import type { Footnote } from '@/store/footnotes';
import type { MapView } from '@/usecases/map-view';
import { call } from '../api';
import { useKey } from '../keyboard';
import { Caveats } from '../parts/Caveats';
import { JobButton, StageFrame, type StageProps } from '../parts/StageFrame';
import { panned, stripLength, Strips, zoomed, type Axis } from './map/axis';
import { BillBar, Gains, HandOvers } from './map/Bill';
import { BillLines } from './map/BillLines';
import { Findings } from './map/Findings';
import { FloorLines } from './map/FloorLines';
import { Differences } from './map/Differences';
import { Evidence } from './map/Evidence';
import { aboutAsset, aboutLine, aboutMoment, aboutPage, Footnotes, type NoteSubject } from './map/Footnotes';
import { NoteDialog } from './map/NoteDialog';
import { ALL_ROWS, RowFilter, rowsOf, type RowsShown } from './map/RowFilter';
import { StripsOfChart, Ticks, useLaidOut } from './map/Strip';
import { BANDS, BelowTheChart, keyOf, Timeline, type MapLine } from './map/Timeline';

const PAINTS: readonly [id: string, name: string][] = [
  ['first-paint', 'first paint'],
  ['first-contentful-paint', 'first contentful paint'],
  ['largest-contentful-paint', 'largest contentful paint'],
  ['fold', 'the fold 95 % complete'],
];

/** The paint that the bill is of, by its id. */
function paintIdOf({ target }: MapView): string {
  const kind = target?.kind ?? 'first paint';
  return PAINTS.find(([, name]) => name.startsWith(kind))?.[0] ?? 'fold';
}

/** Map: the bill is the time axis, and the assets hang below it. */
export function MapStage(props: StageProps) {
  const [paint, setPaint] = useState<string | null>(null);
  const [against, setAgainst] = useState<number | null>(null);
  const query = useQuery({
    queryKey: ['page', props.pageId, 'map', props.conditionsId, paint, against],
    queryFn: () =>
      call<MapView | null>(
        `/api/pages/${props.pageId}/map?conditions=${props.conditionsId}${paint === null ? '' : `&paint=${paint}`}${against === null ? '' : `&against=${against}`}`,
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
        <Mapped
          key={paint}
          data={data}
          paint={paint ?? paintIdOf(data)}
          onPaint={setPaint}
          onAgainst={setAgainst}
          {...props}
        />
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
  const pointedAt = useRef<number | null>(null);
  const strips = useStrips(chart, upToPaint, limit, pointedAt);
  const [shown, setShown] = useState(ALL_ROWS);
  const [closed, setClosed] = useState<Hold[]>([]);
  const [note, setNote] = useState<{ about: NoteSubject; known: Footnote | null } | null>(null);
  const noteOn = (about: NoteSubject) => setNote({ about, known: null });
  const firstHolder =
    data.assets
      .filter((asset) => asset.hold === 'holds' && asset.kind !== 'document')
      .sort((a, b) => b.waitedMs - a.waitedMs)[0] ?? data.assets[0];
  const [selected, setSelected] = useState(firstHolder ? keyOf(firstHolder) : '');
  const [floorOpen, setFloorOpen] = useState(false);
  const [followed, setFollowed] = useState('');
  const lines = useMemo(() => linesOf(data.assets, shown, closed), [data.assets, shown, closed]);
  const listed = lines.flatMap((line) => (line.kind === 'asset' ? [line.asset] : []));
  const chosen = data.assets.find((asset) => keyOf(asset) === selected);
  const step = (by: number) => {
    const index = listed.findIndex((asset) => keyOf(asset) === selected);
    const next = listed[Math.min(listed.length - 1, Math.max(0, index + by))];
    if (!next) return;
    setSelected(keyOf(next));
    setFollowed(keyOf(next));
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
  useKey('f', () => chosen && noteOn(aboutAsset(chosen.url)));
  useKey('n', () => noteOn(aboutMoment(pointedAt.current ?? target ?? 0)));

  return (
    <div className="with-side">
      <main className="screen">
        <h1 className="sentence">{[data.sentence, data.emptyPaint].filter(Boolean).join(' ')}</h1>
        <Caveats said={data.caveats} />
        <StripsOfChart value={strips}>
          <div ref={chart} className="chart" style={stripLength(strips)}>
            <div className="axis-row">
              <div style={{ alignSelf: 'center' }}>
                <label>
                  <b>The bill</b>{' '}
                  <select
                    className="small-field"
                    style={{ width: 'auto', maxWidth: 180 }}
                    aria-label="The paint that is looked back from"
                    value={paint}
                    onChange={(event) => onPaint(event.target.value)}
                  >
                    {PAINTS.map(([id, name]) => (
                      <option key={id} value={id}>
                        of {name}
                      </option>
                    ))}
                  </select>
                </label>
                <div className="muted" style={{ fontSize: 12 }}>
                  {target === null ? '' : `its lines sum to ${ms(target)}`}
                </div>
              </div>
              <BillBar data={data} onPick={pick} onFloor={() => setFloorOpen((now) => !now)} />
            </div>
            <HandOvers data={data} onPick={pick} />
            <Gains assets={data.assets} onPick={pick} />
            <BillLines
              data={data}
              pageId={pageId}
              conditionsId={conditionsId}
              onPick={pick}
              onNote={(line) => noteOn(aboutLine(line))}
            />
            {data.floor && data.target?.atMs === data.headlineMs ? (
              <FloorLines floor={data.floor} open={floorOpen} onOpen={setFloorOpen} />
            ) : null}
            <div className="row" style={{ marginBottom: 0 }}>
              <RowFilter assets={data.assets} shown={shown} onShow={setShown} />
              <WholeOrNot strips={strips} upToPaint={upToPaint} />
            </div>
            <p className="legend muted">
              <i className="hold-mark holds" />
              holds <i className="hold-mark crowds" />
              crowds <i className="hold-mark after" />
              after · empty, with its figure: [waiting] · dashes: connecting · dots: the server · filled:
              bytes · notch below: running a script, reading a stylesheet
            </p>
            <Timeline
              lines={lines}
              data={data}
              selected={selected}
              followed={followed}
              dimmed={shown.ownFirst}
              onSelect={setSelected}
              onBand={(hold) =>
                setClosed((now) => (now.includes(hold) ? now.filter((one) => one !== hold) : [...now, hold]))
              }
            />
            <BelowTheChart data={data} end={limit} />
            <div className="axis-row">
              <div className="muted cursor-time" style={{ fontSize: 12 }} />
              <Ticks notes={data.footnotes} />
            </div>
            <i className="cursor" aria-hidden />
          </div>
        </StripsOfChart>
        <Findings findings={data.findings} onPick={pick} />
        <Differences data={data} onAgainst={onAgainst} onPick={pick} />
        <Footnotes
          notes={data.footnotes}
          onPick={pick}
          onChange={(known) => setNote({ about: known, known })}
        />
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
          <button type="button" className="box" onClick={() => noteOn(aboutPage)}>
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
            onNote={() => noteOn(aboutAsset(chosen.url))}
            onPick={pick}
          />
        ) : (
          <p className="muted">Select an asset to see its evidence.</p>
        )}
      </aside>
      {note ? (
        <NoteDialog
          pageId={pageId}
          subject={note.about}
          known={note.known}
          others={[...new Set(data.assets.map((asset) => asset.url))].filter(
            (url) => !note.about.urls.includes(url),
          )}
          onClose={() => setNote(null)}
        />
      ) : null}
    </div>
  );
}

/** The chart's lines: bands in their order, the assets of each. */
function linesOf(assets: readonly MapAsset[], shown: RowsShown, closed: readonly Hold[]): MapLine[] {
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
function useStrips(
  chart: React.RefObject<HTMLDivElement | null>,
  start: Axis,
  endMs: number,
  /** Is told the moment that the pointer is at, null where it is not over the lanes. */
  pointedAt: React.RefObject<number | null>,
): Strips {
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
      pointedAt.current = inLanes ? momentAt(event.clientX) : null;
      const cursor = element.querySelector<HTMLElement>('.cursor');
      if (cursor) {
        cursor.style.opacity = inLanes ? '0.45' : '0';
        cursor.style.transform = `translateX(${left}px)`;
      }
      const label = element.querySelector('.cursor-time');
      const words = pointedAt.current === null ? '' : `cursor at ${ms(pointedAt.current)}`;
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
  }, [chart, endMs, pointedAt, strips]);
  return strips;
}
