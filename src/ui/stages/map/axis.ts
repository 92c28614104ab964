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
 * The axis as custom properties of the chart: bars place themselves by them, so that zooming sets two numbers
 * and nothing is drawn anew.
 */
export function axisStyle({ from, to }: Axis): CSSProperties {
  return { '--from': from, '--span': to - from } as CSSProperties;
}

const at = (ms: number) => `calc((${ms} - var(--from)) / var(--span) * 100%)`;

/** Where a moment stands on the axis. */
export function atMoment(ms: number): CSSProperties {
  return { left: at(ms) };
}

/** Where a stretch of time stands on the axis, and how wide it is. */
export function overTime(startMs: number, endMs: number): CSSProperties {
  return { left: at(startMs), width: `calc(${Math.max(0, endMs - startMs)} / var(--span) * 100%)` };
}
