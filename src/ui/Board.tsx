'use client';
import Button from '@mui/material/Button';
import { useRouter } from 'next/navigation';
import { lazy, useMemo, useState } from 'react';
import { median } from '@/core/measure/metrics';
import { HEADLINE_NAMES } from '@/core/measure/headline';
import { capital, ms } from '@/core/path/words';
import type { BoardRow, BoardView } from '@/usecases/board-view';
import { useAnswer, useConditionsId, useStartJob, useStartJobs } from './api';
import {
  ALL_IN_ORDER,
  boardLines,
  familiesOf,
  firstStageOf,
  gainOf,
  shownHeadline,
  shownPaint,
  treatedPaint,
  withoutGone,
  type BoardOrder,
  type StartedForRow,
} from './board/board-rows';
import { BoardFilter } from './board/BoardFilter';
import { BoardTools } from './board/BoardTools';
import { actionsOf } from './board/PageLine';
import { PageList } from './board/PageList';
import { useDeletions } from './Deletions';
import { JobNotice } from './JobNotice';
import { useKeys } from './keyboard';
import { KeysHelp } from './KeysHelp';
import type { Named } from './NameDialog';
import { Later } from './parts/Later';
import { boardQuestion } from './questions';
import { TopBar } from './TopBar';
import './board/board.css';

const AddPage = lazy(() => import('./AddPage').then((one) => ({ default: one.AddPage })));
const NameDialog = lazy(() => import('./NameDialog').then((one) => ({ default: one.NameDialog })));

/** The page board: every site with its pages, what visitors wait, and what is proved. */
export function Board() {
  const conditionsId = useConditionsId();
  const router = useRouter();
  const start = useStartJob();
  const startMany = useStartJobs();
  const [order, setOrder] = useState(ALL_IN_ORDER);
  const [selected, setSelected] = useState(0);
  const { chosen, choose, chooseOnly } = useChosen();
  const [adding, setAdding] = useState(false);
  const [named, setNamed] = useState<Named | null>(null);
  const { data, error, isPending, lines, families, all, rows } = useBoardRows(conditionsId, order);
  const current = rows[Math.min(selected, rows.length - 1)];
  const onStart = (kind: StartedForRow, pageId: number) => start.mutate({ kind, pageId, conditionsId });
  useBoardKeys({
    rows: rows.length,
    select: setSelected,
    open: () => current && router.push(firstStageOf(current, conditionsId)),
    measure: () => current && onStart('measure', current.id),
    choose: () => current && choose(current.id),
    menu: () => current && document.getElementById(actionsOf(current.id))?.click(),
    add: () => setAdding(true),
  });

  return (
    <>
      <TopBar where="Pages" whole="Pages" />
      <JobNotice pageId={null} />
      <main className="screen">
        <h1 className="sentence">{isPending ? 'Reading the pages…' : <Headline rows={all} />}</h1>
        <Trouble error={error ?? startMany.error ?? start.error} />
        {all.length > 0 ? (
          <>
            <BoardTools
              all={all}
              rows={rows}
              chosen={rows.filter(({ id }) => chosen.has(id))}
              conditionsId={conditionsId}
              secondsEach={data?.secondsEach}
              onAdd={() => setAdding(true)}
              onName={setNamed}
              onNone={() => chooseOnly([])}
              startMany={startMany}
            />
            <div className="board">
              <BoardFilter order={order} families={families} onOrder={setOrder} />
              <PageList
                lines={lines}
                order={order}
                onOrder={setOrder}
                selectedId={current?.id}
                chosen={chosen}
                onChooseAll={(every) => chooseOnly(every ? rows.map(({ id }) => id) : [])}
                conditionsId={conditionsId}
                acts={{ onName: setNamed, onStart, onChoose: choose }}
              />
            </div>
          </>
        ) : null}
        {data ? (
          <NoneShown
            all={all.length}
            shown={rows.length}
            onAll={() => setOrder(ALL_IN_ORDER)}
            onAdd={() => setAdding(true)}
          />
        ) : null}
        {all.length > 0 ? <Keys /> : null}
      </main>
      <Dialogs
        adding={adding}
        onAdded={() => setAdding(false)}
        named={named}
        onNamed={() => setNamed(null)}
      />
      <KeysHelp />
    </>
  );
}

/** The board's rows as they are shown. */
function useBoardRows(conditionsId: string, order: BoardOrder) {
  const { data: stored, error, isPending } = useAnswer<BoardView>(boardQuestion(conditionsId));
  const { gone } = useDeletions();
  const data = useMemo(() => stored && withoutGone(stored, gone), [stored, gone]);
  const lines = useMemo(() => (data ? boardLines(data, order) : []), [data, order]);
  const families = useMemo(() => (data ? familiesOf(data) : []), [data]);
  const all = data?.sites.flatMap((site) => site.pages) ?? [];
  const rows = lines.flatMap((line) => (line.kind === 'page' ? [line.row] : []));
  return { data, error, isPending, lines, families, all, rows };
}

function Trouble({ error }: { error: Error | null }) {
  return error ? (
    <p className="note" role="alert">
      {error.message}
    </p>
  ) : null;
}

function Dialogs({
  adding,
  onAdded,
  named,
  onNamed,
}: {
  adding: boolean;
  onAdded: () => void;
  named: Named | null;
  onNamed: () => void;
}) {
  return (
    <>
      {adding ? (
        <Later>
          <AddPage onClose={onAdded} />
        </Later>
      ) : null}
      {named ? (
        <Later>
          <NameDialog named={named} onClose={onNamed} />
        </Later>
      ) : null}
    </>
  );
}

/** Pages that something is to be done with together. */
function useChosen() {
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  return {
    chosen,
    choose: (id: number) =>
      setChosen((now) => new Set(now.has(id) ? [...now].filter((one) => one !== id) : [...now, id])),
    chooseOnly: (ids: readonly number[]) => setChosen(new Set(ids)),
  };
}

function useBoardKeys({
  rows,
  select,
  ...acts
}: {
  rows: number;
  select: (place: (now: number) => number) => void;
} & Record<'open' | 'measure' | 'choose' | 'menu' | 'add', () => void>) {
  useKeys({
    j: () => select((now) => Math.min(now + 1, rows - 1)),
    k: () => select((now) => Math.max(now - 1, 0)),
    enter: acts.open,
    m: acts.measure,
    g: acts.choose,
    '.': acts.menu,
    a: acts.add,
  });
}

/** What stands in place of rows where there are none. */
function NoneShown({
  all,
  shown,
  onAll,
  onAdd,
}: {
  all: number;
  shown: number;
  onAll: () => void;
  onAdd: () => void;
}) {
  if (shown > 0) return null;
  if (all > 0)
    return (
      <p className="note">
        No page is called that.{' '}
        <button type="button" className="key" onClick={onAll}>
          show all
        </button>
      </p>
    );
  return (
    <div className="empty" style={{ paddingTop: 0 }}>
      <p>
        Add a page by its address: your own local server is the usual case. It is captured once and measured,
        in about a minute, and everything after that works on the stored bytes: what its first paint waits
        for, what to do about it, and whether that is earlier and anything broke.
      </p>
      <Button variant="contained" onClick={onAdd}>
        Add pages
      </Button>
    </div>
  );
}

function Keys() {
  return (
    <p className="muted">
      <span className="key">J</span> <span className="key">K</span> move&emsp;
      <span className="key">Enter</span> open&emsp;<span className="key">M</span> measure&emsp;
      <span className="key">G</span> choose&emsp;<span className="key">.</span> what to do&emsp;
      <span className="key">A</span> add&emsp;<span className="key">?</span> all keys
    </p>
  );
}

function Headline({ rows }: { rows: BoardRow[] }) {
  const measured = rows.filter((row) => row.paintMs !== null);
  const asIsMs = (some: BoardRow[]) => median(some.map((row) => shownPaint(row)!));
  const middle = asIsMs(measured);
  const pages = `${rows.length} ${rows.length === 1 ? 'page' : 'pages'}`;
  if (rows.length === 0) return <>No pages yet.</>;
  if (middle === null) return <>{pages}. None is measured under these conditions yet.</>;
  const proved = measured.filter((row) => gainOf(row) !== null);
  const unmeasured = rows.length - measured.length;
  const paint = capital(HEADLINE_NAMES[headlineOf(measured)]);
  return (
    <>
      {pages}
      {unmeasured ? `, ${unmeasured} not measured` : ''}. {paint} takes{' '}
      <span className="mark as-is">{ms(middle)}</span>{' '}
      {measured.length === 1 ? `on ${measured[0]!.name}` : 'at the median page'}
      {proved.length ? (
        <>
          ; what is proved brings {proved.length === 1 ? proved[0]!.name : `${proved.length} pages`}{' '}
          {/* Of other pages than the figure before. */}
          {proved.length < measured.length ? `from ${ms(asIsMs(proved)!)} ` : ''}to{' '}
          <span className="mark treated">{ms(median(proved.map((row) => treatedPaint(row)!))!)}</span>
        </>
      ) : null}
      .
    </>
  );
}

/** First paint, unless it shows nothing on every page. */
const headlineOf = (measured: readonly BoardRow[]) =>
  measured.every((row) => shownHeadline(row) === 'firstContentfulPaintMs')
    ? 'firstContentfulPaintMs'
    : 'firstPaintMs';
