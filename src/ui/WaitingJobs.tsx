'use client';
import Popover from '@mui/material/Popover';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import type { JobView } from '@/usecases/jobs';
import { call, useCancelJob } from './api';

/** What waits, under the button that opened it. */
export function WaitingJobs({
  jobs,
  anchor,
  onClose,
}: {
  jobs: JobView[];
  anchor: HTMLElement;
  onClose: () => void;
}) {
  return (
    <Popover
      open
      anchorEl={anchor}
      onClose={onClose}
      anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
      transformOrigin={{ vertical: 'top', horizontal: 'right' }}
    >
      <Waiting jobs={jobs} />
    </Popover>
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
