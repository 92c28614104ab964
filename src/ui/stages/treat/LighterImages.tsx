'use client';
import { bytes } from '@/core/path/words';
import { fileNameOf } from '@/core/path/names';
import type { LighterView } from '@/usecases/lighter-view';
import { JobButton, type StageProps } from '../../parts/StageFrame';

/** Lighter versions of the page's images: made on a press, and told of one by one. */
export function LighterImages({ lighter, ...props }: StageProps & { lighter: LighterView }) {
  const button = (label: string) => (
    <JobButton kind="lighter-images" label={label} {...props} primary={false} />
  );
  if (lighter.state === 'none')
    return (
      <div className="note row">
        <span style={{ flex: 1 }}>
          {lighter.count === 1 ? 'Its image takes' : `Its ${lighter.count} images take`}{' '}
          {bytes(lighter.bytes)}. Lighter files can be made of {lighter.count === 1 ? 'it' : 'them'}: as wide
          as they are shown, in formats of today, and as like as the eye tells (some seconds an image).
        </span>
        {button('Make lighter images')}
      </div>
    );
  if (lighter.state === 'stale')
    return (
      <div className="note row">
        <span style={{ flex: 1 }}>
          <b>Its lighter images are not used any more:</b> they were made for the page as it was captured
          then. {lighter.reasons.join(' ')}
        </span>
        {button('Make them again')}
      </div>
    );
  return (
    <details className="note">
      <summary>
        <b>Lighter images.</b> {lighter.sentence}
        {lighter.unmade.length
          ? ` ${lighter.unmade.length === 1 ? 'One more is' : `${lighter.unmade.length} more are`} new, or changed since: make them again.`
          : ''}
      </summary>
      {lighter.rows.length ? (
        <div style={{ overflowX: 'auto' }}>
          <MadeTable rows={lighter.rows} />
        </div>
      ) : null}
      {lighter.unmade.map((url) => (
        <p key={url} className="muted" style={{ margin: '4px 0 0', overflowWrap: 'anywhere' }}>
          {fileNameOf(url)} is new, or has changed since.
        </p>
      ))}
      {lighter.stay.map(({ url, why }) => (
        <p key={url} className="muted" style={{ margin: '4px 0 0', overflowWrap: 'anywhere' }}>
          {fileNameOf(url)} stays: {why}.
        </p>
      ))}
      <div className="row" style={{ marginTop: 6 }}>
        {button('Make them again')}
      </div>
    </details>
  );
}

function MadeTable({ rows }: { rows: Extract<LighterView, { state: 'made' }>['rows'] }) {
  return (
    <table className="plain" style={{ marginTop: 6 }}>
      <thead>
        <tr>
          <th>Image</th>
          <th className="number">As authored</th>
          <th className="number">On a phone</th>
          <th className="number">On a laptop</th>
          <th className="number">Widths, px</th>
          <th>Format, and how like</th>
          <th>In the plan</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((one) => (
          <tr key={one.url}>
            <td title={one.url}>{fileNameOf(one.url)}</td>
            <td className="number">{one.asAuthored}</td>
            <td className="number">{bytes(one.phoneBytes)}</td>
            <td className="number">{bytes(one.laptopBytes)}</td>
            <td className="number">{one.widths}</td>
            <td>{one.chosen}</td>
            <td>{one.use}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
