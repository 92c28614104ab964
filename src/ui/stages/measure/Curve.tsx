'use client';
import { lazy, useState } from 'react';
import { HEADLINE_NAMES } from '@/core/measure/headline';
import { ms } from '@/core/path/words';
import type { MeasureView } from '@/usecases/measure-view';
import { useKey } from '../../keyboard';
import { OnceThere } from '../../parts/Later';
import { frameAt } from '../../parts/shown-frames';
import { frameSize, framesByWidth, LEFT, rightOf } from './curve-margins';
import './curve.css';

const CompletenessChart = lazy(() =>
  import('./CompletenessChart').then((one) => ({ default: one.CompletenessChart })),
);

/** Frames drawn where the picture changes, above the completeness curve, on one axis. */
export function Curve({ data }: { data: MeasureView }) {
  const [atMs, setAtMs] = useState<number | null>(null);
  const [stepMs, setStepMs] = useState('');
  const { frames } = data;
  const size = frameSize(data.measurement.conditions.viewport);
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
  const paint = data.runs[data.measurement.medianRun]?.metrics[data.headline] ?? null;
  return (
    <section className="curve" aria-label="How the picture came to be">
      <h2>How the picture came to be</h2>
      {paint === null ? null : (
        <p className="muted" style={{ margin: '0 0 4px', fontSize: 12 }}>
          How much of the last picture stands when.
          {/* Each a line of its own: letters that come late wrap nothing. */}
          <br />
          The line: {HEADLINE_NAMES[data.headline]}, {ms(paint)}.
        </p>
      )}
      <Frames frames={frames} end={end} size={size} onShow={setAtMs} />
      <div className="curve-chart">
        <OnceThere>
          <CompletenessChart
            frames={frames}
            paintMs={paint}
            end={end}
            atMs={atMs}
            right={rightOf(size.width)}
          />
        </OnceThere>
      </div>
      <Stepping stepMs={stepMs} onStep={setStepMs} />
      {atMs !== null ? <Viewport atMs={atMs} frame={frameAt(frames, atMs)} /> : null}
    </section>
  );
}

type Frame = MeasureView['frames'][number];

/** The pictures where something changed: as many as stand side by side, on a narrow screen fewer. */
function Frames({
  frames,
  end,
  size,
  onShow,
}: {
  frames: readonly Frame[];
  end: number;
  size: { width: number; height: number };
  onShow: (atMs: number) => void;
}) {
  const right = rightOf(size.width);
  const place = (time: number) => `calc(${LEFT}px + (100% - ${LEFT + right}px) * ${time / end})`;
  const byWidth = framesByWidth(frames, end, size.width);
  return (
    <div className="frames" style={{ height: size.height + 18 }}>
      {byWidth.map(({ frame, fromPx }) => (
        <button
          type="button"
          key={frame.id}
          className={fromPx === null ? undefined : `from-${fromPx}`}
          style={{ left: place(frame.atMs), ...size }}
          aria-label={`Frame at ${ms(frame.atMs)}, ${Math.round(frame.completeness * 100)} % complete`}
          onClick={() => onShow(frame.atMs)}
        >
          <span className="stamp">{ms(frame.atMs)}</span>
          <img src={`/api/pictures/frame/${frame.id}`} alt="" fetchPriority="low" />
        </button>
      ))}
    </div>
  );
}

/** By how much the arrows move. */
function Stepping({ stepMs, onStep }: { stepMs: string; onStep: (stepMs: string) => void }) {
  return (
    <label className="stepping muted">
      <span className="key">←</span> <span className="key">→</span> step by{' '}
      <input
        className="small-field"
        aria-label="Step in milliseconds"
        inputMode="numeric"
        placeholder="change"
        value={stepMs}
        onChange={(event) => onStep(event.target.value.replace(/\D/g, ''))}
      />{' '}
      {stepMs ? 'ms' : 'of the picture, or a time in ms'}
    </label>
  );
}

/** The viewport at a moment. */
function Viewport({ atMs, frame }: { atMs: number; frame: Frame | null }) {
  return (
    <figure className="viewport">
      {frame ? (
        <img src={`/api/pictures/frame/${frame.id}`} alt={`The viewport at ${ms(atMs)}`} />
      ) : (
        <div style={{ height: 120, border: '1px solid var(--line)', background: '#fff' }} />
      )}
      <figcaption className="muted">
        {ms(atMs)}, {Math.round((frame?.completeness ?? 0) * 100)} % complete
      </figcaption>
    </figure>
  );
}
