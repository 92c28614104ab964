'use client';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import Link from 'next/link';
import { bytes, capital, count } from '@/core/path/words';
import { heldWords } from '@/core/words/held';
import type { Job } from '@/store/jobs';
import type { BoardRow } from '@/usecases/board-view';
import { call } from '../api';
import { useDeletions } from '../Deletions';
import type { Named } from '../NameDialog';
import {
  deletionOfPages,
  firstStageOf,
  gainOf,
  nextStep,
  stateWords,
  type StartedForRow,
} from './board-rows';
import { RowActions } from './RowActions';
import { Track } from './Track';

/** By which a key finds the menu of a page's row. */
export const actionsOf = (pageId: number) => `board-actions-${pageId}`;

export interface PageLineActs {
  onName: (named: Named) => void;
  onStart: (kind: StartedForRow, pageId: number) => void;
  onChoose: (pageId: number) => void;
}

/** A page: how it looks, its paints on the board's scale, what they wait for, what is proved and what is next. */
export function PageLine({
  row,
  job,
  most,
  selected,
  chosen,
  movable,
  conditionsId,
  style,
  acts,
}: {
  row: BoardRow;
  job: Job | undefined;
  most: number;
  selected: boolean;
  chosen: boolean;
  movable: boolean;
  conditionsId: string;
  style: React.CSSProperties;
  acts: PageLineActs;
}) {
  const path = new URL(row.url).pathname;
  const held = row.held && heldWords(row.held);
  return (
    <div role="row" className="board-row" aria-selected={selected} style={style}>
      <span role="cell">
        <input
          type="checkbox"
          className="board-choose"
          aria-label={`Choose ${row.name}`}
          checked={chosen}
          onChange={() => acts.onChoose(row.id)}
        />
      </span>
      <span role="cell" className="board-picture">
        {row.pictureId === null ? null : (
          <img src={`/api/pictures/frame/${row.pictureId}`} alt="" width={56} height={40} loading="lazy" />
        )}
      </span>
      <span role="cell" className="board-name" title={`${row.name} ${path}`}>
        <Link prefetch={false} href={firstStageOf(row, conditionsId)}>
          {row.name}
        </Link>
        <br />
        <code className="muted">{path}</code>{' '}
        {row.family ? <span className="family">{row.family}</span> : null}
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
      <span role="cell" className="board-held" title={held ?? undefined}>
        {held ?? <span className="muted">–</span>}
      </span>
      <span role="cell" className="board-state">
        <State row={row} job={job} />
        <Next row={row} job={job} conditionsId={conditionsId} onStart={acts.onStart} />
        {busyWith(job) ? null : <Worse row={row} conditionsId={conditionsId} />}
      </span>
      <span role="cell" className="number">
        <PageActions row={row} movable={movable} acts={acts} />
      </span>
    </div>
  );
}

/** What is known of a page, or done for it now. */
function State({ row, job }: { row: BoardRow; job: Job | undefined }) {
  if (job?.state === 'running') return <span>{job.step || 'running'}</span>;
  if (job?.state === 'waiting') return <span>waiting</span>;
  if (job?.state === 'failed') return <span>failed</span>;
  return (
    <span className={gainOf(row) === null ? undefined : 'treated'} title={row.trial?.stale.join('; ')}>
      {stateWords(row)}
    </span>
  );
}

const busyWith = (job: Job | undefined) => job?.state === 'running' || job?.state === 'waiting';

/** What a proved page pays for it, with the way to where that is told. */
function Worse({ row, conditionsId }: { row: BoardRow; conditionsId: string }) {
  const worse = gainOf(row) === null ? [] : row.trial!.worse;
  if (worse.length === 0) return null;
  const said = `${worse.length} got worse`;
  return (
    <Link
      className="got-worse"
      prefetch={false}
      title={capital(worse.join('; '))}
      aria-label={`${said} on ${row.name}: ${worse.join('; ')}`}
      href={`/pages/${row.id}/prove?conditions=${conditionsId}`}
    >
      {said}
    </Link>
  );
}

/** The step that leads further with a page; none while something runs for it. */
function Next({
  row,
  job,
  conditionsId,
  onStart,
}: {
  row: BoardRow;
  job: Job | undefined;
  conditionsId: string;
  onStart: PageLineActs['onStart'];
}) {
  if (busyWith(job)) return null;
  const step = nextStep(row, job?.state === 'failed');
  if ('starts' in step)
    return (
      <button
        type="button"
        className="next-step"
        aria-label={`${step.name} for ${row.name}`}
        onClick={() => onStart(step.starts, row.id)}
      >
        {step.name}
      </button>
    );
  return (
    <Link
      className="next-step"
      aria-label={`${step.name} for ${row.name}`}
      prefetch={false}
      href={`/pages/${row.id}/${step.stage}?conditions=${conditionsId}`}
    >
      {step.name}
    </Link>
  );
}

/** All that is done with a page by itself. */
function PageActions({ row, movable, acts }: { row: BoardRow; movable: boolean; acts: PageLineActs }) {
  const client = useQueryClient();
  const { remove } = useDeletions();
  const move = useMutation({
    mutationFn: (to: 'up' | 'down') => call(`/api/pages/${row.id}`, { method: 'PATCH', body: { move: to } }),
    onSettled: () => client.invalidateQueries({ queryKey: ['board'] }),
  });
  const { id, name, family } = row;
  return (
    <RowActions
      id={actionsOf(id)}
      name={name}
      acts={[
        { name: 'Measure', key: 'M', act: () => acts.onStart('measure', id) },
        { name: 'Make fold CSS', act: () => acts.onStart('fold', id) },
        null,
        ...(movable
          ? [
              { name: 'More important', act: () => move.mutate('up') },
              { name: 'Less important', act: () => move.mutate('down') },
            ]
          : []),
        {
          name: 'Put in a family',
          act: () => acts.onName({ action: 'family', pageIds: [id], name, family }),
        },
        { name: 'Rename', act: () => acts.onName({ action: 'rename', kind: 'pages', id, name }) },
        null,
        { name: 'Delete', act: () => remove(deletionOfPages([row])) },
      ]}
    />
  );
}
