'use client';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { bytes, count } from '@/core/path/words';
import type { FoldView } from '@/usecases/views';
import { useStage } from '../api';
import { when } from '../figures';
import { CodeView } from '../parts/CodeView';
import { CopyButton } from '../parts/CopyButton';
import { JobButton, StageFrame, type StageProps } from '../parts/StageFrame';

/** Fold CSS: what the fold needs, proved by its picture. */
export function FoldStage(props: StageProps) {
  const query = useStage<FoldView>(props.pageId, 'fold', props.conditionsId);
  return (
    <StageFrame
      query={query}
      empty={
        <>
          <h1>There is no fold CSS yet.</h1>
          <p>
            It is made from the page’s capture for a phone (390×844) and a laptop (1440×900), and proved by
            comparing the picture above the fold. The live site is not touched.
          </p>
          <JobButton kind="fold" label="Generate fold CSS" {...props} />
        </>
      }
    >
      {(data) => <Folded data={data} {...props} />}
    </StageFrame>
  );
}

function Folded({ data, ...props }: StageProps & { data: FoldView }) {
  const [at, setAt] = useState(0);
  const viewport = data.viewports[at] ?? data.viewports[0]!;
  const picture = (name: string) =>
    data.pictures.find((one) => one.name === `${viewport.width}x${viewport.height} ${name}`);
  const worst = Math.max(...data.viewports.map((one) => one.differingPixelShare));
  const share = (100 * data.foldCompressedBytes) / Math.max(1, data.sourceCompressedBytes);
  return (
    <main className="screen">
      <h1 className="sentence">
        The fold needs <span className="mark treated">{bytes(data.foldBytes)}</span> of{' '}
        {bytes(data.sourceBytes)} CSS
        {data.proved ? `, proved at ${data.viewports.length} viewports.` : ': not proved.'}
        {data.stale ? ' Out of date: the page or its CSS has changed since.' : ''}
      </h1>
      <p style={{ margin: '0 0 6px' }}>
        Compressed {bytes(data.foldCompressedBytes)} of {bytes(data.sourceCompressedBytes)},{' '}
        {share.toFixed(1)} %. With only this CSS, {(worst * 100).toFixed(3)} % of the pixels above the fold
        differ at most. Made on {when(data.takenAt)} in {data.rounds} {data.rounds === 1 ? 'round' : 'rounds'}
        .
      </p>
      {data.remarks.map((remark) => (
        <p className="note" key={remark}>
          {remark}
        </p>
      ))}
      <div className="row" role="group" aria-label="Viewport">
        <JobButton kind="fold" label="Generate again" {...props} primary={data.stale} />
        {data.viewports.map((one, index) => (
          <Button
            key={one.width}
            variant={index === at ? 'contained' : 'outlined'}
            aria-pressed={index === at}
            onClick={() => setAt(index)}
          >
            {one.width}×{one.height}: {(one.differingPixelShare * 100).toFixed(3)} % differ
          </Button>
        ))}
      </div>
      <div className="pictures">
        <Picture id={picture('allCss')?.id} caption="With all CSS" />
        <Picture id={picture('foldOnly')?.id} caption="With the fold CSS only" />
        <Picture id={picture('difference')?.id} caption="Difference: differing pixels in ink" />
      </div>
      <h2 style={{ fontSize: 15 }}>Where it comes from</h2>
      <div className="sheet">
        <table className="plain">
          <thead>
            <tr>
              <th>Stylesheet</th>
              <th className="number">Rules kept</th>
              <th className="number">Source</th>
              <th className="number">Kept</th>
              <th style={{ width: '22%' }}>Share kept</th>
            </tr>
          </thead>
          <tbody>
            {data.sheets.map((sheet) => (
              <tr key={sheet.url}>
                <td>
                  <details>
                    <summary>
                      <code>{sheet.url}</code>
                      {sheet.parts.length > 1 ? (
                        <span className="muted"> with {sheet.parts.length - 1} imported</span>
                      ) : null}
                    </summary>
                    <ol style={{ maxHeight: 220, overflow: 'auto', margin: '6px 0' }}>
                      {sheet.kept.map((rule, index) => (
                        <li key={index}>
                          <code>
                            {rule.selector.length > 120 ? `${rule.selector.slice(0, 120)}…` : rule.selector}
                          </code>{' '}
                          <span className="muted">
                            {rule.sheetUrl.split('/').at(-1)}, line {rule.line}
                            {rule.concern === 'painted'
                              ? ''
                              : rule.concern === 'hidden'
                                ? '; hides what would lie above the fold'
                                : '; places what shapes the fold'}
                          </span>
                        </li>
                      ))}
                    </ol>
                  </details>
                </td>
                <td className="number">
                  {count(sheet.kept.length)} <span className="muted">of {count(sheet.rules)}</span>
                </td>
                <td className="number">{bytes(sheet.sourceBytes)}</td>
                <td className="number">{bytes(sheet.foldBytes)}</td>
                <td>
                  <div
                    className="kept"
                    role="img"
                    aria-label={`${Math.round((100 * sheet.foldBytes) / Math.max(1, sheet.sourceBytes))} % of the bytes`}
                  >
                    <i
                      style={{
                        width: `${Math.min(100, (100 * sheet.foldBytes) / Math.max(1, sheet.sourceBytes))}%`,
                      }}
                    />
                  </div>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <div className="row">
        <h2 style={{ fontSize: 15, margin: 0 }}>The CSS</h2>
        <CopyButton text={data.css} />
      </div>
      <CodeView
        text={data.css.replaceAll('}', '}\n').replaceAll('\n}', '}')}
        language="css"
        height="300px"
        label="The fold CSS"
      />
    </main>
  );
}

function Picture({ id, caption }: { id: number | undefined; caption: string }) {
  return (
    <figure>
      <figcaption>{caption}</figcaption>
      {id === undefined ? (
        <p className="muted">No picture was kept.</p>
      ) : (
        <img src={`/api/pictures/picture/${id}`} alt={caption} />
      )}
    </figure>
  );
}
