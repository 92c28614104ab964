'use client';
import { useKey } from '../../keyboard';
import type { Axis, Strips } from './axis';
import { useLaidOut } from './Strip';

/** Shows the whole load, or only what leads up to the paint. */
export function WholeOrNot({ strips, upToPaint }: { strips: Strips; upToPaint: Axis }) {
  const { from, to } = useLaidOut(strips);
  const whole = to - from > upToPaint.to * 1.001;
  const change = () => strips.show(whole ? upToPaint : { from: 0, to: strips.endMs });
  useKey('0', change);
  return (
    <button type="button" className="box" aria-pressed={whole} onClick={change}>
      {whole ? 'Up to the paint' : 'The whole load'} <span className="key">0</span>
    </button>
  );
}
