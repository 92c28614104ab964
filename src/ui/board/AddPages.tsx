'use client';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import TextField from '@mui/material/TextField';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { OWN_HEADER } from '@/own-header';
import type { Job } from '@/store/jobs';
import { call } from '../api';

/** Many addresses at once, one a line. */
export function AddList({ onDone }: { onDone: () => void }) {
  const [text, setText] = useState('');
  const client = useQueryClient();
  const urls = text
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean);
  const add = useMutation({
    mutationFn: () =>
      call('/api/pages/many', { method: 'POST', body: { pages: urls.map((url) => ({ url })) } }),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ['board'] });
      onDone();
    },
  });
  return (
    <>
      <TextField
        label="Addresses, one a line"
        name="urls"
        multiline
        minRows={6}
        maxRows={12}
        autoFocus
        value={text}
        onChange={(event) => setText(event.target.value)}
        error={add.isError}
        helperText={add.error?.message ?? 'All of them are added, or none.'}
      />
      <div className="row" style={{ justifyContent: 'flex-end', margin: 0 }}>
        <Button
          variant="contained"
          disabled={urls.length === 0 || add.isPending}
          onClick={() => add.mutate()}
        >
          Add {urls.length || ''} {urls.length === 1 ? 'page' : 'pages'}
        </Button>
      </div>
    </>
  );
}

/** Pages that a sitemap names, or a page links to. */
export function AddFound({ onDone }: { onDone: () => void }) {
  const [url, setUrl] = useState('');
  const [limit, setLimit] = useState('200');
  const [jobId, setJobId] = useState<number | null>(null);
  const look = useMutation({
    mutationFn: () => call<Job>('/api/discover', { method: 'POST', body: { url, limit: Number(limit) } }),
    onSuccess: (job) => setJobId(job.id),
  });
  const { data: job } = useQuery({
    queryKey: ['job', jobId],
    queryFn: () => call<Job>(`/api/jobs/${jobId}`),
    enabled: jobId !== null,
    refetchInterval: (query) =>
      query.state.data && !['waiting', 'running'].includes(query.state.data.state) ? false : 700,
  });
  const busy = look.isPending || (jobId !== null && (!job || ['waiting', 'running'].includes(job.state)));
  const failed = look.error?.message ?? (job && job.state !== 'done' && !busy ? job.message : null);
  return (
    <>
      <TextField
        label="A page with links, or a sitemap"
        name="discover"
        autoFocus
        value={url}
        onChange={(event) => setUrl(event.target.value)}
        placeholder="https://localhost:3000/sitemap.xml"
        error={Boolean(failed)}
        helperText={failed ?? 'Only pages of the same site are taken.'}
      />
      <TextField
        label="At most"
        name="limit"
        value={limit}
        onChange={(event) => setLimit(event.target.value)}
      />
      <div className="row" style={{ justifyContent: 'flex-end', margin: 0 }}>
        {busy ? <span className="muted">{job?.step || 'Waiting for its turn'}…</span> : null}
        <Button variant="outlined" disabled={!url || busy} onClick={() => look.mutate()}>
          Look for pages
        </Button>
      </div>
      {job?.state === 'done' && job.result ? (
        <Found key={job.id} found={job.result.found} onDone={onDone} />
      ) : null}
    </>
  );
}

function Found({ found, onDone }: { found: { url: string; name: string }[]; onDone: () => void }) {
  const client = useQueryClient();
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const chosen = found.filter((page) => !left.has(page.url));
  const add = useMutation({
    mutationFn: () => call('/api/pages/many', { method: 'POST', body: { pages: chosen } }),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ['board'] });
      onDone();
    },
  });
  if (found.length === 0) return <p className="note">No page of this site was found there.</p>;
  return (
    <>
      <div className="sheet" style={{ maxHeight: 260, overflow: 'auto', padding: '4px 8px' }}>
        {found.map((page) => (
          <label key={page.url} className="choice" style={{ alignItems: 'center' }}>
            <Checkbox
              size="small"
              checked={!left.has(page.url)}
              onChange={(_event, on) =>
                setLeft((now) => {
                  const next = new Set(now);
                  if (on) next.delete(page.url);
                  else next.add(page.url);
                  return next;
                })
              }
            />
            <span>
              {page.name} <code className="muted">{new URL(page.url).pathname}</code>
            </span>
          </label>
        ))}
      </div>
      {add.error ? (
        <p className="note" role="alert">
          {add.error.message}
        </p>
      ) : null}
      <div className="row" style={{ justifyContent: 'flex-end', margin: 0 }}>
        <Button
          variant="contained"
          disabled={chosen.length === 0 || add.isPending}
          onClick={() => add.mutate()}
        >
          Add {chosen.length} {chosen.length === 1 ? 'page' : 'pages'}
        </Button>
      </div>
    </>
  );
}

/** A capture that another program wrote. */
export function AddHar({ conditionsId, onDone }: { conditionsId: string; onDone: () => void }) {
  const [file, setFile] = useState<File | null>(null);
  const client = useQueryClient();
  const send = useMutation({
    mutationFn: async () => {
      const response = await fetch(
        `/api/har?conditions=${conditionsId}&name=${encodeURIComponent(file!.name)}`,
        { method: 'POST', body: file, headers: { [OWN_HEADER]: '1' } },
      );
      if (!response.ok) throw new Error(((await response.json()) as { error: string }).error);
    },
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ['jobs'] });
      onDone();
    },
  });
  return (
    <>
      <p className="muted" style={{ margin: 0 }}>
        HAR 1.2 from any program. With bodies the page is replayed and measured under the chosen conditions;
        without, its requests are listed.
      </p>
      <input
        type="file"
        aria-label="HAR file"
        accept=".har,application/json"
        onChange={(event) => setFile(event.target.files?.[0] ?? null)}
      />
      {send.error ? (
        <p className="note" role="alert">
          {send.error.message}
        </p>
      ) : null}
      <div className="row" style={{ justifyContent: 'flex-end', margin: 0 }}>
        <Button variant="contained" disabled={!file || send.isPending} onClick={() => send.mutate()}>
          {send.isPending ? 'Sending…' : 'Read it'}
        </Button>
      </div>
    </>
  );
}
