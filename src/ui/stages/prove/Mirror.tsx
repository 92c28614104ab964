'use client';
import { HEADLINE_NAMES } from '@/core/measure/headline';
import { count, ms } from '@/core/path/words';
import { AS_IS, TREATED } from '@/core/trial/arms';
import type { ProveView } from '@/usecases/prove-view';
import { axisTicks, seconds, shownFrames } from '../../parts/shown-frames';

const HEIGHT = 92;
/** Where less of the axis lies before a paint, its words do not fit in there, and stand behind it. */
const LEAST_ROOM = 0.3;

/** One arm as it is drawn: above the axis or mirrored below it. */
interface DrawnArm {
  word: string;
  colour: string;
  soft: string;
  up: boolean;
  frames: { id: number; atMs: number; completeness: number }[];
  /** Its headline paint, ms. */
  paint: number | null;
}

/** One axis for both arms: as is above it, treated mirrored below; frames where the picture changes. */
export function Mirror({ data }: { data: ProveView }) {
  const { shownPair, arms, result, pictures } = data;
  const { headline } = result;
  const frames = (arm: string) =>
    pictures
      .filter((one) => one.name === `${arm} frame` && one.atMs !== null)
      .map((one) => ({ id: one.id, atMs: one.atMs!, completeness: one.completeness ?? 0 }));
  /** Of the run that is drawn; of a trial of before it is not known which that was. */
  const paintOf = (index: 0 | 1) =>
    shownPair === null
      ? arms[index]!.spreads[headline].median
      : (arms[index]!.metrics[shownPair]?.[headline] ?? null);
  const asIs: DrawnArm = {
    word: 'As is',
    colour: 'var(--ochre)',
    soft: 'var(--ochre-soft)',
    up: true,
    frames: frames(AS_IS),
    paint: paintOf(0),
  };
  const treated: DrawnArm = {
    word: 'Treated',
    colour: 'var(--teal)',
    soft: 'var(--teal-soft)',
    up: false,
    frames: frames(TREATED),
    paint: paintOf(1),
  };
  const end = Math.max(1_000, ...[...asIs.frames, ...treated.frames].map((frame) => frame.atMs)) * 1.12;
  return (
    <section
      className="sheet"
      id="frames"
      style={{ padding: '4px 0' }}
      aria-label="Both arms on one time axis"
    >
      <Frames arm={asIs} end={end} />
      <Curve arm={asIs} end={end} headline={HEADLINE_NAMES[headline]} />
      <div className="ticks" style={{ borderTop: '3px solid var(--ink)' }}>
        {axisTicks(end).map((tick) => (
          <span
            key={tick}
            style={
              tick === 0 ? { left: 8, justifyContent: 'flex-start' } : { left: `${(100 * tick) / end}%` }
            }
          >
            {seconds(tick)} s
          </span>
        ))}
      </div>
      <Curve arm={treated} end={end} headline={HEADLINE_NAMES[headline]} />
      <Frames arm={treated} end={end} />
      <p className="muted" style={{ margin: '4px 10px' }}>
        {shownPair === null
          ? 'One run of each arm is drawn.'
          : `Drawn: pair ${shownPair + 1}, whose difference is nearest to the median of all.`}
      </p>
    </section>
  );
}

function Frames({ arm, end }: { arm: DrawnArm; end: number }) {
  return (
    <div style={{ position: 'relative', height: 118 }} aria-label={`${arm.word}: frames`}>
      {shownFrames(arm.frames, end / 13).map((frame) => (
        <span
          key={frame.id}
          style={{
            position: 'absolute',
            left: `${(100 * frame.atMs) / end}%`,
            [arm.up ? 'bottom' : 'top']: 6,
            borderLeft: '2px solid var(--ink)',
          }}
        >
          <img
            src={`/api/pictures/picture/${frame.id}`}
            alt={`${arm.word} at ${ms(frame.atMs)}`}
            fetchPriority="low"
            style={{
              height: 92,
              display: 'block',
              border: '1px solid var(--line)',
              borderLeft: 0,
              background: '#fff',
            }}
          />
        </span>
      ))}
    </div>
  );
}

/** How the fold fills, and when the headline paint was. */
function Curve({ arm, end, headline }: { arm: DrawnArm; end: number; headline: string }) {
  const edge = arm.up ? HEIGHT : 0;
  const path = stepsOf(arm, end);
  return (
    <div style={{ position: 'relative', height: HEIGHT }}>
      <svg
        viewBox={`0 0 1000 ${HEIGHT}`}
        preserveAspectRatio="none"
        width="100%"
        height={HEIGHT}
        style={{ display: 'block' }}
        role="img"
        aria-label={`${arm.word}: the fold as it fills`}
      >
        <path d={`${path} L1000 ${edge} L0 ${edge} Z`} fill={arm.soft} />
        <path d={path} fill="none" stroke={arm.colour} strokeWidth="2.5" vectorEffect="non-scaling-stroke" />
      </svg>
      {arm.paint !== null ? (
        <span
          style={{
            position: 'absolute',
            [arm.up ? 'top' : 'bottom']: HEIGHT / 2 - 8,
            left: `${(100 * arm.paint) / end}%`,
            transform: `translateX(${arm.paint / end < LEAST_ROOM ? '8px' : 'calc(-100% - 8px)'})`,
            color: arm.colour,
            fontWeight: 650,
            fontSize: 12.5,
            whiteSpace: 'nowrap',
          }}
        >
          {headline} {count(arm.paint)}
        </span>
      ) : null}
      <span
        style={{
          position: 'absolute',
          left: 8,
          [arm.up ? 'top' : 'bottom']: 6,
          color: arm.colour,
          fontWeight: 650,
        }}
      >
        {arm.word}
      </span>
    </div>
  );
}

/** The share of the fold over time, as steps away from the axis. */
function stepsOf({ frames, up }: DrawnArm, end: number): string {
  const x = (time: number) => (1000 * time) / end;
  const y = (share: number) => (up ? HEIGHT - share * HEIGHT : share * HEIGHT);
  let path = `M0 ${y(0)}`;
  let last = 0;
  for (const frame of frames) {
    path += ` L${x(frame.atMs)} ${y(last)} L${x(frame.atMs)} ${y(frame.completeness)}`;
    last = frame.completeness;
  }
  return `${path} L1000 ${y(last)}`;
}
