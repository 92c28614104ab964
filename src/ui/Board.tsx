'use client';
import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { median } from '@/core/measure/metrics';
import { count, ms } from '@/core/path/words';
import type { BoardRow, BoardView } from '@/usecases/views';
import { call, useConditionsId, useJobs, useStartJob } from './api';
import { AddPage } from './AddPage';
import { when } from './figures';
import { useKey } from './keyboard';
import { KeysHelp } from './KeysHelp';
import { NameDialog, type Named } from './NameDialog';
import { TopBar } from './TopBar';

/** The page board: every site with its pages, what visitors wait, and what is proved. */
export function Board() {
  const conditionsId = useConditionsId();
  const router = useRouter();
  const start = useStartJob();
  const [selected, setSelected] = useState(0);
  const [adding, setAdding] = useState(false);
  const [named, setNamed] = useState<Named | null>(null);
  const { data, error, isPending } = useQuery({
    queryKey: ['board', conditionsId],
    queryFn: () => call<BoardView>(`/api/board?conditions=${conditionsId}`),
  });
  const rows = data?.sites.flatMap((site) => site.pages) ?? [];
  const open = (row: BoardRow | undefined) =>
    row &&
    router.push(
      `/pages/${row.id}/${row.firstPaintMs === null ? 'measure' : 'map'}?conditions=${conditionsId}`,
    );
  const current = rows[Math.min(selected, rows.length - 1)];
  useKey('j', () => setSelected((now) => Math.min(now + 1, rows.length - 1)));
  useKey('k', () => setSelected((now) => Math.max(now - 1, 0)));
  useKey('Enter', () => open(current));
  useKey('m', () => current && start.mutate({ kind: 'measure', pageId: current.id, conditionsId }));
  useKey('a', () => setAdding(true));

  return (
    <>
      <TopBar where="Pages" />
      <main className="screen">
        <h1 className="sentence">{isPending ? 'Reading the pages…' : <Headline rows={rows} />}</h1>
        {error ? (
          <p className="note" role="alert">
            {error.message}
          </p>
        ) : null}
        <div className="row">
          <Button
            variant="contained"
            onClick={() =>
              rows.forEach((row) => start.mutate({ kind: 'measure', pageId: row.id, conditionsId }))
            }
            disabled={rows.length === 0}
          >
            Measure all
          </Button>
          <Button variant="outlined" onClick={() => setAdding(true)}>
            Add a page
          </Button>
          <span className="gap" style={{ flex: 1 }} />
          <span className="muted">
            <span className="as-is">●</span> as is&ensp;<span className="treated">●</span> treated, proved
          </span>
        </div>
        {data?.sites.map((site) => (
          <section key={site.id} aria-label={site.name} style={{ marginBottom: 18 }}>
            <div className="row">
              <h2 style={{ fontSize: 15, margin: 0 }}>{site.name}</h2>
              <code className="muted">{site.origin}</code>
              {site.seededAt ? <span className="muted">demo data measured on {site.seededAt}</span> : null}
              <button
                type="button"
                className="key"
                onClick={() => setNamed({ kind: 'sites', id: site.id, name: site.name, action: 'rename' })}
              >
                rename
              </button>
              <button
                type="button"
                className="key"
                onClick={() => setNamed({ kind: 'sites', id: site.id, name: site.name, action: 'delete' })}
              >
                delete
              </button>
            </div>
            <PageTable
              rows={site.pages}
              all={rows}
              current={current}
              conditionsId={conditionsId}
              onName={setNamed}
            />
          </section>
        ))}
        {data && rows.length === 0 ? (
          <div className="empty">
            <h1>No pages yet.</h1>
            <p>
              Add a page by its address: your own local server is the usual case. It is captured once, and
              everything after that works on the stored bytes.
            </p>
          </div>
        ) : null}
        <p className="muted">
          <span className="key">J</span> <span className="key">K</span> move&emsp;
          <span className="key">Enter</span> open&emsp;<span className="key">M</span> measure&emsp;
          <span className="key">A</span> add&emsp;<span className="key">?</span> all keys
        </p>
      </main>
      {adding ? <AddPage onClose={() => setAdding(false)} /> : null}
      {named ? <NameDialog named={named} onClose={() => setNamed(null)} /> : null}
      <KeysHelp />
    </>
  );
}

function Headline({ rows }: { rows: BoardRow[] }) {
  const measured = rows.filter((row) => row.firstPaintMs !== null);
  const middle = median(measured.map((row) => row.firstPaintMs!));
  const pages = `${rows.length} ${rows.length === 1 ? 'page' : 'pages'}`;
  if (middle === null) return <>{pages}. None is measured under these conditions yet.</>;
  const gains = measured.filter((row) => row.verdict === 'earlier' && row.treatedFirstPaintMs !== null);
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
          <span className="mark treated">{ms(median(gains.map((row) => row.treatedFirstPaintMs!))!)}</span>
        </>
      ) : null}
      .
    </>
  );
}

function PageTable({
  rows,
  all,
  current,
  conditionsId,
  onName,
}: {
  rows: BoardRow[];
  all: BoardRow[];
  current: BoardRow | undefined;
  conditionsId: string;
  onName: (named: Named) => void;
}) {
  const jobs = useJobs();
  const most =
    Math.max(1_000, ...all.flatMap((row) => [row.firstPaintMs ?? 0, row.treatedFirstPaintMs ?? 0])) * 1.18;
  return (
    <div className="sheet">
      <table className="plain">
        <thead>
          <tr>
            <th>Page</th>
            <th>First paint, ms</th>
            <th className="number">Speed Index</th>
            <th>State</th>
            <th>
              <span className="visually-hidden">Actions</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => {
            const job = jobs.findLast((one) => one.pageId === row.id);
            return (
              <tr key={row.id} aria-selected={row.id === current?.id}>
                <td style={{ width: 230 }}>
                  <Link
                    href={`/pages/${row.id}/${row.firstPaintMs === null ? 'measure' : 'map'}?conditions=${conditionsId}`}
                    style={{ fontWeight: 650, textDecoration: 'none' }}
                  >
                    {row.name}
                  </Link>
                  <br />
                  <code className="muted">{new URL(row.url).pathname}</code>
                </td>
                <td>
                  <Track row={row} most={most} />
                </td>
                <td className="number">{row.speedIndexMs === null ? '–' : count(row.speedIndexMs)}</td>
                <td>{stateOf(row, job)}</td>
                <td className="number">
                  <button
                    type="button"
                    className="key"
                    aria-label={`Rename ${row.name}`}
                    onClick={() => onName({ kind: 'pages', id: row.id, name: row.name, action: 'rename' })}
                  >
                    rename
                  </button>{' '}
                  <button
                    type="button"
                    className="key"
                    aria-label={`Delete ${row.name}`}
                    onClick={() => onName({ kind: 'pages', id: row.id, name: row.name, action: 'delete' })}
                  >
                    delete
                  </button>
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

function stateOf(row: BoardRow, job: { state: string; step: string } | undefined): string {
  if (job?.state === 'running') return job.step || 'running';
  if (job?.state === 'waiting') return 'waiting';
  if (job?.state === 'failed') return 'failed: open it to see why';
  if (row.measuredAt === null) return 'not measured';
  return row.verdict === 'earlier'
    ? 'proved earlier'
    : row.verdict
      ? `trial: ${row.verdict}`
      : `measured ${when(row.measuredAt)}`;
}

function Track({ row, most }: { row: BoardRow; most: number }) {
  if (row.firstPaintMs === null) return <span className="muted">–</span>;
  const at = (value: number) => `${(100 * value) / most}%`;
  const treated = row.treatedFirstPaintMs;
  return (
    <div className="board-track">
      {treated !== null ? (
        <>
          <i
            className="line"
            style={{
              left: at(Math.min(treated, row.firstPaintMs)),
              width: at(Math.abs(row.firstPaintMs - treated)),
            }}
          />
          <i className="dot" style={{ left: at(treated), background: 'var(--teal)' }} />
          <span
            className="value treated"
            style={{ left: at(treated), transform: 'translateX(calc(-100% - 11px))' }}
          >
            {count(treated)}
          </span>
        </>
      ) : null}
      <i className="dot" style={{ left: at(row.firstPaintMs), background: 'var(--ochre)' }} />
      <span className="value as-is" style={{ left: at(row.firstPaintMs), transform: 'translateX(11px)' }}>
        {count(row.firstPaintMs)}
      </span>
    </div>
  );
}
