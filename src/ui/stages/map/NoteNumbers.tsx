import type { Footnote } from '@/store/footnotes';

/** The numbers in the margin beside something. */
export function NoteNumbers({ notes }: { notes: readonly Footnote[] }) {
  if (notes.length === 0) return null;
  return (
    <sup className="note-number" title={notes.map((note) => `${note.number} ${note.text}`).join('\n')}>
      {notes.map((note) => note.number).join(' ')}
    </sup>
  );
}
