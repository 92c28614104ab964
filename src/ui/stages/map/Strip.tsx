'use client';
import { createContext, useContext, useSyncExternalStore, type ReactNode } from 'react';
import { axisTicks, seconds } from '../../parts/shown-frames';
import type { Footnote } from '@/store/footnotes';
import { atMoment, Strips, type Axis } from './axis';
import { NoteNumbers } from './NoteNumbers';

/** The strips of the chart around. */
export const StripsOfChart = createContext(new Strips(1));

/** A strip of the chart's time: what hangs in it moves and stretches with the axis. */
export function Strip({ children }: { children: ReactNode }) {
  const { hold, first } = useContext(StripsOfChart);
  return (
    <span className="strip" ref={hold} style={first}>
      {children}
    </span>
  );
}

/** What the chart's strips are laid out for. */
export function useLaidOut(strips: Strips): Axis {
  return useSyncExternalStore(strips.subscribe, strips.laidOut, strips.laidOut);
}

/**
 * The ticks of what is shown, and as far again on both sides: the wheel may go there before they are drawn anew.
 * Numbers of footnotes on moments stand below them.
 */
export function Ticks({ notes }: { notes: readonly Footnote[] }) {
  const strips = useContext(StripsOfChart);
  const { from, to } = useLaidOut(strips);
  const span = to - from;
  const ticks = axisTicks(strips.endMs, (8 * strips.endMs) / span);
  return (
    <div className="ticks">
      <Strip>
        {ticks
          .filter((tick) => tick >= from - span && tick <= to + span)
          .map((tick) => (
            <span key={tick} style={atMoment(tick)}>
              {seconds(tick)}
            </span>
          ))}
        {notes.map((note) =>
          note.atMs === null ? null : (
            <b key={note.id} className="noted" style={atMoment(note.atMs)}>
              <NoteNumbers notes={[note]} />
            </b>
          ),
        )}
      </Strip>
    </div>
  );
}
