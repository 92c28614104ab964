'use client';
import Button from '@mui/material/Button';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import type { JobView } from '@/usecases/jobs';
import { call, useJobAgain, useJobs } from './api';

/** What became of this page's last work, when it did not end well: why, and what to do next. */
export function JobNotice({ pageId }: { pageId: number | null }) {
  const jobs = useJobs();
  const [seen, setSeen] = useState<number[]>([]);
  const last = new Map<string, JobView>();
  for (const job of jobs) if (job.pageId === pageId) last.set(job.kind, job);
  const ended = [...last.values()].filter(
    (job) =>
      (job.state === 'failed' || job.state === 'interrupted' || job.state === 'cancelled') &&
      !seen.includes(job.id),
  );
  if (ended.length === 0) return null;
  return (
    <div style={{ padding: '6px 18px 0' }}>
      {ended.map((job) => (
        <div className="note row" role="alert" key={job.id}>
          <span style={{ flex: 1 }}>
            <b>
              {job.called} {job.state === 'failed' ? 'failed' : job.state}.
            </b>{' '}
            {job.message}
          </span>
          {job.certificate ? <Accept job={job} /> : <Again job={job} />}
          <Button variant="outlined" onClick={() => setSeen((now) => [...now, job.id])}>
            Put away
          </Button>
        </div>
      ))}
    </div>
  );
}

function Again({ job }: { job: JobView }) {
  const again = useJobAgain();
  return (
    <>
      {again.error ? <span>{again.error.message}</span> : null}
      <Button variant="outlined" disabled={again.isPending} onClick={() => again.mutate(job.id)}>
        Try again
      </Button>
    </>
  );
}

/** The choice offered for a certificate of a server's own making, remembered for the hosts that showed it. */
function Accept({ job }: { job: JobView }) {
  const again = useJobAgain();
  const { hosts, publicKeyHash } = job.certificate!;
  const accept = useMutation({
    mutationFn: () =>
      call('/api/certificates', {
        method: 'POST',
        body: { hosts, publicKeyHash },
      }),
    onSuccess: () => again.mutate(job.id),
  });
  return (
    <Button variant="contained" onClick={() => accept.mutate()}>
      Accept it for {hosts.length > 2 ? `these ${hosts.length} hosts` : hosts.join(' and ')} and measure
    </Button>
  );
}
