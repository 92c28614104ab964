'use client';
import { useState } from 'react';
import { Area, AreaChart, CartesianGrid, ReferenceLine, ResponsiveContainer, XAxis, YAxis } from 'recharts';
import { METRICS } from '@/core/measure/metrics';
import { ms } from '@/core/path/words';
import type { MeasureView } from '@/usecases/views';
import { useStage } from '../api';
import { figure, signed, when } from '../figures';
import { useKey } from '../keyboard';
import { axisTicks, seconds, shownFrames } from '../parts/shown-frames';
import { JobButton, StageFrame, type StageProps } from '../parts/StageFrame';

/** Measure: the figures of the page under the conditions, and how its picture came to be. */
export function MeasureStage(props: StageProps) {
  const query = useStage<MeasureView>(props.pageId, 'measure', props.conditionsId);
  return (
    <StageFrame
      query={query}
      empty={
        <>
          <h1>{props.pageName} has not been measured under these conditions.</h1>
          <p>
            The page is captured once as it is now, then replayed three times from the stored bytes. It takes
            about a minute, and you can go on working.
          </p>
          <JobButton kind="measure" label="Measure" {...props} />
        </>
      }
    >
      {(data) => <Measured data={data} {...props} />}
    </StageFrame>
  );
}

function Measured({ data, ...props }: StageProps & { data: MeasureView }) {
  const { spreads } = data.measurement;
  const paint = spreads.firstPaintMs;
  const index = spreads.speedIndexMs.median;
  const moved =
    data.previous && paint.median !== null && data.previous.spreads.firstPaintMs.median !== null
      ? paint.median - data.previous.spreads.firstPaintMs.median
      : null;
  return (
    <main className="screen">
      <h1 className="sentence">
        {paint.median === null ? (
          'The page never painted.'
        ) : (
          <>
            First paint after <span className="mark as-is">{ms(paint.median)}</span>
            {index === null ? '; no Speed Index, as the page never rested.' : `, Speed Index ${ms(index)}.`}
            {moved !== null ? ` Since the measurement before: ${signed({ unit: 'ms' }, moved)} ms.` : ''}
          </>
        )}
      </h1>
      <Curve data={data} />
      <div className="row">
        <JobButton kind="measure" label="Measure again" {...props} />
        <span className="muted">
          {data.runs.length} runs on {when(data.measurement.takenAt)}, replayed from the stored bytes; network
          slowed by the DevTools protocol’s own emulation, so what connections cost cannot be judged.
        </span>
      </div>
      <div className="sheet">
        <table className="plain">
          <thead>
            <tr>
              <th>Metric</th>
              <th className="number">Median</th>
              <th className="number">Min–max</th>
              {data.runs.map((run, i) => (
                <th key={run.id} className="number">
                  Run {i + 1}
                  {i === data.measurement.medianRun ? ' (shown)' : ''}
                </th>
              ))}
              {data.previous ? <th className="number">Before ({when(data.previous.takenAt)})</th> : null}
              {data.previous ? <th className="number">Difference</th> : null}
            </tr>
          </thead>
          <tbody>
            {METRICS.map((info) => {
              const spread = spreads[info.key];
              const before = data.previous?.spreads[info.key].median ?? null;
              const unit = info.unit === 'ms' ? <span className="muted"> ms</span> : null;
              return (
                <tr key={info.key}>
                  <td>{info.label}</td>
                  <td className="number">
                    <b>{figure(info, spread.median)}</b>
                    {unit}
                  </td>
                  <td className="number muted">
                    {figure(info, spread.min)}–{figure(info, spread.max)}
                  </td>
                  {spread.runs.map((value, i) => (
                    <td key={i} className="number">
                      {figure(info, value)}
                    </td>
                  ))}
                  {data.previous ? <td className="number">{figure(info, before)}</td> : null}
                  {data.previous ? (
                    <td className="number">
                      {before === null || spread.median === null ? '–' : signed(info, spread.median - before)}
                    </td>
                  ) : null}
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
      {data.notes.length ? (
        <ul className="muted">
          {data.notes.map((note) => (
            <li key={note}>{note}</li>
          ))}
        </ul>
      ) : null}
    </main>
  );
}

const LEFT = 44;
const RIGHT = 70;

/** Frames drawn where the picture changes, above the completeness curve, on one axis. */
function Curve({ data }: { data: MeasureView }) {
  const [at, setAt] = useState<number | null>(null);
  const { frames } = data;
  const paint = data.runs[data.measurement.medianRun]?.metrics.firstPaintMs ?? null;
  const lastChange = frames.at(-1)?.atMs ?? 1_000;
  const end = Math.max(lastChange * 1.15, 1_000);
  const step = (by: number) => setAt((now) => Math.min(frames.length - 1, Math.max(0, (now ?? 0) + by)));
  useKey('ArrowRight', () => step(1));
  useKey('ArrowLeft', () => step(-1));
  if (frames.length === 0) return <p className="note">The browser gave no frames for this run.</p>;
  const points = [
    { atMs: 0, share: 0 },
    ...frames.map((frame) => ({ atMs: frame.atMs, share: frame.completeness * 100 })),
    { atMs: end, share: (frames.at(-1)?.completeness ?? 0) * 100 },
  ];
  const chosen = at === null ? null : frames[at];
  const place = (time: number) => `calc(${LEFT}px + (100% - ${LEFT + RIGHT}px) * ${time / end})`;
  return (
    <section
      className="sheet"
      style={{
        padding: '22px 0 0',
        position: 'relative',
        display: 'grid',
        gridTemplateColumns: chosen ? 'minmax(0,1fr) 200px' : 'minmax(0,1fr)',
      }}
      aria-label="How the picture came to be"
    >
      <div style={{ position: 'relative' }}>
        <div className="frames">
          {shownFrames(frames, end / 19).map((frame) => (
            <button
              type="button"
              key={frame.id}
              style={{ left: place(frame.atMs) }}
              aria-label={`Frame at ${ms(frame.atMs)}, ${Math.round(frame.completeness * 100)} % complete`}
              onClick={() => setAt(frames.indexOf(frame))}
            >
              <span className="stamp">{ms(frame.atMs)}</span>
              <img src={`/api/pictures/frame/${frame.id}`} alt="" />
            </button>
          ))}
        </div>
        <div style={{ height: 170 }}>
          <ResponsiveContainer width="100%" height="100%">
            <AreaChart data={points} margin={{ top: 12, right: RIGHT, bottom: 2, left: 0 }}>
              <CartesianGrid stroke="var(--line)" vertical={false} />
              <XAxis
                dataKey="atMs"
                type="number"
                domain={[0, end]}
                ticks={axisTicks(end)}
                tickFormatter={seconds}
                stroke="var(--muted)"
                fontSize={11.5}
                unit=" s"
              />
              <YAxis
                width={LEFT}
                domain={[0, 100]}
                ticks={[0, 50, 100]}
                unit=" %"
                stroke="var(--muted)"
                fontSize={11.5}
              />
              <Area
                type="stepAfter"
                dataKey="share"
                stroke="var(--ochre)"
                strokeWidth={2.5}
                fill="var(--ochre-soft)"
                isAnimationActive={false}
              />
              {paint !== null ? (
                <ReferenceLine
                  x={paint}
                  stroke="var(--ink)"
                  strokeWidth={2}
                  label={{
                    value: `first paint ${ms(paint)}`,
                    position: 'insideTopLeft',
                    fontSize: 12,
                    fontWeight: 650,
                    fill: 'var(--ink)',
                  }}
                />
              ) : null}
              {chosen ? <ReferenceLine x={chosen.atMs} stroke="var(--ink)" strokeDasharray="3 3" /> : null}
            </AreaChart>
          </ResponsiveContainer>
        </div>
      </div>
      {chosen ? (
        <figure style={{ margin: 0, padding: '0 12px' }}>
          <img
            src={`/api/pictures/frame/${chosen.id}`}
            alt={`The viewport at ${ms(chosen.atMs)}`}
            style={{ maxHeight: 250, maxWidth: '100%', border: '1px solid var(--line)' }}
          />
          <figcaption className="muted">
            {ms(chosen.atMs)}, {Math.round(chosen.completeness * 100)} % complete{' '}
            <span className="key">←</span> <span className="key">→</span>
          </figcaption>
        </figure>
      ) : null}
    </section>
  );
}
