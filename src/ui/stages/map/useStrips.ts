'use client';
import { useEffect, useMemo } from 'react';
import { ms } from '@/core/path/words';
import { panned, Strips, zoomed, type Axis } from './axis';

/** Left edge of the lanes within the chart: the labels stand before them. */
const LABEL_PX = 320;

/**
 * The chart's strips, with wheel (Ctrl zooms, Shift moves) and a cursor through everything: an event moves and stretches
 * the strips, and nothing is laid out or drawn anew until the wheel rests.
 */
export function useStrips(
  chart: React.RefObject<HTMLDivElement | null>,
  start: Axis,
  endMs: number,
  /** Is told the moment that the pointer is at, null where it is not over the lanes. */
  pointedAt: React.RefObject<number | null>,
): Strips {
  const { from, to } = start;
  const strips = useMemo(() => new Strips(endMs, { from, to }), [endMs, from, to]);
  useEffect(() => {
    const element = chart.current;
    if (!element) return;
    let settle: ReturnType<typeof setTimeout> | undefined;
    const momentAt = (clientX: number) => {
      const box = element.getBoundingClientRect();
      const { from, to } = strips.axis;
      return from + ((clientX - box.left - LABEL_PX) / (box.width - LABEL_PX)) * (to - from);
    };
    const wheel = (event: WheelEvent) => {
      if (!event.ctrlKey && !event.shiftKey) return;
      event.preventDefault();
      const by = event.deltaY || event.deltaX;
      strips.stretch(
        event.ctrlKey
          ? zoomed(strips.axis, momentAt(event.clientX), by > 0 ? 1.15 : 1 / 1.15, endMs)
          : panned(strips.axis, by / 800, endMs),
      );
      clearTimeout(settle);
      settle = setTimeout(() => strips.show(strips.axis), 150);
    };
    const move = (event: MouseEvent) => {
      const left = event.clientX - element.getBoundingClientRect().left;
      const inLanes = left >= LABEL_PX;
      pointedAt.current = inLanes ? momentAt(event.clientX) : null;
      const cursor = element.querySelector<HTMLElement>('.cursor');
      if (cursor) {
        cursor.style.opacity = inLanes ? '0.45' : '0';
        cursor.style.transform = `translateX(${left}px)`;
      }
      const label = element.querySelector('.cursor-time');
      const words = pointedAt.current === null ? '' : `cursor at ${ms(pointedAt.current)}`;
      // The browser also tells of the pointer when the page moved under it: then there is nothing to draw.
      if (label && label.textContent !== words) label.textContent = words;
    };
    element.addEventListener('wheel', wheel, { passive: false });
    element.addEventListener('mousemove', move);
    return () => {
      clearTimeout(settle);
      element.removeEventListener('wheel', wheel);
      element.removeEventListener('mousemove', move);
    };
  }, [chart, endMs, pointedAt, strips]);
  return strips;
}
