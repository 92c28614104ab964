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

/** What a footnote is about: assets, a line of the bill, a moment, or the page as a whole. */
export type NoteSubject = Pick<Footnote, 'urls' | 'line' | 'atMs'>;

export const aboutPage: NoteSubject = { urls: [], line: null, atMs: null };
export const aboutAsset = (url: string): NoteSubject => ({ ...aboutPage, urls: [url] });
export const aboutLine = (line: string): NoteSubject => ({ ...aboutPage, line });
export const aboutMoment = (atMs: number): NoteSubject => ({ ...aboutPage, atMs: Math.round(atMs) });

/** The numbers in the margin beside something. */
export function NoteNumbers({ notes }: { notes: readonly Footnote[] }) {
  if (notes.length === 0) return null;
  return (
    <sup className="note-number" title={notes.map((note) => `${note.number} ${note.text}`).join('\n')}>
      {notes.map((note) => note.number).join(' ')}
    </sup>
  );
}

/** The footnotes at the foot: numbers stand in the margin, nothing is drawn over the chart. */
export function Footnotes({
  notes,
  onPick,
  onChange,
}: {
  notes: Footnote[];
  onPick: (url: string) => void;
  onChange: (note: Footnote) => void;
}) {
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
              {note.line === null ? '' : `on “${note.line}”`}
              {note.atMs === null ? '' : ` at ${ms(note.atMs)}`} · {when(note.createdAt)}
            </span>
          </span>
          <button
            type="button"
            className="key"
            aria-label={`Change footnote ${note.number}`}
            onClick={() => onChange(note)}
          >
            change
          </button>
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

/** A moment as it was typed; what is no number goes as it is, to be refused in words. */
function momentIn(typed: string): number | string | null {
  if (typed.trim() === '') return null;
  return Number.isFinite(Number(typed)) ? Number(typed) : typed;
}

function titleOf({ urls, line, atMs }: NoteSubject): string {
  if (urls[0]) return `Footnote on ${urls.map(fileNameOf).join(' and ')}`;
  if (line !== null) return `Footnote on the line “${line}”`;
  return atMs === null ? 'Footnote on the page' : 'Footnote on a moment';
}

/** Writes a footnote, or changes what one says. */
export function NoteDialog({
  pageId,
  subject,
  known,
  others,
  onClose,
}: {
  pageId: number;
  subject: NoteSubject;
  /** The footnote that is changed; null for a new one. */
  known: Footnote | null;
  /** Addresses of other rows, one of which may be cited together with the first. */
  others: string[];
  onClose: () => void;
}) {
  const client = useQueryClient();
  const [text, setText] = useState(known?.text ?? '');
  const [second, setSecond] = useState('');
  const [moment, setMoment] = useState(subject.atMs === null ? '' : String(subject.atMs));
  const save = useMutation({
    mutationFn: () =>
      known
        ? call(`/api/footnotes/${known.id}`, { method: 'PATCH', body: { text } })
        : call(`/api/pages/${pageId}/footnotes`, {
            method: 'POST',
            body: {
              text,
              line: subject.line,
              atMs: momentIn(moment),
              urls: [...subject.urls, ...(second ? [second] : [])],
            },
          }),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ['page'] });
      onClose();
    },
  });
  return (
    <FormDialog
      title={titleOf(subject)}
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
      {!known && subject.urls.length === 1 ? (
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
      {!known && subject.urls.length === 0 && subject.line === null ? (
        <label>
          At{' '}
          <input
            className="small-field"
            style={{ width: 90 }}
            inputMode="numeric"
            aria-label="Moment, ms after the navigation began"
            value={moment}
            onChange={(event) => setMoment(event.target.value)}
          />{' '}
          <span className="muted">ms after the navigation began; empty for the page as a whole</span>
        </label>
      ) : null}
    </FormDialog>
  );
}
