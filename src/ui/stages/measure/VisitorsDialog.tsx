'use client';
import Button from '@mui/material/Button';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { FIELD_COLUMNS } from '@/core/field/field-figures';
import { count } from '@/core/path/words';
import { call } from '../../api';
import { FormDialog } from '../../parts/FormDialog';

interface Taken {
  figures: number;
  pages: number;
  leftOut: string[];
}

const MOST_NAMED = 5;

/** Takes a file of real visitors' percentiles, or forgets this page's. */
export function VisitorsDialog({
  pageId,
  known,
  onClose,
}: {
  pageId: number;
  /** Whether this page has such figures already. */
  known: boolean;
  onClose: () => void;
}) {
  const client = useQueryClient();
  const [file, setFile] = useState<File | null>(null);
  const renew = () => client.invalidateQueries({ queryKey: ['page'] });
  const take = useMutation({
    mutationFn: async () =>
      call<Taken>('/api/field-figures', { method: 'POST', body: { text: (await file?.text()) ?? '' } }),
    onSuccess: renew,
  });
  const forget = useMutation({
    mutationFn: () => call(`/api/pages/${pageId}/field-figures`, { method: 'DELETE' }),
    onSuccess: async () => {
      await renew();
      onClose();
    },
  });
  const taken = take.data;
  return (
    <FormDialog
      title="Figures of real visitors"
      save="Take the figures"
      disabled={!file || take.isPending || taken !== undefined}
      back="Close"
      wide
      aside={
        known ? (
          <Button variant="outlined" disabled={forget.isPending} onClick={() => forget.mutate()}>
            Forget this page’s
          </Button>
        ) : null
      }
      onSave={() => take.mutate()}
      onClose={onClose}
    >
      <p style={{ margin: 0 }}>
        A CSV file whose first line is <code>{FIELD_COLUMNS.join(',')}</code>, or a JSON list of objects with
        these keys. Metrics are named as in the table; times are milliseconds; device is phone, desktop or
        all. Figures of a page and device take the place of earlier ones.
      </p>
      <input
        type="file"
        name="visitors"
        accept=".csv,.json,text/csv,application/json"
        aria-label="File of visitors’ figures"
        onChange={(event) => {
          take.reset();
          setFile(event.target.files?.[0] ?? null);
        }}
      />
      {taken ? (
        <div role="status">
          <b>
            {count(taken.figures)} figures of {count(taken.pages)} {taken.pages === 1 ? 'page' : 'pages'} were
            taken.
          </b>
          {taken.leftOut.length
            ? ` ${count(taken.leftOut.length)} ${taken.leftOut.length === 1 ? 'was' : 'were'} left out:`
            : ''}
          {taken.leftOut.slice(0, MOST_NAMED).map((line) => (
            <p key={line} style={{ margin: '3px 0' }}>
              {line}
            </p>
          ))}
        </div>
      ) : null}
      {(take.error ?? forget.error) ? <p role="alert">{(take.error ?? forget.error)!.message}</p> : null}
    </FormDialog>
  );
}
