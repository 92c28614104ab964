import { HEADLINE_NAMES } from '@/core/measure/headline';
import { count } from '@/core/path/words';
import type { BoardRow } from '@/usecases/board-view';
import { shownHeadline, shownPaint, treatedPaint } from './board-rows';

/** A page's paint as is and treated, on the scale of all pages. @param most ms, where the scale ends */
export function Track({ row, most }: { row: BoardRow; most: number }) {
  const asIs = shownPaint(row);
  if (asIs === null) return <span className="muted">–</span>;
  const at = (value: number) => `${(100 * value) / most}%`;
  const treated = treatedPaint(row);
  const headline = shownHeadline(row);
  const said = [HEADLINE_NAMES[headline], ...row.caveats].join('. ');
  return (
    <div className="board-track" title={said}>
      {treated !== null ? (
        <>
          <i
            className="line"
            style={{
              left: at(Math.min(treated, asIs)),
              width: at(Math.abs(asIs - treated)),
            }}
          />
          <i className="dot" style={{ left: at(treated), background: 'var(--teal)' }} />
          <span
            className="value treated"
            style={{ left: at(treated), transform: 'translateX(calc(-100% - 11px))' }}
          >
            {count(treated)}
          </span>
        </>
      ) : null}
      <i className="dot" style={{ left: at(asIs), background: 'var(--ochre)' }} />
      <span className="value as-is" style={{ left: at(asIs), transform: 'translateX(11px)' }}>
        {count(asIs)}
        {headline === 'firstContentfulPaintMs' ? ' first content' : ''}
        {row.caveats.length ? '*' : ''}
      </span>
    </div>
  );
}
