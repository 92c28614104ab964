'use client';
import { useState } from 'react';
import { Area, AreaChart, CartesianGrid, ReferenceLine, ResponsiveContainer, XAxis, YAxis } from 'recharts';
import { HEADLINE_NAMES } from '@/core/measure/headline';
import { ms } from '@/core/path/words';
import type { MeasureView } from '@/usecases/measure-view';
import { useKey } from '../../keyboard';
import { axisTicks, frameAt, seconds, shownFrames } from '../../parts/shown-frames';

const LEFT = 44;
const RIGHT = 70;

/** Frames drawn where the picture changes, above the completeness curve, on one axis. */
export function Curve({ data }: { data: MeasureView }) {
  const [atMs, setAtMs] = useState<number | null>(null);
  const [stepMs, setStepMs] = useState('');
  const { frames } = data;
  const lastChange = frames.at(-1)?.atMs ?? 1_000;
  const end = Math.max(lastChange * 1.15, 1_000);

  const move = (by: 1 | -1) => {
    const every = Number(stepMs);
    setAtMs((now) => {
      if (every > 0) return Math.min(end, Math.max(0, (now ?? (by > 0 ? -every : 0)) + by * every));
      const index = now === null ? -1 : frames.findLastIndex((frame) => frame.atMs <= now);
      return frames[Math.min(frames.length - 1, Math.max(0, index + by))]?.atMs ?? null;
    });
  };
  useKey('ArrowRight', () => move(1));
  useKey('ArrowLeft', () => move(-1));
  if (frames.length === 0) return <p className="note">The browser gave no frames for this run.</p>;
  return (
    <section
      className="sheet"
      style={{
        padding: '22px 0 0',
        position: 'relative',
        display: 'grid',
        gridTemplateColumns: atMs === null ? 'minmax(0,1fr)' : 'minmax(0,1fr) 170px',
      }}
      aria-label="How the picture came to be"
    >
      <div style={{ position: 'relative' }}>
        <Frames frames={frames} end={end} onShow={setAtMs} />
        <CompletenessChart data={data} end={end} atMs={atMs} />
        <Stepping stepMs={stepMs} onStep={setStepMs} />
      </div>
      {atMs !== null ? <Viewport atMs={atMs} frame={frameAt(frames, atMs)} /> : null}
    </section>
  );
}

type Frame = MeasureView['frames'][number];

/** The pictures where something changed. */
function Frames({
  frames,
  end,
  onShow,
}: {
  frames: readonly Frame[];
  end: number;
  onShow: (atMs: number) => void;
}) {
  const place = (time: number) => `calc(${LEFT}px + (100% - ${LEFT + RIGHT}px) * ${time / end})`;
  return (
    <div className="frames">
      {shownFrames(frames, end / 11).map((frame) => (
        <button
          type="button"
          key={frame.id}
          style={{ left: place(frame.atMs) }}
          aria-label={`Frame at ${ms(frame.atMs)}, ${Math.round(frame.completeness * 100)} % complete`}
          onClick={() => onShow(frame.atMs)}
        >
          <span className="stamp">{ms(frame.atMs)}</span>
          <img src={`/api/pictures/frame/${frame.id}`} alt="" />
        </button>
      ))}
    </div>
  );
}

/** How much of the final picture stands when. */
function CompletenessChart({ data, end, atMs }: { data: MeasureView; end: number; atMs: number | null }) {
  const { frames } = data;
  const paint = data.runs[data.measurement.medianRun]?.metrics[data.headline] ?? null;
  const points = [
    { atMs: 0, share: 0 },
    ...frames.map((frame) => ({ atMs: frame.atMs, share: frame.completeness * 100 })),
    { atMs: end, share: (frames.at(-1)?.completeness ?? 0) * 100 },
  ];
  return (
    <div style={{ height: 150 }}>
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
                value: `${HEADLINE_NAMES[data.headline]} ${ms(paint)}`,
                position: 'insideTopRight',
                fontSize: 12,
                fontWeight: 650,
                fill: 'var(--ink)',
              }}
            />
          ) : null}
          {atMs !== null ? <ReferenceLine x={atMs} stroke="var(--ink)" strokeDasharray="3 3" /> : null}
        </AreaChart>
      </ResponsiveContainer>
    </div>
  );
}

/** By how much the arrows move. */
function Stepping({ stepMs, onStep }: { stepMs: string; onStep: (stepMs: string) => void }) {
  return (
    <label className="muted" style={{ display: 'block', padding: '0 0 8px 44px', fontSize: 12 }}>
      <span className="key">←</span> <span className="key">→</span> step by{' '}
      <input
        className="small-field"
        aria-label="Step in milliseconds"
        inputMode="numeric"
        placeholder="change"
        value={stepMs}
        onChange={(event) => onStep(event.target.value.replace(/\D/g, ''))}
      />{' '}
      {stepMs ? 'ms' : 'of the picture; or write a time in ms'}
    </label>
  );
}

/** The viewport at a moment. */
function Viewport({ atMs, frame }: { atMs: number; frame: Frame | null }) {
  return (
    <figure style={{ margin: 0, padding: '0 12px 8px' }}>
      {frame ? (
        <img
          src={`/api/pictures/frame/${frame.id}`}
          alt={`The viewport at ${ms(atMs)}`}
          style={{ maxHeight: 250, maxWidth: '100%', border: '1px solid var(--line)' }}
        />
      ) : (
        <div style={{ height: 120, border: '1px solid var(--line)', background: '#fff' }} />
      )}
      <figcaption className="muted">
        {ms(atMs)}, {Math.round((frame?.completeness ?? 0) * 100)} % complete
      </figcaption>
    </figure>
  );
}
