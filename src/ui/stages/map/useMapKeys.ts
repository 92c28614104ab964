import { useKeys } from '../../keyboard';
import { panned, zoomed, type Strips } from './axis';

/** The map's keys: through its rows, along its axis, and to its remarks. */
export function useMapKeys({
  strips,
  middle,
  limit,
  onStep,
  onNote,
  onMoment,
}: {
  strips: Strips;
  /** What zooming keeps in place; the middle of what is in sight where null, ms. */
  middle: number | null;
  /** How far the axis goes at most, ms. */
  limit: number;
  onStep: (by: number) => void;
  onNote: () => void;
  onMoment: () => void;
}): void {
  const zoom = (by: number) => {
    const { axis } = strips;
    strips.show(zoomed(axis, middle ?? (axis.from + axis.to) / 2, by, limit));
  };
  useKeys({
    j: () => onStep(1),
    k: () => onStep(-1),
    '+': () => zoom(0.7),
    '-': () => zoom(1.4),
    arrowleft: () => strips.show(panned(strips.axis, -0.15, limit)),
    arrowright: () => strips.show(panned(strips.axis, 0.15, limit)),
    f: onNote,
    n: onMoment,
  });
}
