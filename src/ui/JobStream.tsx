'use client';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import type { JobView } from '@/usecases/jobs';
import { JOBS } from './questions';

/**
 * Keeps the list of jobs as it is, by one stream for all that show it. Only while the window is seen: a browser has six
 * lines to a host, and a dozen windows must not take all of them.
 */
export function JobStream() {
  const client = useQueryClient();
  useEffect(() => {
    let stream: EventSource | null = null;
    const follow = () => {
      if (document.visibilityState === 'hidden') {
        stream?.close();
        stream = null;
        return;
      }
      // Lost, it is opened again by the browser itself; closed by the application it is not.
      if (stream && stream.readyState !== EventSource.CLOSED) return;
      stream = new EventSource(`${JOBS.path}/stream`);
      stream.onmessage = ({ data }) => client.setQueryData(JOBS.key, JSON.parse(String(data)) as JobView[]);
    };
    follow();
    document.addEventListener('visibilitychange', follow);
    const again = setInterval(follow, 5_000);
    return () => {
      clearInterval(again);
      document.removeEventListener('visibilitychange', follow);
      stream?.close();
    };
  }, [client]);
  return null;
}
