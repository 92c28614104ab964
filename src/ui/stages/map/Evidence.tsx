'use client';
import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { lazy, type ReactNode } from 'react';
import type { MapAsset } from '@/core/path/map';
import { bytes, ms } from '@/core/path/words';
import type { AssetView } from '@/usecases/asset-view';
import { call, treatmentOf } from '../../api';
import { OnceThere } from '../../parts/Later';

const Closer = lazy(() => import('./Closer').then((one) => ({ default: one.Closer })));

/** The selected asset: its evidence first, then who needs it, where it stands, its headers and content. */
export function Evidence({
  asset,
  pageId,
  conditionsId,
  onNote,
  onPick,
}: {
  asset: MapAsset;
  pageId: number;
  conditionsId: string;
  onNote: () => void;
  onPick: (url: string) => void;
}) {
  const { data, error } = useQuery({
    queryKey: ['page', pageId, 'asset', conditionsId, asset.url],
    queryFn: () =>
      call<AssetView>(
        `/api/pages/${pageId}/asset?conditions=${conditionsId}&url=${encodeURIComponent(asset.url)}`,
      ),
    retry: false,
  });
  return (
    <>
      <h2>
        {asset.name} <span className="muted">{asset.host}</span>
      </h2>
      <p style={{ margin: '0 0 10px' }}>{asset.evidence}</p>
      {asset.gainMs !== null && asset.hold !== 'after' ? (
        <p style={{ margin: '0 0 10px' }}>
          Removed alone, it would gain <b>{ms(asset.gainMs)}</b>.
        </p>
      ) : null}
      <div className="row">
        <Link prefetch={false} className="box" href={treatmentOf(pageId, conditionsId, asset.url)}>
          Treat it
        </Link>
        <Button variant="outlined" onClick={onNote}>
          Footnote
        </Button>
      </div>
      <table className="plain">
        <tbody>
          <Fact name="Found">{asset.found}</Fact>
          <Fact name="Party">{asset.party} party</Fact>
          <Fact name="Wire size">{bytes(asset.wireBytes)}</Fact>
          <Fact name="Render-blocking">{asset.renderBlocking ? 'yes' : 'no'}</Fact>
          <Fact name="Priority">{asset.priority || '–'}</Fact>
          <Fact name="Asked for">{ms(asset.startMs)}</Fact>
          <Fact name="First byte">{asset.firstByteMs === null ? '–' : ms(asset.firstByteMs)}</Fact>
          <Fact name="Arrived">{asset.endMs === null ? 'not within the window' : ms(asset.endMs)}</Fact>
          {asset.ranMs ? (
            <Fact name="Ran">{`${ms(asset.ranMs.start)}, for ${ms(asset.ranMs.end - asset.ranMs.start)}`}</Fact>
          ) : null}
          {asset.readMs ? (
            <Fact name="Read">{`${ms(asset.readMs.start)}, for ${ms(asset.readMs.end - asset.readMs.start)}`}</Fact>
          ) : null}
        </tbody>
      </table>
      <p>
        <code>{asset.url.length > 300 ? `${asset.url.slice(0, 300)}…` : asset.url}</code>
      </p>
      {error ? <p className="muted">{error.message}</p> : null}
      {data ? (
        <OnceThere>
          <Closer view={data} asset={asset} pageId={pageId} conditionsId={conditionsId} onPick={onPick} />
        </OnceThere>
      ) : null}
      <p className="muted">
        <span className="key">J</span> <span className="key">K</span> next, previous{' '}
        <span className="key">F</span> footnote <span className="key">N</span> at the cursor{' '}
        <span className="key">+</span> <span className="key">−</span> zoom <span className="key">←</span>{' '}
        <span className="key">→</span> move
      </p>
    </>
  );
}

function Fact({ name, children }: { name: string; children: ReactNode }) {
  return (
    <tr>
      <td className="muted" style={{ width: 110 }}>
        {name}
      </td>
      <td>{children}</td>
    </tr>
  );
}
