'use client';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import type { OwnChecksText } from '@/store/own-checks';
import { call } from '../api';
import type { StageProps } from './StageFrame';
import { useRecorder } from './useRecorder';

export type CheckedPage = Pick<StageProps, 'pageId' | 'conditionsId'>;

/** Checks, one a line, to be written or recorded, and kept with the page and its family. */
export function OwnChecksForm({ pageId, conditionsId, kept }: CheckedPage & { kept: OwnChecksText }) {
  const client = useQueryClient();
  const [page, setPage] = useState(kept.page);
  const [family, setFamily] = useState(kept.family?.text ?? '');
  const save = useMutation({
    mutationFn: () =>
      call(`/api/pages/${pageId}/own-checks`, {
        method: 'PUT',
        body: { page, ...(kept.family ? { family } : {}) },
      }),
    onSuccess: async () => {
      // What was rehearsed without them does not count any more.
      await client.invalidateQueries({ queryKey: ['page'] });
      await client.invalidateQueries({ queryKey: ['own-checks'] });
    },
  });
  const record = useRecorder({ pageId, conditionsId }, (check) =>
    setPage((before) => [before.trimEnd(), check].filter(Boolean).join('\n')),
  );
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate();
  };
  const changed = page !== kept.page || family !== (kept.family?.text ?? '');
  return (
    <form onSubmit={submit} style={{ display: 'grid', gap: 12, margin: '10px 0' }} noValidate>
      <CheckLines label="What this page does, one check a line" text={page} onText={setPage} />
      {kept.family ? (
        <CheckLines
          label={`What each page of the family “${kept.family.name}” does`}
          text={family}
          onText={setFamily}
        />
      ) : null}
      <div className="row" style={{ margin: 0 }}>
        <Button
          variant="outlined"
          disabled={record.isPending}
          onClick={() => {
            // Opened at once: a browser lets no window be opened later.
            record.mutate(window.open('about:blank', '_blank'));
          }}
        >
          Record a check by doing it
        </Button>
        <span className="muted">
          Opens the page as is in a window of its own; what is pressed and typed there is written down.
        </span>
      </div>
      {record.error ? (
        <p className="note" role="alert" style={{ margin: 0 }}>
          {record.error.message}
        </p>
      ) : null}
      <p className="muted" style={{ margin: 0 }}>
        Steps: <code>press WORDS</code>, <code>type TEXT into FIELD</code>, <code>see WORDS</code>,{' '}
        <code>do not see WORDS</code>; a selector can stand for the words. Each check is tried on the page as
        authored and as treated, on a phone and a laptop, whenever a plan is rehearsed.
      </p>
      {save.error ? (
        <p className="note" role="alert" style={{ margin: 0 }}>
          {save.error.message}
        </p>
      ) : null}
      <div className="row" style={{ margin: 0 }}>
        <Button variant="outlined" type="submit" disabled={save.isPending || !changed}>
          Keep these checks
        </Button>
      </div>
    </form>
  );
}

function CheckLines({
  label,
  text,
  onText,
}: {
  label: string;
  text: string;
  onText: (text: string) => void;
}) {
  return (
    <TextField
      label={label}
      multiline
      minRows={2}
      value={text}
      onChange={(event) => onText(event.target.value)}
      placeholder={'press Menu, see Booking\ntype Orrask into From, do not see No such harbour'}
    />
  );
}
