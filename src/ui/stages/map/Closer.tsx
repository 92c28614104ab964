'use client';
import { useState } from 'react';
import type { MapAsset } from '@/core/path/map';
import { fileNameOf } from '@/core/path/names';
import type { AssetView } from '@/usecases/asset-view';
import { AssetCode } from '../../parts/AssetCode';
import { Defines, TiesOf } from './Ties';

/** What is looked up of an asset: who needs it, where it stands, its headers and content. */
export function Closer({
  view,
  asset,
  pageId,
  conditionsId,
  onPick,
}: {
  view: AssetView;
  asset: MapAsset;
  pageId: number;
  conditionsId: string;
  onPick: (url: string) => void;
}) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <TiesOf title="Needed by" ties={view.ties.neededBy} onPick={onPick} />
      <TiesOf title="Needs" ties={view.ties.needs} onPick={onPick} />
      <Defines defines={view.ties.defines} />
      {view.source ? (
        <details>
          <summary>Where it is asked for: {fileNameOf(view.source.url)}</summary>
          <pre className="snippet" tabIndex={0}>
            {view.source.lines.map((line) => (
              <div key={line.number} className={line.number === view.source!.line ? 'here' : ''}>
                {String(line.number).padStart(4)} {line.text}
              </div>
            ))}
          </pre>
        </details>
      ) : null}
      <details>
        <summary>
          Headers{' '}
          <span className="muted">
            {view.status} over {view.protocol}
          </span>
        </summary>
        {[...view.responseHeaders, ...view.requestHeaders].map(([name, value], index) => (
          <div key={`${name} ${index}`}>
            <code>
              {name}: {value}
            </code>
          </div>
        ))}
      </details>
      {asset.kind === 'image' && asset.failed === null ? (
        <details open>
          <summary>Content</summary>
          <img
            className="content-picture"
            src={`/api/pages/${pageId}/asset/picture?conditions=${conditionsId}&url=${encodeURIComponent(asset.url)}`}
            alt={`The picture ${asset.name}, as it was captured`}
          />
        </details>
      ) : null}
      {view.content !== null && asset.kind !== 'image' ? (
        <details onToggle={(event) => setOpen(event.currentTarget.open)}>
          <summary>Content{view.cut ? ', its beginning' : ''}</summary>
          {open ? (
            <AssetCode
              text={view.content}
              cut={view.cut}
              language={asset.kind === 'stylesheet' ? 'css' : asset.kind === 'script' ? 'javascript' : 'html'}
              label={`Content of ${asset.name}`}
            />
          ) : null}
        </details>
      ) : null}
    </>
  );
}
