import { lineAbout } from '@/core/path/line-codes';
import type { BillEntry } from '@/core/words/bill';
import type { Footnote } from '@/store/footnotes';

/** What a footnote is about: assets, a line of the bill, a moment, or the page as a whole. */
export type NoteSubject = Pick<Footnote, 'urls' | 'line' | 'atMs'>;

export const aboutPage: NoteSubject = { urls: [], line: null, atMs: null };
export const aboutAsset = (url: string): NoteSubject => ({ ...aboutPage, urls: [url] });
export const aboutLine = (line: string): NoteSubject => ({ ...aboutPage, line });
export const aboutMoment = (atMs: number): NoteSubject => ({ ...aboutPage, atMs: Math.round(atMs) });

/** What the line is called that a remark is about, in the bill as it is now. */
export function lineLabel(bill: readonly BillEntry[], line: string): string {
  return bill[lineAbout(bill, line)]?.label ?? 'a line that is gone';
}
