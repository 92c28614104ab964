'use client';
import { useQuery } from '@tanstack/react-query';
import { lazy, useState } from 'react';
import type { Footnote } from '@/store/footnotes';
import type { MapView } from '@/usecases/map-view';
import { call } from '../api';
import { mapQuestion } from '../questions';
import { Caveats } from '../parts/Caveats';
import { JobButton, StageFrame, type StageProps } from '../parts/StageFrame';
import { Chart } from './map/Chart';
import { Findings } from './map/Findings';
import { Evidence } from './map/Evidence';
import { aboutAsset, aboutPage, type NoteSubject } from './map/note-subjects';
import { Hosts } from './map/Hosts';
import { firstChoice, keyOf } from './map/map-lines';
import { paintIdOf } from './map/PaintChoice';
import { useMapRows } from './map/useMapRows';
import { Later, OnceThere } from '../parts/Later';

const Differences = lazy(() => import('./map/Differences').then((one) => ({ default: one.Differences })));
const Footnotes = lazy(() => import('./map/Footnotes').then((one) => ({ default: one.Footnotes })));
const NoteDialog = lazy(() => import('./map/NoteDialog').then((one) => ({ default: one.NoteDialog })));

/** Map: the bill is the time axis, and the assets hang below it. */
export function MapStage(props: StageProps) {
  const [paint, setPaint] = useState<string | null>(null);
  const [against, setAgainst] = useState<number | null>(null);
  const { key, path } = mapQuestion(props.pageId, props.conditionsId, paint, against);
  const query = useQuery({
    queryKey: key,
    queryFn: () => call<MapView | null>(path),
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
  const [note, setNote] = useState<{ about: NoteSubject; known: Footnote | null } | null>(null);
  const noteOn = (about: NoteSubject) => setNote({ about, known: null });
  const rows = useMapRows(data.assets, firstChoice(data.assets));
  const { chosen, pick } = rows;
  const of = { pageId, conditionsId };
  return (
    <div className="with-side">
      <main className="screen">
        <h1 className="sentence">{[data.sentence, data.emptyPaint].filter(Boolean).join(' ')}</h1>
        <Caveats said={data.caveats} />
        <Chart data={data} rows={rows} paint={paint} onPaint={onPaint} onNote={noteOn} {...of} />
        <Findings findings={data.findings} onPick={pick} />
        <Hosts hosts={data.hosts} />
        <OnceThere>
          <Differences data={data} onAgainst={onAgainst} onPick={pick} />
          <Footnotes
            notes={data.footnotes}
            bill={data.paintBill}
            onPick={pick}
            onChange={(known) => setNote({ about: known, known })}
          />
        </OnceThere>
        <TakeAway paint={paint} onNote={() => noteOn(aboutPage)} {...of} />
      </main>
      <aside className="side" aria-label="Evidence" tabIndex={0}>
        {chosen ? (
          <Evidence
            key={keyOf(chosen)}
            asset={chosen}
            onNote={() => noteOn(aboutAsset(chosen.url))}
            onPick={pick}
            {...of}
          />
        ) : (
          <p className="muted">Select an asset to see its evidence.</p>
        )}
      </aside>
      {note ? (
        <Later>
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
        </Later>
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
      <a className="box" href={`/api/pages/${pageId}/report?conditions=${conditionsId}`} download>
        Report to share
      </a>
      <a
        className="box"
        href={`/api/pages/${pageId}/assets.csv?conditions=${conditionsId}&paint=${paint}`}
        download
      >
        Assets as CSV
      </a>
      <button type="button" className="box" onClick={onNote}>
        Footnote on the page
      </button>
    </div>
  );
}
