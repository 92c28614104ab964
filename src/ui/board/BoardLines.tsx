'use client';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import Link from 'next/link';
import { HEADLINE_NAMES } from '@/core/measure/headline';
import { bytes, count } from '@/core/path/words';
import type { Job } from '@/store/jobs';
import type { BoardRow } from '@/usecases/board-view';
import { call } from '../api';
import { useDeletions, type Deletion } from '../Deletions';
import { when } from '../figures';
import type { Named } from '../NameDialog';
import { holds, shownPaint, treatedPaint, type BoardLine } from './board-rows';

/** A site: its name and address, and what is done with it. */
export function SiteLine({
  line,
  style,
  onName,
}: {
  line: Extract<BoardLine, { kind: 'site' }>;
  style: React.CSSProperties;
  onName: (named: Named) => void;
}) {
  const { site } = line;
  const { remove } = useDeletions();
  const named = (action: Named['action']) => onName({ kind: 'sites', id: site.id, name: site.name, action });
  return (
    <div role="row" className="board-site" style={style}>
      <div role="cell" className="row" style={{ margin: 0 }}>
        <h2 style={{ fontSize: 15, margin: 0 }}>{site.name}</h2>
        <code className="muted" title={site.origin}>
          {site.origin}
        </code>
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
          onClick={() => remove(deletionOf('sites', site))}
        >
          delete
        </button>
      </div>
    </div>
  );
}

/** A page: its paints on the board's scale, its figures and its state. */
export function PageLine({
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
  const named = (action: Named['action']) =>
    onName({ kind: 'pages', id: row.id, name: row.name, action, family: row.family });
  return (
    <div role="row" className="board-row" aria-selected={selected} style={style}>
      <span role="cell" className="board-name" title={`${row.name} ${new URL(row.url).pathname}`}>
        <Link
          prefetch={false}
          href={`/pages/${row.id}/${row.paintMs === null ? 'measure' : 'map'}?conditions=${conditionsId}`}
        >
          {row.name}
        </Link>
        <br />
        <code className="muted">{new URL(row.url).pathname}</code>{' '}
        <button
          type="button"
          className="family"
          aria-label={`Family of ${row.name}: ${row.family || 'no family'}`}
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
      <span role="cell" className="number acts">
        <PageActions row={row} movable={movable} onName={named} />
      </span>
    </div>
  );
}

/** What is done with a page by itself. */
function PageActions({
  row,
  movable,
  onName,
}: {
  row: BoardRow;
  movable: boolean;
  onName: (action: Named['action']) => void;
}) {
  const client = useQueryClient();
  const { remove } = useDeletions();
  const move = useMutation({
    mutationFn: (to: 'up' | 'down') => call(`/api/pages/${row.id}`, { method: 'PATCH', body: { move: to } }),
    onSettled: () => client.invalidateQueries({ queryKey: ['board'] }),
  });
  return (
    <>
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
        onClick={() => onName('rename')}
      >
        rename
      </button>{' '}
      <button
        type="button"
        className="key"
        aria-label={`Delete ${row.name}`}
        onClick={() => remove(deletionOf('pages', row))}
      >
        delete
      </button>
    </>
  );
}

function deletionOf(kind: Named['kind'], { id, name }: { id: number; name: string }): Deletion {
  const what =
    kind === 'sites'
      ? 'all its pages and what is stored of them'
      : 'captures, measurements, fold CSS, plan and trials';
  return { key: `${kind}/${id}`, words: `${name} is deleted, with ${what}`, path: `/api/${kind}/${id}` };
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
