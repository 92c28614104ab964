'use client';
import LinearProgress from '@mui/material/LinearProgress';
import Popover from '@mui/material/Popover';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { JobView } from '@/usecases/jobs';
import { call, useCancelJob, useJobs } from './api';

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
          <LinearProgress
            variant="determinate"
            aria-label="Progress"
            sx={{ width: 60, flexShrink: 0 }}
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
      <Popover
        open={anchor !== null && waiting.length > 0}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
        transformOrigin={{ vertical: 'top', horizontal: 'right' }}
      >
        <Waiting jobs={waiting} />
      </Popover>
    </span>
  );
}

const SHOWN = 30;

function Waiting({ jobs }: { jobs: JobView[] }) {
  const client = useQueryClient();
  const cancel = useCancelJob();
  const move = useMutation({
    mutationFn: ({ id, to }: { id: number; to: 'up' | 'down' | 'first' }) =>
      call(`/api/jobs/${id}`, { method: 'PATCH', body: { move: to } }),
    onSettled: () => client.invalidateQueries({ queryKey: ['jobs'] }),
  });
  return (
    <div style={{ padding: 14, minWidth: 420 }}>
      <h2 style={{ margin: '0 0 6px', fontSize: 14 }}>Waiting, in this order</h2>
      <table className="plain">
        <tbody>
          {jobs.slice(0, SHOWN).map((job, index) => (
            <tr key={job.id}>
              <td>
                {job.doing} {job.pageName} <span className="muted">{job.conditionsId}</span>
              </td>
              <td className="number">
                <button
                  type="button"
                  className="key"
                  disabled={index === 0}
                  aria-label={`Move ${job.pageName} up`}
                  onClick={() => move.mutate({ id: job.id, to: 'up' })}
                >
                  ↑
                </button>{' '}
                <button
                  type="button"
                  className="key"
                  aria-label={`Move ${job.pageName} down`}
                  onClick={() => move.mutate({ id: job.id, to: 'down' })}
                >
                  ↓
                </button>{' '}
                <button
                  type="button"
                  className="key"
                  disabled={index === 0}
                  onClick={() => move.mutate({ id: job.id, to: 'first' })}
                >
                  next
                </button>{' '}
                <button type="button" className="key" onClick={() => cancel.mutate(job.id)}>
                  take out
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {jobs.length > SHOWN ? <p className="muted">and {jobs.length - SHOWN} more</p> : null}
    </div>
  );
}
