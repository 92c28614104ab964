'use client';
import Button from '@mui/material/Button';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { bytes } from '@/core/path/words';
import type { PairedDifference } from '@/core/trial/statistics';
import type { NextPageRow, NextView } from '@/usecases/next-view';
import { call, useJobs, useStage } from '../../api';
import { signed } from '../../figures';
import { jobWords, type StageProps } from '../../parts/StageFrame';
import { GainBar, intervalWords } from './GainBar';

/** The pages that this one links to: what they need is asked for ahead, and going there is tried with and without. */
export function NextPages(props: StageProps) {
  const { data, error } = useStage<NextView>(props.pageId, 'next', props.conditionsId);
  if (error)
    return (
      <p className="note" role="alert">
        {error.message}
      </p>
    );
  if (!data) return null;
  return (
    <section aria-label="Next pages">
      <h2 style={{ fontSize: 15 }}>Next pages</h2>
      {data.pages.length ? <Tried data={data} {...props} /> : <p style={{ margin: 0 }}>{noneWords(data)}</p>}
    </section>
  );
}

function noneWords(view: NextView): string {
  if (view.notMeasured.length === 0)
    return 'This page links to no other page of the board. Add and measure one that visitors go on to: what it needs can then be asked for ahead.';
  return `This page links to ${notMeasuredNames(view)}, not measured yet. Measure one of them: what it needs can then be asked for ahead.`;
}

function notMeasuredNames({ notMeasured }: NextView): string {
  const names = notMeasured.slice(0, 4).map((one) => one.name);
  return `${names.join(', ')}${notMeasured.length > 4 ? ' and others' : ''}`;
}

function Tried({ data, ...props }: StageProps & { data: NextView }) {
  const { pages, anyOn } = data;
  const told = pages.flatMap((one) => (one.tried ? [one.tried] : []));
  const most = Math.max(
    1,
    ...told.flatMap((one) => [one.withoutMs ?? 0, one.aheadMs ?? 0, one.both?.paintMs ?? 0]),
  );
  return (
    <>
      {told.map((one) => (
        <p key={one.sentence} style={{ margin: '0 0 6px' }}>
          {one.sentence}
          {one.tooBusy ? ' The machine was busy with other things meanwhile.' : ''}
          {one.stale.length ? ` Out of date: ${one.stale.join(', ')}.` : ''}
        </p>
      ))}
      <p className="muted" style={{ margin: '0 0 6px', maxWidth: '74ch' }}>
        {anyOn
          ? 'Tried with what is switched on in Treat (kind NEXT).'
          : 'Nothing is asked for ahead until you switch it on in Treat (kind NEXT); what is recommended there is tried here.'}{' '}
        The press comes two seconds after this page has loaded; eight ways each: three minutes, ten where
        pages are heavy. Where the next page’s own plan was rehearsed, it is gone to with that as well.
      </p>
      <div className="sheet" style={{ marginBottom: 10 }}>
        <table className="plain">
          <thead>
            <tr>
              <th>Page</th>
              <th>It also needs</th>
              <th style={{ width: '32%' }}>First content after the press</th>
              <th className="number">Earlier by, ms</th>
              <th className="number" title="First content of this page: asked for ahead less without">
                Change here, ms
              </th>
              <th>
                <span className="visually-hidden">What is done</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {pages.map((row) => (
              <PageLine key={row.pageId} row={row} none={whyNone(row, anyOn)} most={most} {...props} />
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}

/** Why going to a page shows nothing; null where it does. */
function whyNone({ files, possible, on }: NextPageRow, anyOn: boolean): string | null {
  if (files === 0) return 'this page has all of it';
  if (possible === 0) return 'none may be asked for ahead: Treat says why';
  return anyOn && on === 0 ? 'nothing of it is switched on' : null;
}

function PageLine({
  row,
  none,
  most,
  ...props
}: StageProps & { row: NextPageRow; none: string | null; most: number }) {
  const { name, files, wireBytes, on, tried } = row;
  return (
    <tr>
      <td title={row.url}>{name}</td>
      <td>
        {files} {files === 1 ? 'file' : 'files'}, {bytes(wireBytes)}
        {on ? <div className="muted">{on} switched on</div> : null}
        {none ? <div className="muted">{none}</div> : null}
      </td>
      <td>
        {tried ? (
          <>
            <GainBar value={tried.withoutMs} most={most} kind="as-is" words="without" />
            <GainBar value={tried.aheadMs} most={most} kind="treated" words="ahead" />
            {tried.both ? (
              <GainBar value={tried.both.paintMs} most={most} kind="treated" words="and its own plan" />
            ) : null}
          </>
        ) : (
          <span className="muted">not tried</span>
        )}
      </td>
      <td className="number">
        {tried ? <Difference of={tried.paint} gain /> : '–'}
        {tried?.both ? <Difference of={tried.both.paint} gain /> : null}
      </td>
      <td className="number">{tried ? <Difference of={tried.ownPaint} gain={false} /> : '–'}</td>
      <td>
        <TryButton row={row} possible={none === null} {...props} />
      </td>
    </tr>
  );
}

function Difference({ of, gain }: { of: PairedDifference; gain: boolean }) {
  return (
    <>
      {signed({ unit: 'ms' }, gain ? -of.differenceMs : of.differenceMs)}
      <div className="muted" style={{ whiteSpace: 'nowrap' }}>
        {intervalWords(of, gain)}
      </div>
    </>
  );
}

function TryButton({
  row,
  possible,
  pageId,
  conditionsId,
}: StageProps & { row: NextPageRow; possible: boolean }) {
  const client = useQueryClient();
  const job = useJobs().find(
    (one) =>
      one.kind === 'navigation' &&
      one.pageId === pageId &&
      (one.state === 'running' || one.state === 'waiting'),
  );
  const start = useMutation({
    mutationFn: () =>
      call(`/api/pages/${pageId}/next-trial`, {
        method: 'POST',
        body: { toPageId: row.pageId, conditionsId },
      }),
    onSettled: () => client.invalidateQueries({ queryKey: ['jobs'] }),
  });
  const isThis = job?.input?.['toPageId'] === row.pageId;
  return (
    <>
      <Button
        variant="outlined"
        style={{ whiteSpace: 'nowrap' }}
        aria-label={isThis ? undefined : `Try going to ${row.name}`}
        disabled={job !== undefined || start.isPending || !possible}
        onClick={() => start.mutate()}
      >
        {job && isThis
          ? job.state === 'waiting'
            ? 'Waiting…'
            : 'Running…'
          : row.tried
            ? 'Try again'
            : 'Try it'}
      </Button>
      {job && isThis && job.state === 'running' ? <div className="muted">{jobWords(job)}</div> : null}
      {start.error ? <span role="alert">{start.error.message}</span> : null}
    </>
  );
}
