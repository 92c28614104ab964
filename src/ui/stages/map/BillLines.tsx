'use client';
import Link from 'next/link';
import { useState } from 'react';
import type { BillEntry } from '@/core/words/bill';
import { findingsBeside } from '@/core/path/findings/beside';
import { lineAbout, lineCodes } from '@/core/path/line-codes';
import { count } from '@/core/path/words';
import type { MapView } from '@/usecases/map-view';
import { treatmentOf } from '../../api';
import { documentOf } from './Bill';
import { NoteNumbers } from './NoteNumbers';

/** As many lines as a screen has room for, the longest; the rest is one line until it is asked for. */
const SHOWN = 7;

/** The bill line by line: what, why, how long, and the way to do something about it. */
export function BillLines({
  data,
  pageId,
  conditionsId,
  onPick,
  onNote,
}: {
  data: MapView;
  pageId: number;
  conditionsId: string;
  onPick: (url: string) => void;
  onNote: (line: string) => void;
}) {
  const [all, setAll] = useState(false);
  const { target, paintBill, findings } = data;
  if (!target || paintBill.length === 0) return null;
  const long = (segment: BillEntry) => segment.endMs - segment.startMs;
  const documentUrl = documentOf(data);
  const codes = lineCodes(paintBill);
  const numbered = paintBill.map((segment, index) => ({
    segment,
    number: index + 1,
    code: codes[index]!,
    notes: data.footnotes.filter((note) => note.line !== null && lineAbout(paintBill, note.line) === index),
  }));
  const largest = new Set([...numbered].sort((a, b) => long(b.segment) - long(a.segment)).slice(0, SHOWN));
  // What somebody remarked on is not put away.
  const shown = numbered.filter((one) => all || largest.has(one) || one.notes.length > 0);
  const left = numbered.filter((one) => !shown.includes(one));
  return (
    <details className="bill-lines" open={numbered.some(({ notes }) => notes.length > 0)}>
      <summary>The bill, line by line</summary>
      <table className="plain">
        <tbody>
          {shown.map(({ segment, number, code, notes }) => (
            <LineRow
              key={segment.startMs}
              segment={segment}
              number={number}
              notes={notes}
              findings={findings}
              treat={
                segment.url === undefined || segment.url === documentUrl
                  ? null
                  : treatmentOf(pageId, conditionsId, segment.url)
              }
              onPick={onPick}
              onNote={() => onNote(code)}
            />
          ))}
          {left.length > 0 ? (
            <tr>
              <td />
              <td className="number">
                <b>{count(left.reduce((sum, one) => sum + long(one.segment), 0))}</b>
              </td>
              <td colSpan={3}>
                <button type="button" className="key" onClick={() => setAll(true)}>
                  {left.length} shorter {left.length === 1 ? 'line' : 'lines'}
                </button>
              </td>
            </tr>
          ) : null}
          <tr>
            <td />
            <td className="number">
              <b>{count(target.atMs)}</b>
            </td>
            <td colSpan={3}>
              <b>{target.kind === 'fold' ? 'the fold 95 % complete' : target.kind}</b>
            </td>
          </tr>
        </tbody>
      </table>
    </details>
  );
}

function LineRow({
  segment,
  number,
  notes,
  findings,
  treat,
  onPick,
  onNote,
}: {
  segment: BillEntry;
  number: number;
  notes: MapView['footnotes'];
  findings: MapView['findings'];
  /** Where something can be done about it; null where nothing can. */
  treat: string | null;
  onPick: (url: string) => void;
  onNote: () => void;
}) {
  return (
    <tr>
      <td className="number muted" style={{ width: 36 }}>
        <NoteNumbers notes={notes} />
        {number}
      </td>
      <td className="number" style={{ width: 52 }}>
        <b>{count(segment.endMs - segment.startMs)}</b>
      </td>
      <td style={{ width: 282 }} title={segment.label}>
        {segment.url ? (
          <button type="button" className="plain-link" onClick={() => onPick(segment.url!)}>
            {segment.label}
          </button>
        ) : (
          segment.label
        )}
      </td>
      <td className="muted" title={segment.why}>
        {segment.why}
        {findingsBeside(segment, findings).map((of) => (
          <a
            key={of}
            className="key finding-number"
            href={`#finding-${of}`}
            title={findings[of - 1]!.sentence}
          >
            finding {of}
          </a>
        ))}
      </td>
      <td className="number" style={{ width: 84 }}>
        <button
          type="button"
          className="plain-link muted"
          aria-label={`note on ${segment.label}`}
          onClick={onNote}
        >
          note
        </button>{' '}
        {treat === null ? null : (
          <Link prefetch={false} href={treat}>
            treat
          </Link>
        )}
      </td>
    </tr>
  );
}
