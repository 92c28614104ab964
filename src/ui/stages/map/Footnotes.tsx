'use client';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { fileNameOf } from '@/core/path/names';
import { ms } from '@/core/path/words';
import type { BillEntry } from '@/core/words/bill';
import type { Footnote } from '@/store/footnotes';
import { call } from '../../api';
import { when } from '../../figures';
import { lineLabel } from './note-subjects';

/** The footnotes at the foot: numbers stand in the margin, nothing is drawn over the chart. */
export function Footnotes({
  notes,
  bill,
  onPick,
  onChange,
}: {
  notes: Footnote[];
  bill: readonly BillEntry[];
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
              {note.line === null ? '' : `on “${lineLabel(bill, note.line)}”`}
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
