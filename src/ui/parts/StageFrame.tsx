'use client';
import Button from '@mui/material/Button';
import type { UseQueryResult } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import type { JobView } from '@/usecases/jobs';
import { useJobs, useStartJob } from '../api';

/** What every stage's screen is given. */
export interface StageProps {
  pageId: number;
  conditionsId: string;
  pageName: string;
}

/** What a job that is not done yet does now. */
export function jobWords({ state, step }: JobView): string {
  return state === 'waiting' ? 'Waiting…' : `${step || 'Starting'}…`;
}

/** A button that starts a job for the page, and says when it waits or runs. */
export function JobButton({
  kind,
  label,
  pageId,
  conditionsId,
  primary = true,
}: {
  kind: string;
  label: string;
  pageId: number;
  conditionsId: string;
  primary?: boolean;
}) {
  const jobs = useJobs();
  const start = useStartJob();
  const job = jobs.find(
    (one) =>
      one.pageId === pageId && one.kind === kind && (one.state === 'running' || one.state === 'waiting'),
  );
  return (
    <>
      <Button
        variant={primary ? 'contained' : 'outlined'}
        disabled={job !== undefined || start.isPending}
        onClick={() => start.mutate({ kind, pageId, conditionsId })}
      >
        {job ? jobWords(job) : label}
      </Button>
      {start.error ? <span role="alert">{start.error.message}</span> : null}
    </>
  );
}

/** The three states that every stage has besides its own: being read, failed, nothing yet. */
export function StageFrame<T>({
  query,
  empty,
  children,
}: {
  query: UseQueryResult<T | null>;
  empty: ReactNode;
  children: (data: T) => ReactNode;
}) {
  if (query.isPending) return <main className="screen muted">Reading…</main>;
  if (query.error) {
    return (
      <main className="screen">
        <p className="note" role="alert">
          {query.error.message}
        </p>
      </main>
    );
  }
  if (query.data === null || query.data === undefined) return <main className="screen empty">{empty}</main>;
  return <>{children(query.data)}</>;
}
