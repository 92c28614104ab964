'use client';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useWindowVirtualizer } from '@tanstack/react-virtual';
import Link from 'next/link';
import { useEffect, useLayoutEffect, useRef, useState } from 'react';
import { HEADLINE_NAMES } from '@/core/measure/headline';
import { bytes, count } from '@/core/path/words';
import type { Job } from '@/store/jobs';
import type { BoardRow } from '@/usecases/board-view';
import { call, useJobs } from '../api';
import { when } from '../figures';
import type { Named } from '../NameDialog';
import { holds, shownPaint, type BoardLine, type BoardOrder, type SortKey } from './board-rows';

const HEADS: readonly { key: SortKey; name: string; number?: boolean }[] = [
  { key: 'name', name: 'Page' },
  { key: 'paintMs', name: 'First paint, ms' },
  { key: 'speedIndexMs', name: 'Speed Index', number: true },
  { key: 'wireBytes', name: 'Bytes', number: true },
  { key: 'measuredAt', name: 'State' },
];
const PAGE_HEIGHT = 47;
const SITE_HEIGHT = 42;

/** All sites with their pages; only the rows in sight are drawn, however many there are. */
export function PageList({
  lines,
  order,
  onOrder,
  selectedId,
  conditionsId,
  onName,
}: {
  lines: BoardLine[];
  order: BoardOrder;
  onOrder: (order: BoardOrder) => void;
  selectedId: number | undefined;
  conditionsId: string;
  onName: (named: Named) => void;
}) {
  const jobs = useJobs();
  const list = useRef<HTMLDivElement>(null);
  const [top, setTop] = useState(0);
  useLayoutEffect(() => setTop(list.current?.offsetTop ?? 0), []);
  const virtual = useWindowVirtualizer({
    count: lines.length,
    estimateSize: (index) => (lines[index]?.kind === 'site' ? SITE_HEIGHT : PAGE_HEIGHT),
    scrollMargin: top,
    overscan: 12,
  });
  const selected = lines.findIndex((line) => line.kind === 'page' && line.row.id === selectedId);
  useEffect(() => {
    if (selected >= 0) virtual.scrollToIndex(selected, { align: 'auto' });
  }, [selected, virtual]);
  const most =
    Math.max(
      1_000,
      ...lines.flatMap((line) =>
        line.kind === 'page' ? [shownPaint(line.row) ?? 0, treatedPaint(line.row) ?? 0] : [],
      ),
    ) * 1.18;
  const lastJob = new Map<number, Job>();
  for (const job of jobs) if (job.pageId !== null) lastJob.set(job.pageId, job);

  return (
    <div role="table" aria-label="Pages" aria-rowcount={lines.length + 1} className="board">
      <div role="row" className="board-row head">
        {HEADS.map((head) => (
          <span
            key={head.key}
            role="columnheader"
            className={head.number ? 'number' : ''}
            aria-sort={order.sort === head.key ? (order.descending ? 'descending' : 'ascending') : undefined}
          >
            <button
              type="button"
              className="sorter"
              onClick={() =>
                onOrder({
                  ...order,
                  sort: head.key,
                  descending: order.sort === head.key && !order.descending,
                })
              }
            >
              {head.name}
              {order.sort === head.key ? (order.descending ? ' ↓' : ' ↑') : ''}
            </button>
          </span>
        ))}
        <span role="columnheader" className="number">
          <button
            type="button"
            className="sorter"
            onClick={() => onOrder({ ...order, sort: 'importance', descending: false })}
          >
            By importance
          </button>
        </span>
      </div>
      <div ref={list} role="rowgroup" style={{ height: virtual.getTotalSize(), position: 'relative' }}>
        {virtual.getVirtualItems().map((item) => {
          const line = lines[item.index];
          if (!line) return null;
          const place = {
            position: 'absolute' as const,
            top: 0,
            left: 0,
            right: 0,
            height: item.size,
            transform: `translateY(${item.start - top}px)`,
          };
          return line.kind === 'site' ? (
            <SiteLine key={item.key} line={line} style={place} onName={onName} />
          ) : (
            <PageLine
              key={item.key}
              row={line.row}
              job={lastJob.get(line.row.id)}
              most={most}
              selected={line.row.id === selectedId}
              movable={order.sort === 'importance'}
              conditionsId={conditionsId}
              style={place}
              onName={onName}
            />
          );
        })}
      </div>
    </div>
  );
}

function SiteLine({
  line,
  style,
  onName,
}: {
  line: Extract<BoardLine, { kind: 'site' }>;
  style: React.CSSProperties;
  onName: (named: Named) => void;
}) {
  const { site } = line;
  const named = (action: Named['action']) => onName({ kind: 'sites', id: site.id, name: site.name, action });
  return (
    <div role="row" className="board-site" style={style}>
      <div role="cell" className="row" style={{ margin: 0 }}>
        <h2 style={{ fontSize: 15, margin: 0 }}>{site.name}</h2>
        <code className="muted">{site.origin}</code>
        {site.seededAt ? <span className="muted">demo data measured on {site.seededAt}</span> : null}
        <button
          type="button"
          className="key"
          aria-label={`Rename ${site.name}`}
          onClick={() => named('rename')}
        >
          rename
        </button>
        <button
          type="button"
          className="key"
          aria-label={`Delete ${site.name}`}
          onClick={() => named('delete')}
        >
          delete
        </button>
      </div>
    </div>
  );
}

function PageLine({
  row,
  job,
  most,
  selected,
  movable,
  conditionsId,
  style,
  onName,
}: {
  row: BoardRow;
  job: Job | undefined;
  most: number;
  selected: boolean;
  movable: boolean;
  conditionsId: string;
  style: React.CSSProperties;
  onName: (named: Named) => void;
}) {
  const client = useQueryClient();
  const move = useMutation({
    mutationFn: (to: 'up' | 'down') => call(`/api/pages/${row.id}`, { method: 'PATCH', body: { move: to } }),
    onSettled: () => client.invalidateQueries({ queryKey: ['board'] }),
  });
  const named = (action: Named['action']) =>
    onName({ kind: 'pages', id: row.id, name: row.name, action, family: row.family });
  return (
    <div role="row" className="board-row" aria-selected={selected} style={style}>
      <span role="cell" className="board-name">
        <Link
          href={`/pages/${row.id}/${row.paintMs === null ? 'measure' : 'map'}?conditions=${conditionsId}`}
        >
          {row.name}
        </Link>
        <br />
        <code className="muted">{new URL(row.url).pathname}</code>{' '}
        <button
          type="button"
          className="family"
          aria-label={`Family of ${row.name}`}
          onClick={() => named('family')}
        >
          {row.family || 'no family'}
        </button>
      </span>
      <span role="cell">
        <Track row={row} most={most} />
      </span>
      <span role="cell" className="number">
        {row.speedIndexMs === null ? '–' : count(row.speedIndexMs)}
      </span>
      <span role="cell" className="number">
        {row.wireBytes === null ? '–' : bytes(row.wireBytes)}
      </span>
      <span role="cell">{stateOf(row, job)}</span>
      <span role="cell" className="number">
        {movable ? (
          <>
            <button
              type="button"
              className="key"
              aria-label={`${row.name} is more important`}
              onClick={() => move.mutate('up')}
            >
              ↑
            </button>{' '}
            <button
              type="button"
              className="key"
              aria-label={`${row.name} is less important`}
              onClick={() => move.mutate('down')}
            >
              ↓
            </button>{' '}
          </>
        ) : null}
        <button
          type="button"
          className="key"
          aria-label={`Rename ${row.name}`}
          onClick={() => named('rename')}
        >
          rename
        </button>{' '}
        <button
          type="button"
          className="key"
          aria-label={`Delete ${row.name}`}
          onClick={() => named('delete')}
        >
          delete
        </button>
      </span>
    </div>
  );
}

function stateOf(row: BoardRow, job: Job | undefined): string {
  if (job?.state === 'running') return job.step || 'running';
  if (job?.state === 'waiting') return 'waiting';
  if (job?.state === 'failed') return 'failed: open it to see why';
  if (row.measuredAt === null) return 'not measured';
  if (row.tooBusy) return 'measured on a busy machine';
  if (row.trial && !holds(row)) return `trial out of date: ${row.trial.stale[0]}`;
  return row.trial?.verdict === 'earlier'
    ? 'proved earlier'
    : row.trial
      ? `trial: ${row.trial.verdict}`
      : `measured ${when(row.measuredAt)}`;
}

/** The treated paint of a trial that holds. */
function treatedPaint(row: BoardRow): number | null {
  return holds(row) ? row.trial!.treatedMs : null;
}

function Track({ row, most }: { row: BoardRow; most: number }) {
  const asIs = shownPaint(row);
  if (asIs === null) return <span className="muted">–</span>;
  const at = (value: number) => `${(100 * value) / most}%`;
  const treated = treatedPaint(row);
  const headline = holds(row) ? row.trial!.headline : row.headline;
  const said = [HEADLINE_NAMES[headline], ...row.caveats].join('. ');
  return (
    <div className="board-track" title={said}>
      {treated !== null ? (
        <>
          <i
            className="line"
            style={{
              left: at(Math.min(treated, asIs)),
              width: at(Math.abs(asIs - treated)),
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
      <i className="dot" style={{ left: at(asIs), background: 'var(--ochre)' }} />
      <span className="value as-is" style={{ left: at(asIs), transform: 'translateX(11px)' }}>
        {count(asIs)}
        {headline === 'firstContentfulPaintMs' ? ' first content' : ''}
        {row.caveats.length ? '*' : ''}
      </span>
    </div>
  );
}
