'use client';
import { lazy, useState } from 'react';
import { useCancelJob, useJobs } from './api';
import { Later } from './parts/Later';

const WaitingJobs = lazy(() => import('./WaitingJobs').then((one) => ({ default: one.WaitingJobs })));

/** What runs now, with its step and a way to stop it, and what waits behind it, in an order that can be changed. */
export function Queue() {
  const jobs = useJobs();
  const cancel = useCancelJob();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const running = jobs.find((job) => job.state === 'running');
  const waiting = jobs.filter((job) => job.state === 'waiting');
  if (!running && waiting.length === 0) return null;
  return (
    <span className="box" role="status" style={{ cursor: 'default', minWidth: 0 }}>
      {running ? (
        <>
          <span
            style={{ overflow: 'hidden', textOverflow: 'ellipsis' }}
            title={`${running.doing} ${running.pageName}. ${running.step}`}
          >
            {running.doing} {running.pageName} <span className="muted">{running.step}</span>
          </span>
          <progress
            className="progress"
            aria-label="Progress"
            max={100}
            value={running.total ? Math.min(100, (100 * running.done) / running.total) : 0}
          />
          <button type="button" className="key" onClick={() => cancel.mutate(running.id)}>
            cancel
          </button>
        </>
      ) : null}
      {waiting.length > 0 ? (
        <button
          type="button"
          className="key"
          aria-haspopup="dialog"
          onClick={(event) => setAnchor(event.currentTarget)}
        >
          {waiting.length} waiting
        </button>
      ) : null}
      {anchor && waiting.length > 0 ? (
        <Later>
          <WaitingJobs jobs={waiting} anchor={anchor} onClose={() => setAnchor(null)} />
        </Later>
      ) : null}
    </span>
  );
}
