import { ms } from '@/core/path/words';
import type { Busy, MapView } from '@/usecases/map-view';
import { atMoment, overTime, stretches } from './axis';
import { Strip } from './Strip';

const timesOf = (all: readonly Busy[]) => ms(all.reduce((sum, one) => sum + one.endMs - one.startMs, 0));

/** What the visitor sees, each picture as wide as it stays, and where the line and the main thread were full. */
export function BelowTheChart({ data, end }: { data: MapView; end: number }) {
  return (
    <>
      <div className="axis-row" style={{ marginTop: 8 }}>
        <div>
          <b>What the visitor sees</b>
          <div className="muted">each picture as wide as it stays</div>
        </div>
        <div className="sees">
          <Strip>
            {data.frames.map((frame, index) => {
              const until = data.frames[index + 1]?.atMs ?? end;
              if (until - frame.atMs < end / 400) return null;
              return (
                <figure
                  key={frame.id}
                  style={overTime(frame.atMs, until)}
                  title={`${ms(frame.atMs)}, ${Math.round(frame.completeness * 100)} % complete`}
                >
                  <img
                    src={`/api/pictures/frame/${frame.id}`}
                    alt={`From ${ms(frame.atMs)}`}
                    fetchPriority="low"
                  />
                </figure>
              );
            })}
            {data.target ? <i className="paint-line" style={atMoment(data.target.atMs)} /> : null}
          </Strip>
        </div>
      </div>
      <div className="axis-row">
        <div className="muted" style={{ fontSize: 12, alignSelf: 'center' }}>
          thick where full: main thread above, line below
        </div>
        <div
          className="busy"
          role="img"
          aria-label={`The axis, thick where the main thread was busy (${timesOf(data.threadBusy)}) and where the line was full (${timesOf(data.lineFull)})`}
        >
          <Strip>
            <i className="above" style={{ backgroundImage: stretches(data.threadBusy) }} />
            <i className="below" style={{ backgroundImage: stretches(data.lineFull) }} />
          </Strip>
        </div>
      </div>
    </>
  );
}
