import { fileNameOf } from '@/core/path/names';
import { ms } from '@/core/path/words';
import type { MeasureView } from '@/usecases/measure-view';
import { Curve } from './Curve';
import { Heat } from './Heat';

/** What stands behind the figures: how the picture came to be, how far to trust them, what came late, what the largest paint waited for. */
export function Circumstances({ data }: { data: MeasureView }) {
  return (
    <aside className="side" aria-label="Behind the figures" tabIndex={0}>
      <Curve data={data} />
      <h2>How far to trust them</h2>
      {data.quality.map((sentence) => (
        <p key={sentence} style={{ margin: '4px 0' }}>
          {sentence}
        </p>
      ))}
      <Moving data={data} />
      <h2>Which parts came late</h2>
      <Heat data={data} />
      <LargestPaint data={data} />
      <LongTasks data={data} />
      <Shifts data={data} />
      <Fonts data={data} />
      <Notes data={data} />
    </aside>
  );
}

/** What keeps moving, and Speed Index without it. */
function Moving({ data }: { data: MeasureView }) {
  const { moving } = data;
  if (!moving) return null;
  return (
    <>
      <h2>What keeps moving</h2>
      <p style={{ margin: '4px 0' }}>
        {moving.elements.join(', ') || 'An area without a name'}, {Math.round(moving.share * 100)} % of the
        viewport.{' '}
        {moving.maskedSpeedIndexMs === null
          ? 'That is too much to mask: no Speed Index without it.'
          : `Speed Index with it masked: ${ms(moving.maskedSpeedIndexMs)}.`}
      </p>
    </>
  );
}

/** What the largest paint waited for, part by part. */
function LargestPaint({ data }: { data: MeasureView }) {
  const { lcp } = data;
  if (!lcp) return null;
  return (
    <>
      <h2>
        Largest contentful paint: <code>{lcp.element}</code>
      </h2>
      {lcp.url ? <p style={{ margin: '0 0 4px' }}>{fileNameOf(lcp.url)}</p> : null}
      <table className="plain">
        <tbody>
          {lcp.parts.map((part) => (
            <tr key={part.label}>
              <td>{part.label}</td>
              <td className="number">{ms(part.ms)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

/** The longest tasks of the main thread. */
function LongTasks({ data }: { data: MeasureView }) {
  const { longTasks } = data;
  if (longTasks.length === 0) return null;
  return (
    <>
      <h2>Long tasks</h2>
      <table className="plain">
        <tbody>
          {[...longTasks]
            .sort((a, b) => b.endMs - b.startMs - (a.endMs - a.startMs))
            .slice(0, 6)
            .map((task) => (
              <tr key={task.startMs}>
                <td>
                  {task.script ? fileNameOf(task.script) : 'the browser itself'}{' '}
                  <span className="muted">at {ms(task.startMs)}</span>
                </td>
                <td className="number">{ms(task.endMs - task.startMs)}</td>
              </tr>
            ))}
        </tbody>
      </table>
    </>
  );
}

/** What shifted, and by how much. */
function Shifts({ data }: { data: MeasureView }) {
  const { shifts } = data;
  if (shifts.length === 0) return null;
  return (
    <>
      <h2>What shifted</h2>
      {shifts.slice(0, 5).map((shift) => (
        <p key={shift.atMs} style={{ margin: '3px 0' }}>
          {shift.sources.map((source) => source.element).join(', ') || 'unnamed'}{' '}
          <span className="muted">{shift.score.toFixed(3)}</span>
        </p>
      ))}
    </>
  );
}

/** Fonts of the page’s own that paint text. */
function Fonts({ data }: { data: MeasureView }) {
  const fonts = data.fonts.filter((font) => font.custom);
  if (fonts.length === 0) return null;
  return (
    <>
      <h2>Fonts that paint</h2>
      {fonts.slice(0, 6).map((font) => (
        <p key={`${font.family} ${String(font.aboveFold)} ${font.sample}`} style={{ margin: '3px 0' }}>
          {font.family}{' '}
          <span className="muted">
            {font.aboveFold ? 'above the fold' : 'below the fold'}: “{font.sample.slice(0, 28)}”
          </span>
        </p>
      ))}
    </>
  );
}

/** What capturing the page met with. */
function Notes({ data }: { data: MeasureView }) {
  const { notes } = data;
  if (notes.length === 0) return null;
  return (
    <>
      <h2>Of the capture</h2>
      {notes.map((note) => (
        <p key={note} className="muted" style={{ margin: '3px 0' }}>
          {note}
        </p>
      ))}
    </>
  );
}
