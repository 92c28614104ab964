'use client';
import { bytes, capital } from '@/core/path/words';
import { fileNameOf } from '@/core/path/names';
import type { LighterView } from '@/usecases/lighter-view';
import { JobButton, type StageProps } from '../../parts/StageFrame';

/** Lighter versions of the page's images and fonts: made on a press, and told of one by one. */
export function LighterFiles({ lighter, ...props }: StageProps & { lighter: LighterView }) {
  const button = (label: string) => (
    <JobButton kind="lighter-images" label={label} {...props} primary={false} />
  );
  if (lighter.state === 'none')
    return (
      <div className="note row">
        <span style={{ flex: 1 }}>{noneWords(lighter)}</span>
        {button('Make lighter files')}
      </div>
    );
  if (lighter.state === 'stale')
    return (
      <div className="note row">
        <span style={{ flex: 1 }}>
          <b>Its lighter files are not used any more:</b> they were made for the page as it was captured then.{' '}
          {lighter.reasons.join(' ')}
        </span>
        {button('Make them again')}
      </div>
    );
  return (
    <details className="note">
      <summary>
        <b>Lighter files.</b> {lighter.sentence}
        {lighter.unmade.length
          ? ` ${lighter.unmade.length === 1 ? 'One more was' : `${lighter.unmade.length} more were`} not looked at as now: make them again.`
          : ''}
      </summary>
      {lighter.rows.length ? (
        <div style={{ overflowX: 'auto' }}>
          <MadeTable rows={lighter.rows} />
        </div>
      ) : null}
      {lighter.fonts.length ? <FontTable fonts={lighter.fonts} /> : null}
      {lighter.embeds.map(({ url, name, bytes: size, use }) => (
        <p key={url} className="muted" style={{ margin: '4px 0 0', overflowWrap: 'anywhere' }}>
          {size === null
            ? `There is no picture of “${name}”: it shows nothing, has changed, or the page was captured with someone’s cookies`
            : `A picture of “${name}” takes ${bytes(size)}`}
          ; {use}.
        </p>
      ))}
      {lighter.unmade.map((url) => (
        <p key={url} className="muted" style={{ margin: '4px 0 0', overflowWrap: 'anywhere' }}>
          {fileNameOf(url)} is new, has changed, or was not looked at then.
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

/** "Its 4 images take 175 KB, its font 20 KB." */
function noneWords({ images, fonts, embeds }: Extract<LighterView, { state: 'none' }>): string {
  const said = (
    [
      [images, 'image'],
      [fonts, 'font'],
    ] as const
  ).flatMap(([{ count, bytes: size }, name]) => {
    if (count === 0) return [];
    return [count === 1 ? `its ${name} takes ${bytes(size)}` : `its ${count} ${name}s take ${bytes(size)}`];
  });
  const ways = [
    ...(images.count
      ? ['images as wide as they are shown, in formats of today, and as like as the eye tells']
      : []),
    ...(fonts.count ? ['fonts with the signs that the site’s captured pages show'] : []),
    ...(embeds ? ['a picture of each embed, for what may stand in its place until it is pressed'] : []),
  ];
  return `${said.length ? `${capital(said.join(', '))}. ` : ''}Lighter files can be made: ${ways.join('; ')} (some seconds each).`;
}

function FontTable({ fonts }: { fonts: Extract<LighterView, { state: 'made' }>['fonts'] }) {
  return (
    <table className="plain" style={{ marginTop: 6 }}>
      <thead>
        <tr>
          <th>Font</th>
          <th className="number">As authored</th>
          <th className="number">Subset</th>
          <th className="number">Signs it is for</th>
          <th className="number">Of pages</th>
          <th>In the plan</th>
        </tr>
      </thead>
      <tbody>
        {fonts.map((one) => (
          <tr key={one.url}>
            <td className="file-name" title={one.url}>
              {fileNameOf(one.url)}
            </td>
            <td className="number">{bytes(one.bytes)}</td>
            <td className="number">{bytes(one.smallerBytes)}</td>
            <td className="number">{one.signs}</td>
            <td className="number">{one.pages}</td>
            <td>{one.use}</td>
          </tr>
        ))}
      </tbody>
    </table>
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
            <td className="file-name" title={one.url}>
              {fileNameOf(one.url)}
            </td>
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
