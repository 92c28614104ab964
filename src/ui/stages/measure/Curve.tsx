'use client';
import { lazy, useState } from 'react';
import { ms } from '@/core/path/words';
import type { MeasureView } from '@/usecases/measure-view';
import { useKey } from '../../keyboard';
import { OnceThere } from '../../parts/Later';
import { frameAt, shownFrames } from '../../parts/shown-frames';
import { LEFT, RIGHT } from './curve-margins';

const CompletenessChart = lazy(() =>
  import('./CompletenessChart').then((one) => ({ default: one.CompletenessChart })),
);

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
        <div style={{ height: 150 }}>
          <OnceThere>
            <CompletenessChart data={data} end={end} atMs={atMs} />
          </OnceThere>
        </div>
        <Stepping stepMs={stepMs} onStep={setStepMs} />
      </div>
      {atMs !== null ? <Viewport atMs={atMs} frame={frameAt(frames, atMs)} /> : null}
    </section>
  );
}

type Frame = MeasureView['frames'][number];

/** The pictures where something changed: as many as stand side by side, on a narrow screen fewer. */
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
  const shown = shownFrames(frames, end / 11);
  const onNarrow = new Set(shownFrames(shown, end / 7));
  return (
    <div className="frames">
      {shown.map((frame) => (
        <button
          type="button"
          key={frame.id}
          className={onNarrow.has(frame) ? undefined : 'for-wide'}
          style={{ left: place(frame.atMs) }}
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
