'use client';
import { useRouter } from 'next/navigation';
import { lazy, useMemo, useState } from 'react';
import { median } from '@/core/measure/metrics';
import { ms } from '@/core/path/words';
import type { BoardRow, BoardView } from '@/usecases/board-view';
import { useAnswer, useConditionsId, useStartJob, useStartJobs } from './api';
import { ALL_IN_ORDER, boardLines, familiesOf, holds, shownPaint, withoutGone } from './board/board-rows';
import { BoardTools } from './board/BoardTools';
import { PageList } from './board/PageList';
import { useDeletions } from './Deletions';
import { JobNotice } from './JobNotice';
import { useKey } from './keyboard';
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
  const [adding, setAdding] = useState(false);
  const [named, setNamed] = useState<Named | null>(null);
  const { data: stored, error, isPending } = useAnswer<BoardView>(boardQuestion(conditionsId));
  const { gone } = useDeletions();
  const data = useMemo(() => stored && withoutGone(stored, gone), [stored, gone]);
  const lines = useMemo(() => (data ? boardLines(data, order) : []), [data, order]);
  const families = useMemo(() => (data ? familiesOf(data) : []), [data]);
  const all = data?.sites.flatMap((site) => site.pages) ?? [];
  const rows = lines.flatMap((line) => (line.kind === 'page' ? [line.row] : []));
  const open = (row: BoardRow | undefined) =>
    row &&
    router.push(`/pages/${row.id}/${row.paintMs === null ? 'measure' : 'map'}?conditions=${conditionsId}`);
  const current = rows[Math.min(selected, rows.length - 1)];
  useKey('j', () => setSelected((now) => Math.min(now + 1, rows.length - 1)));
  useKey('k', () => setSelected((now) => Math.max(now - 1, 0)));
  useKey('Enter', () => open(current));
  useKey('m', () => current && start.mutate({ kind: 'measure', pageId: current.id, conditionsId }));
  useKey('a', () => setAdding(true));

  return (
    <>
      <TopBar where="Pages" whole="Pages" />
      <JobNotice pageId={null} />
      <main className="screen">
        <h1 className="sentence">{isPending ? 'Reading the pages…' : <Headline rows={all} />}</h1>
        {error || startMany.error ? (
          <p className="note" role="alert">
            {(error ?? startMany.error)!.message}
          </p>
        ) : null}
        <BoardTools
          all={all}
          rows={rows}
          order={order}
          families={families}
          conditionsId={conditionsId}
          secondsEach={data?.secondsEach}
          onOrder={setOrder}
          onAdd={() => setAdding(true)}
          startMany={startMany}
        />
        {all.length > 0 ? (
          <PageList
            lines={lines}
            order={order}
            onOrder={setOrder}
            selectedId={current?.id}
            conditionsId={conditionsId}
            onName={setNamed}
          />
        ) : null}
        {data ? (
          <NoneShown all={all.length} shown={rows.length} onAll={() => setOrder(ALL_IN_ORDER)} />
        ) : null}
        <Keys />
      </main>
      {adding ? (
        <Later>
          <AddPage onClose={() => setAdding(false)} />
        </Later>
      ) : null}
      {named ? (
        <Later>
          <NameDialog named={named} onClose={() => setNamed(null)} />
        </Later>
      ) : null}
      <KeysHelp />
    </>
  );
}

/** What stands in place of rows where there are none. */
function NoneShown({ all, shown, onAll }: { all: number; shown: number; onAll: () => void }) {
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
    <div className="empty">
      <h1>No pages yet.</h1>
      <p>
        Add a page by its address: your own local server is the usual case. It is captured once, and
        everything after that works on the stored bytes.
      </p>
    </div>
  );
}

function Keys() {
  return (
    <p className="muted">
      <span className="key">J</span> <span className="key">K</span> move&emsp;
      <span className="key">Enter</span> open&emsp;<span className="key">M</span> measure&emsp;
      <span className="key">A</span> add&emsp;<span className="key">?</span> all keys
    </p>
  );
}

function Headline({ rows }: { rows: BoardRow[] }) {
  const measured = rows.filter((row) => row.paintMs !== null);
  const middle = median(measured.map((row) => shownPaint(row)!));
  const pages = `${rows.length} ${rows.length === 1 ? 'page' : 'pages'}`;
  if (middle === null) return <>{pages}. None is measured under these conditions yet.</>;
  const gains = measured.flatMap((row) => {
    const treatedMs = row.trial?.verdict === 'earlier' && holds(row) ? row.trial.treatedMs : null;
    return treatedMs === null ? [] : [{ name: row.name, treatedMs }];
  });
  const unmeasured = rows.length - measured.length;
  return (
    <>
      {pages}
      {unmeasured ? `, ${unmeasured} not measured` : ''}. Visitors wait{' '}
      <span className="mark as-is">{ms(middle)}</span>{' '}
      {measured.length === 1 ? `on ${measured[0]!.name}` : 'at the median page'}
      {gains.length ? (
        <>
          ; what is proved brings {gains.length === 1 ? gains[0]!.name : `${gains.length} pages`} to{' '}
          <span className="mark treated">{ms(median(gains.map((row) => row.treatedMs))!)}</span>
        </>
      ) : null}
      .
    </>
  );
}
