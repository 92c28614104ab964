'use client';
import TextField from '@mui/material/TextField';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { fileNameOf } from '@/core/path/party';
import { ms } from '@/core/path/words';
import type { Footnote } from '@/store/footnotes';
import { call } from '../../api';
import { when } from '../../figures';
import { FormDialog } from '../../parts/FormDialog';

/** What a new footnote is about. */
export interface NoteSubject {
  urls: string[];
  atMs: number | null;
}

/** The footnotes at the foot: numbers stand beside the rows, nothing is drawn over the chart. */
export function Footnotes({ notes, onPick }: { notes: Footnote[]; onPick: (url: string) => void }) {
  const client = useQueryClient();
  const remove = useMutation({
    mutationFn: (id: number) => call(`/api/footnotes/${id}`, { method: 'DELETE' }),
    onSettled: () => client.invalidateQueries({ queryKey: ['page'] }),
  });
  if (notes.length === 0) return null;
  return (
    <section aria-label="Footnotes" style={{ marginTop: 18 }}>
      <h2 style={{ fontSize: 15, margin: '0 0 4px' }}>Footnotes</h2>
      {notes.map((note) => (
        <p key={note.id} className="row" style={{ margin: '3px 0', alignItems: 'baseline' }}>
          <b>{note.number}</b>
          <span style={{ flex: 1 }}>
            {note.text}{' '}
            <span className="muted">
              {note.urls.map((url) => (
                <button key={url} type="button" className="plain-link" onClick={() => onPick(url)}>
                  {fileNameOf(url)}
                </button>
              ))}
              {note.atMs !== null ? ` at ${ms(note.atMs)}` : ''} · {when(note.createdAt)}
            </span>
          </span>
          <button
            type="button"
            className="key"
            aria-label={`Delete footnote ${note.number}`}
            onClick={() => remove.mutate(note.id)}
          >
            delete
          </button>
        </p>
      ))}
    </section>
  );
}

/** Writes a footnote. */
export function NoteDialog({
  pageId,
  subject,
  others,
  onClose,
}: {
  pageId: number;
  subject: NoteSubject;
  /** Addresses of other rows, one of which may be cited together with the first. */
  others: string[];
  onClose: () => void;
}) {
  const client = useQueryClient();
  const [text, setText] = useState('');
  const [second, setSecond] = useState('');
  const save = useMutation({
    mutationFn: () =>
      call(`/api/pages/${pageId}/footnotes`, {
        method: 'POST',
        body: { text, atMs: subject.atMs, urls: [...subject.urls, ...(second ? [second] : [])] },
      }),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ['page'] });
      onClose();
    },
  });
  return (
    <FormDialog
      title={`Footnote ${subject.urls[0] ? `on ${fileNameOf(subject.urls[0])}` : ''}`}
      save="Keep it"
      disabled={save.isPending}
      wide
      onSave={() => save.mutate()}
      onClose={onClose}
    >
      <TextField
        label="Remark"
        name="footnote"
        multiline
        minRows={3}
        autoFocus
        value={text}
        onChange={(event) => setText(event.target.value)}
        error={save.isError}
        helperText={save.error?.message}
      />
      {subject.urls.length === 1 ? (
        <label>
          Cited together with{' '}
          <select
            className="small-field"
            style={{ width: 'auto', maxWidth: 300 }}
            value={second}
            onChange={(event) => setSecond(event.target.value)}
          >
            <option value="">nothing else</option>
            {others.map((url) => (
              <option key={url} value={url}>
                {fileNameOf(url)}
              </option>
            ))}
          </select>
        </label>
      ) : null}
    </FormDialog>
  );
}
