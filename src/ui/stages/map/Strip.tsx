'use client';
import { createContext, useContext, type ReactNode } from 'react';
import { Strips } from './axis';

/** The strips of the chart around. */
export const StripsOfChart = createContext(new Strips(1));

/** A strip of the chart's time: what hangs in it moves and stretches with the axis. */
export function Strip({ children }: { children: ReactNode }) {
  const { hold } = useContext(StripsOfChart);
  return (
    <span className="strip" ref={hold}>
      {children}
    </span>
  );
}
