'use client';
import { count } from '@/core/path/words';
import { answeredLater, heldUp, middle, type TapAnswer } from '@/core/trial/tap-answers';
import type { ProveView } from '@/usecases/prove-view';

/** Taps on the page at rest under these conditions: the next frame, and the answer. */
export function Taps({ data: { checks } }: { data: ProveView }) {
  if (checks.taps.length === 0) return null;
  const [late, held] = [answeredLater(checks.taps), heldUp(checks.taps)];
  return (
    <div className="sheet" id="taps">
      <table className="plain" aria-label="Tapped at rest">
        <thead>
          <tr>
            <th>Tapped at rest, ms until</th>
            <th className="number as-is">As is</th>
            <th className="number treated">Treated</th>
          </tr>
        </thead>
        <tbody>
          {checks.taps.map((tap) => {
            const script = held.includes(tap) && tap.treated.find((one) => one.script)?.script;
            return [
              <tr key={tap.words}>
                <td colSpan={3}>{tap.words}</td>
              </tr>,
              <tr key={`${tap.words} frame`}>
                <td className="muted" style={{ paddingLeft: 20 }}>
                  the next frame {held.includes(tap) ? <b>worse</b> : null}
                  {script ? <div style={{ overflowWrap: 'anywhere' }}>held up by {script}</div> : null}
                </td>
                <td className="number">{delay(tap.asIs)}</td>
                <td className="number">{delay(tap.treated)}</td>
              </tr>,
              <tr key={`${tap.words} answer`}>
                <td className="muted" style={{ paddingLeft: 20 }}>
                  its answer {late.includes(tap) ? <b>breaks</b> : null}
                </td>
                <td className="number">{answer(tap.asIs)}</td>
                <td className="number">{answer(tap.treated)}</td>
              </tr>,
            ];
          })}
        </tbody>
      </table>
    </div>
  );
}

/** Browsers tell no shorter wait than a frame. */
function delay(loads: readonly TapAnswer[]): string {
  const ms = middle(loads, 'delayMs') ?? 0;
  return ms <= 16 ? '≤ 16' : count(ms);
}

function answer(loads: readonly TapAnswer[]): string {
  const ms = middle(loads, 'answeredMs');
  return ms === null ? 'none' : count(ms);
}
