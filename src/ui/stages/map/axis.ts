import type { CSSProperties } from 'react';

/** The stretch of time that the chart shows, ms. */
export interface Axis {
  from: number;
  to: number;
}

/** Nothing shorter than this is worth looking at. */
const LEAST_SPAN_MS = 40;

/** Zooms about a moment, within 0 and the end. @param by below 1 looks closer */
export function zoomed(axis: Axis, atMs: number, by: number, endMs: number): Axis {
  const span = Math.min(endMs, Math.max(LEAST_SPAN_MS, (axis.to - axis.from) * by));
  const share = (atMs - axis.from) / (axis.to - axis.from);
  return kept({ from: atMs - share * span, to: atMs + (1 - share) * span }, endMs);
}

/** Moves along by a share of what is shown. */
export function panned(axis: Axis, share: number, endMs: number): Axis {
  const by = (axis.to - axis.from) * share;
  return kept({ from: axis.from + by, to: axis.to + by }, endMs);
}

function kept({ from, to }: Axis, endMs: number): Axis {
  const span = Math.min(to - from, endMs);
  const start = Math.min(Math.max(0, from), endMs - span);
  return { from: start, to: start + span };
}

/**
 * The strips of a chart: each as long as the whole load, with its bars placed once for all. Looking closer or
 * moving along changes the strips alone, whatever hangs in them. While the wheel turns they are stretched as
 * pictures, which costs the page no layout; once it rests they are as long as they look.
 *
 * @example
 * const strips = new Strips(4_000);
 * strips.hold(element);
 * strips.stretch({ from: 900, to: 2_100 });
 * strips.show({ from: 1_000, to: 2_000 });
 */
export class Strips {
  readonly endMs: number;
  /** How a strip stands at first: before there is a script that places it. */
  readonly first: Place;
  /** What is shown now, and what the strips were laid out for. */
  #axis: Axis;
  #laidOut: Axis;
  #strips = new Set<HTMLElement>();
  #listeners = new Set<() => void>();

  /** @param start what is shown at first: the whole load unless told otherwise */
  constructor(endMs: number, start: Axis = { from: 0, to: endMs }) {
    this.endMs = endMs;
    this.first = placeOf(endMs, start, start);
    this.#axis = this.#laidOut = start;
  }

  /** What is shown now. */
  get axis(): Axis {
    return this.#axis;
  }

  /** Places a strip from now on; the answer lets go of it. A ref of React's. */
  hold = (strip: HTMLElement | null): (() => void) => {
    if (!strip) return () => undefined;
    this.#strips.add(strip);
    this.#place(strip);
    return () => this.#strips.delete(strip);
  };

  /** Shows a stretch of time with the strips as they were laid out, stretched: letters too, until `show`. */
  stretch(axis: Axis): void {
    this.#axis = axis;
    for (const strip of this.#strips) this.#place(strip);
  }

  /** Lays the strips out for a stretch of time, and tells those that hang on it. */
  show(axis: Axis): void {
    this.#axis = this.#laidOut = axis;
    for (const strip of this.#strips) this.#place(strip);
    for (const listener of this.#listeners) listener();
  }

  /** What the strips are laid out for: it changes with `show`, not while they are stretched. */
  laidOut = (): Axis => this.#laidOut;

  /** Calls whenever the strips are laid out anew; the answer ends it. With `laidOut` a store of React's. */
  subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  #place(strip: HTMLElement): void {
    const { width, transform } = placeOf(this.endMs, this.#axis, this.#laidOut);
    strip.style.width = width;
    strip.style.transform = transform;
  }
}

/** How long a strip is, and where it begins. */
interface Place {
  width: string;
  transform: string;
}

function placeOf(endMs: number, axis: Axis, laidOut: Axis): Place {
  const by = spanOf(laidOut) / spanOf(axis);
  const back = `translateX(${((-axis.from / endMs) * by * 100).toFixed(4)}%)`;
  return {
    width: `${((endMs / spanOf(laidOut)) * 100).toFixed(4)}%`,
    transform: by === 1 ? back : `${back} scaleX(${by.toFixed(6)})`,
  };
}

function spanOf({ from, to }: Axis): number {
  return to - from;
}

/** The length of the strips, for what hangs in them: a property of the chart. */
export function stripLength({ endMs }: Strips): CSSProperties {
  return { '--end': endMs } as CSSProperties;
}

const at = (ms: number) => `calc(${ms} / var(--end) * 100%)`;

/** Where a moment stands in a strip. */
export function atMoment(ms: number): CSSProperties {
  return { left: at(ms) };
}

/** Where a stretch of time stands in a strip, and how wide it is. */
export function overTime(startMs: number, endMs: number): CSSProperties {
  return { left: at(startMs), width: at(Math.max(0, endMs - startMs)) };
}

/**
 * What is written within a stretch of time that a line crosses stands in the longer part beside that line.
 *
 * @example
 * besideLine(600, { startMs: 0, endMs: 1_000 }); // { width: '60%', marginRight: '40%' }
 */
export function besideLine(
  lineMs: number | undefined,
  { startMs, endMs }: { startMs: number; endMs: number },
): CSSProperties {
  if (lineMs === undefined || lineMs <= startMs || lineMs >= endMs) return {};
  const before = Math.round(((lineMs - startMs) / (endMs - startMs)) * 100);
  const [part, other] = [Math.max(before, 100 - before), Math.min(before, 100 - before)];
  return { width: `${part}%`, [before > 50 ? 'marginRight' : 'marginLeft']: `${other}%` };
}

/** Stretches of time as one picture across a strip: hundreds of elements would be placed anew with each wheel event. */
export function stretches(all: readonly { startMs: number; endMs: number }[]): string {
  const stops = all.flatMap(({ startMs, endMs }) => [
    `transparent ${at(startMs)}`,
    `currentColor ${at(startMs)}`,
    `currentColor ${at(endMs)}`,
    `transparent ${at(endMs)}`,
  ]);
  return stops.length ? `linear-gradient(90deg, ${stops.join(', ')})` : 'none';
}
