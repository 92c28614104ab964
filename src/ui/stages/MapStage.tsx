'use client';
import { useQuery } from '@tanstack/react-query';
import { useMemo, useRef, useState } from 'react';
import type { Hold } from '@/core/path/map';
import type { Footnote } from '@/store/footnotes';
import type { MapView } from '@/usecases/map-view';
import { call } from '../api';
import { useKeys } from '../keyboard';
import { Caveats } from '../parts/Caveats';
import { JobButton, StageFrame, type StageProps } from '../parts/StageFrame';
import { panned, stripLength, zoomed, type Axis } from './map/axis';
import { BillBar, Gains, HandOvers } from './map/Bill';
import { BillLines } from './map/BillLines';
import { Findings } from './map/Findings';
import { FloorLines } from './map/FloorLines';
import { Differences } from './map/Differences';
import { Evidence } from './map/Evidence';
import { aboutAsset, aboutLine, aboutMoment, aboutPage, Footnotes, type NoteSubject } from './map/Footnotes';
import { NoteDialog } from './map/NoteDialog';
import { linesOf } from './map/map-lines';
import { PaintChoice, paintIdOf } from './map/PaintChoice';
import { ALL_ROWS, RowFilter } from './map/RowFilter';
import { StripsOfChart, Ticks } from './map/Strip';
import { BelowTheChart, keyOf, Timeline } from './map/Timeline';
import { useStrips } from './map/useStrips';
import { WholeOrNot } from './map/WholeOrNot';

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
  useKeys({
    j: () => step(1),
    k: () => step(-1),
    '+': () => zoom(0.7),
    '-': () => zoom(1.4),
    arrowleft: () => strips.show(panned(strips.axis, -0.15, limit)),
    arrowright: () => strips.show(panned(strips.axis, 0.15, limit)),
    f: () => chosen && noteOn(aboutAsset(chosen.url)),
    n: () => noteOn(aboutMoment(pointedAt.current ?? target ?? 0)),
  });

  return (
    <div className="with-side">
      <main className="screen">
        <h1 className="sentence">{[data.sentence, data.emptyPaint].filter(Boolean).join(' ')}</h1>
        <Caveats said={data.caveats} />
        <StripsOfChart value={strips}>
          <div ref={chart} className="chart" style={stripLength(strips)}>
            <div className="axis-row">
              <PaintChoice paint={paint} target={target} onPaint={onPaint} />
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
            <Legend />
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
          bill={data.paintBill}
          onPick={pick}
          onChange={(known) => setNote({ about: known, known })}
        />
        <TakeAway
          pageId={pageId}
          conditionsId={conditionsId}
          paint={paint}
          onNote={() => noteOn(aboutPage)}
        />
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
          bill={data.paintBill}
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

/** What of the map can be taken away, and a remark on all of it. */
function TakeAway({
  pageId,
  conditionsId,
  paint,
  onNote,
}: Pick<StageProps, 'pageId' | 'conditionsId'> & { paint: string; onNote: () => void }) {
  return (
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
      <button type="button" className="box" onClick={onNote}>
        Footnote on the page
      </button>
    </div>
  );
}

function Legend() {
  return (
    <p className="legend muted">
      <i className="hold-mark holds" />
      holds <i className="hold-mark crowds" />
      crowds <i className="hold-mark after" />
      after · empty, with its figure: [waiting] · dashes: connecting · dots: the server · filled: bytes ·
      notch below: running a script, reading a stylesheet
    </p>
  );
}
