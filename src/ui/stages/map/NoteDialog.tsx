'use client';
import TextField from '@mui/material/TextField';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { fileNameOf } from '@/core/path/names';
import type { BillEntry } from '@/core/words/bill';
import type { Footnote } from '@/store/footnotes';
import { call } from '../../api';
import { FormDialog } from '../../parts/FormDialog';
import { lineLabel, type NoteSubject } from './note-subjects';

/** A moment as it was typed; what is no number goes as it is, to be refused in words. */
function momentIn(typed: string): number | string | null {
  if (typed.trim() === '') return null;
  return Number.isFinite(Number(typed)) ? Number(typed) : typed;
}

function titleOf({ urls, line, atMs }: NoteSubject, bill: readonly BillEntry[]): string {
  if (urls[0]) return `Footnote on ${urls.map(fileNameOf).join(' and ')}`;
  if (line !== null) return `Footnote on the line “${lineLabel(bill, line)}”`;
  return atMs === null ? 'Footnote on the page' : 'Footnote on a moment';
}

/** Writes a footnote, or changes what one says. */
export function NoteDialog({
  pageId,
  subject,
  bill,
  known,
  others,
  onClose,
}: {
  pageId: number;
  subject: NoteSubject;
  bill: readonly BillEntry[];
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
      title={titleOf(subject, bill)}
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
        <CitedWith others={others} second={second} onChange={setSecond} />
      ) : null}
      {!known && subject.urls.length === 0 && subject.line === null ? (
        <Moment moment={moment} onChange={setMoment} />
      ) : null}
    </FormDialog>
  );
}

/** A second row that the remark is about. */
function CitedWith({
  others,
  second,
  onChange,
}: {
  others: readonly string[];
  second: string;
  onChange: (url: string) => void;
}) {
  return (
    <label>
      Cited together with{' '}
      <select
        className="small-field"
        style={{ width: 'auto', maxWidth: 300 }}
        value={second}
        onChange={(event) => onChange(event.target.value)}
      >
        <option value="">nothing else</option>
        {others.map((url) => (
          <option key={url} value={url}>
            {fileNameOf(url)}
          </option>
        ))}
      </select>
    </label>
  );
}

/** The moment that the remark is about. */
function Moment({ moment, onChange }: { moment: string; onChange: (typed: string) => void }) {
  return (
    <label>
      At{' '}
      <input
        className="small-field"
        style={{ width: 90 }}
        inputMode="numeric"
        aria-label="Moment, ms after the navigation began"
        value={moment}
        onChange={(event) => onChange(event.target.value)}
      />{' '}
      <span className="muted">ms after the navigation began; empty for the page as a whole</span>
    </label>
  );
}
