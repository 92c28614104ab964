'use client';
import Link from 'next/link';
import { useState, type ReactNode } from 'react';
import { bytes, count, ms } from '@/core/path/words';
import type { Hold, MapAsset } from '@/core/path/map';
import type { MapView } from '@/usecases/views';
import { useStage } from '../api';
import { KIND_MARK } from '../figures';
import { useKey } from '../keyboard';
import { axisTicks, seconds } from '../parts/shown-frames';
import { JobButton, StageFrame, type StageProps } from '../parts/StageFrame';

const BANDS: readonly { hold: Hold; title: string }[] = [
  { hold: 'holds', title: 'Holds first paint' },
  { hold: 'crowds', title: 'Crowds it' },
  { hold: 'after', title: 'After' },
];

/** Map: the bill is the time axis, and the assets hang below it. */
export function MapStage(props: StageProps) {
  const query = useStage<MapView>(props.pageId, 'map', props.conditionsId);
  return (
    <StageFrame
      query={query}
      empty={
        <>
          <h1>There is nothing to map yet.</h1>
          <p>Measure the page first: its map is made from the median run.</p>
          <JobButton kind="measure" label="Measure" {...props} />
        </>
      }
    >
      {(data) => <Mapped data={data} {...props} />}
    </StageFrame>
  );
}

function Mapped({ data, pageId, conditionsId }: StageProps & { data: MapView }) {
  const paint = data.firstPaintMs;
  const [whole, setWhole] = useState(false);
  const [find, setFind] = useState('');
  const [closed, setClosed] = useState<Hold[]>([]);
  const firstHolder =
    data.assets.find((asset) => asset.hold === 'holds' && asset.kind !== 'document') ?? data.assets[0];
  const [selected, setSelected] = useState(firstHolder ? keyOf(firstHolder) : '');
  const lastEnd = Math.max(...data.assets.map((asset) => asset.endMs ?? asset.startMs), paint ?? 0);
  const end =
    whole || paint === null ? lastEnd * 1.02 : Math.min(paint * 1.22, Math.max(lastEnd, paint * 1.05));
  const found = data.assets.filter((asset) => asset.url.toLowerCase().includes(find.toLowerCase()));
  const bands = BANDS.map((band) => ({ ...band, assets: found.filter((asset) => asset.hold === band.hold) }));
  const listed = bands.flatMap((band) => (closed.includes(band.hold) ? [] : band.assets));
  const chosen = data.assets.find((asset) => keyOf(asset) === selected);
  const step = (by: number) => {
    const index = listed.findIndex((asset) => keyOf(asset) === selected);
    const next = listed[Math.min(listed.length - 1, Math.max(0, index + by))];
    if (next) setSelected(keyOf(next));
  };
  useKey('j', () => step(1));
  useKey('k', () => step(-1));
  useKey('0', () => setWhole((now) => !now));
  const at = (time: number) => `${(100 * Math.min(time, end)) / end}%`;

  return (
    <div className="with-side">
      <main className="screen">
        <h1 className="sentence">{data.sentence}</h1>
        <div className="row">
          <input
            className="box"
            aria-label="Find an asset by name"
            placeholder="Find by name"
            value={find}
            onChange={(event) => setFind(event.target.value)}
          />
          <button type="button" className="box" aria-pressed={whole} onClick={() => setWhole((now) => !now)}>
            {whole ? 'Up to first paint' : 'The whole load'} <span className="key">0</span>
          </button>
          <span className="muted">
            <i className="hold-mark holds" />
            holds&ensp;
            <i className="hold-mark crowds" />
            crowds&ensp;
            <i className="hold-mark after" />
            after&ensp;notch: running&ensp;thin line: waiting
          </span>
        </div>
        <div className="axis-row">
          <div style={{ alignSelf: 'center' }}>
            <b>The bill</b>{' '}
            <span className="muted">{paint === null ? '' : `sums to first paint, ${ms(paint)}`}</span>
          </div>
          <Bill
            data={data}
            at={at}
            onPick={(url) => setSelected(keyOf(data.assets.find((asset) => asset.url === url)!))}
          />
        </div>
        {bands.map((band) => {
          const isClosed = closed.includes(band.hold);
          return (
            <section key={band.hold} aria-label={band.title}>
              <div className="band">
                <b>{band.title}</b>
                <span className="muted">
                  {band.assets.length} {band.assets.length === 1 ? 'asset' : 'assets'} ·{' '}
                  {bytes(band.assets.reduce((sum, asset) => sum + asset.wireBytes, 0))}
                </span>
                <button
                  type="button"
                  className="key"
                  aria-expanded={!isClosed}
                  onClick={() =>
                    setClosed((now) =>
                      isClosed ? now.filter((hold) => hold !== band.hold) : [...now, band.hold],
                    )
                  }
                >
                  {isClosed ? 'show' : 'hide'}
                </button>
              </div>
              {isClosed
                ? null
                : band.assets.map((asset) => (
                    <AssetRow
                      key={keyOf(asset)}
                      asset={asset}
                      at={at}
                      paint={paint}
                      end={end}
                      selected={keyOf(asset) === selected}
                      onSelect={() => setSelected(keyOf(asset))}
                    />
                  ))}
            </section>
          );
        })}
        <div className="axis-row" style={{ marginTop: 8 }}>
          <div>
            <b>What the visitor sees</b>
            <div className="muted">each picture as wide as it stays</div>
          </div>
          <div>
            <div className="sees">
              {data.frames.map((frame, index) => {
                const until = Math.min(data.frames[index + 1]?.atMs ?? end, end);
                if (frame.atMs >= end || until - frame.atMs < end / 400) return null;
                return (
                  <figure
                    key={frame.id}
                    style={{ left: at(frame.atMs), width: `calc(${at(until - frame.atMs)} - 2px)` }}
                    title={`${ms(frame.atMs)}, ${Math.round(frame.completeness * 100)} % complete`}
                  >
                    <img src={`/api/pictures/frame/${frame.id}`} alt={`From ${ms(frame.atMs)}`} />
                  </figure>
                );
              })}
              {paint !== null ? <i className="paint-line" style={{ left: at(paint) }} /> : null}
            </div>
            <div className="ticks">
              {axisTicks(end).map((tick) => (
                <span key={tick} style={{ left: at(tick) }}>
                  {seconds(tick)}
                </span>
              ))}
            </div>
          </div>
        </div>
        <BillTable data={data} />
      </main>
      <aside className="side" aria-label="Evidence">
        {chosen ? (
          <Evidence asset={chosen} pageId={pageId} conditionsId={conditionsId} />
        ) : (
          <p className="muted">Select an asset to see its evidence.</p>
        )}
      </aside>
    </div>
  );
}

function keyOf(asset: MapAsset): string {
  return `${asset.url} ${Math.round(asset.startMs)}`;
}

function Bill({
  data,
  at,
  onPick,
}: {
  data: MapView;
  at: (time: number) => string;
  onPick: (url: string) => void;
}) {
  if (data.firstPaintMs === null) return <p className="note">Without a first paint there is no bill.</p>;
  return (
    <div className="bill">
      {data.paintBill.map((segment) => {
        const light = segment.kind !== 'waiting' && segment.kind !== 'running';
        const long = segment.endMs - segment.startMs;
        return (
          <button
            type="button"
            key={segment.startMs}
            className={`piece ${light ? 'light' : ''} ${segment.kind === 'running' ? 'running' : ''}`}
            style={{
              left: at(segment.startMs),
              width: `calc(${at(segment.endMs)} - ${at(segment.startMs)})`,
              textAlign: 'left',
              cursor: segment.url ? 'pointer' : 'default',
            }}
            title={`${segment.label}: ${ms(long)}`}
            aria-label={`${segment.label}: ${ms(long)}`}
            onClick={() => segment.url && onPick(segment.url)}
          >
            {long > data.firstPaintMs! / 26 ? count(long) : ''}
          </button>
        );
      })}
      <span className="paint-word as-is" style={{ left: at(data.firstPaintMs) }}>
        first paint {count(data.firstPaintMs)}
      </span>
      <i className="paint-line" style={{ left: at(data.firstPaintMs), top: -6, bottom: -12 }} />
    </div>
  );
}

function AssetRow({
  asset,
  at,
  paint,
  end,
  selected,
  onSelect,
}: {
  asset: MapAsset;
  at: (time: number) => string;
  paint: number | null;
  end: number;
  selected: boolean;
  onSelect: () => void;
}) {
  const tall = asset.hold === 'holds';
  const finish = asset.endMs ?? end;
  const first = asset.firstByteMs ?? finish;
  const connected = asset.connectEndMs ?? asset.startMs;
  const span = (from: number, to: number, className: string): ReactNode =>
    from >= end || to <= from ? null : (
      <i className={`bar ${className}`} style={{ left: at(from), width: `calc(${at(to)} - ${at(from)})` }} />
    );
  return (
    <button
      type="button"
      className={`asset ${tall ? 'tall' : ''}`}
      aria-pressed={selected}
      onClick={onSelect}
    >
      <span className="label" style={{ display: 'block' }}>
        <div>
          {tall && asset.waitedMs >= 1 ? <span className="waited">{count(asset.waitedMs)}</span> : null}
          <span className="kind">{KIND_MARK[asset.kind]}</span>
          <b style={{ fontWeight: 600 }}>{asset.name}</b>{' '}
          <span className="muted">{asset.host.split('.')[0]}</span>
        </div>
        {tall ? <div className="why">{asset.evidence}</div> : null}
      </span>
      <span className="lane" style={{ display: 'block' }}>
        {span(asset.startMs, connected, 'wait')}
        {span(connected, first, `server ${asset.hold}`)}
        {span(first, finish, asset.hold)}
        {asset.ranMs ? span(asset.ranMs.start, asset.ranMs.end, `ran ${asset.hold}`) : null}
        {paint !== null ? <i className="paint-line" style={{ left: at(paint) }} /> : null}
      </span>
    </button>
  );
}

function Evidence({
  asset,
  pageId,
  conditionsId,
}: {
  asset: MapAsset;
  pageId: number;
  conditionsId: string;
}) {
  return (
    <>
      <h2>
        {asset.name} <span className="muted">{asset.host}</span>
      </h2>
      <p style={{ margin: '0 0 10px' }}>{asset.evidence}</p>
      <table className="plain">
        <tbody>
          <Fact name="Found">{asset.found}</Fact>
          <Fact name="Party">{asset.party} party</Fact>
          <Fact name="Wire size">{bytes(asset.wireBytes)}</Fact>
          <Fact name="Render-blocking">{asset.renderBlocking ? 'yes' : 'no'}</Fact>
          <Fact name="Asked for">{ms(asset.startMs)}</Fact>
          <Fact name="First byte">{asset.firstByteMs === null ? '–' : ms(asset.firstByteMs)}</Fact>
          <Fact name="Arrived">{asset.endMs === null ? 'not within the window' : ms(asset.endMs)}</Fact>
          {asset.ranMs ? (
            <Fact name="Ran">{`${ms(asset.ranMs.start)}, for ${ms(asset.ranMs.end - asset.ranMs.start)}`}</Fact>
          ) : null}
        </tbody>
      </table>
      <p>
        <code>{asset.url.length > 300 ? `${asset.url.slice(0, 300)}…` : asset.url}</code>
      </p>
      <p>
        <Link href={`/pages/${pageId}/treat?conditions=${conditionsId}`}>To its treatment</Link>
      </p>
      <p className="muted">
        <span className="key">J</span> <span className="key">K</span> next, previous
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

function BillTable({ data }: { data: MapView }) {
  if (data.paintBill.length === 0) return null;
  return (
    <details style={{ marginTop: 14 }} open>
      <summary>The bill, line by line</summary>
      <div className="sheet" style={{ marginTop: 6, maxWidth: 720 }}>
        <table className="plain">
          <thead>
            <tr>
              <th>What first paint waited for</th>
              <th className="number">From</th>
              <th className="number">To</th>
              <th className="number">ms</th>
            </tr>
          </thead>
          <tbody>
            {data.paintBill.map((segment) => (
              <tr key={segment.startMs}>
                <td>{segment.label}</td>
                <td className="number">{count(segment.startMs)}</td>
                <td className="number">{count(segment.endMs)}</td>
                <td className="number">
                  <b>{count(segment.endMs - segment.startMs)}</b>
                </td>
              </tr>
            ))}
            <tr>
              <td>
                <b>First paint</b>
              </td>
              <td />
              <td />
              <td className="number">
                <b>{count(data.firstPaintMs ?? 0)}</b>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
    </details>
  );
}
