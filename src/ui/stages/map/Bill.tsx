'use client';
import type { BillSegment } from '@/core/path/bill';
import type { HandOver } from '@/core/path/hand-overs';
import type { MapAsset } from '@/core/path/map';
import { count, ms } from '@/core/path/words';
import type { MapView } from '@/usecases/map-view';
import { atMoment, besideLine, overTime } from './axis';
import { Strip } from './Strip';

/** Solid for what an asset makes the paint wait for; light for what the page and the browser take themselves. */
const SOLID = new Set(['bytes', 'server', 'queue', 'discovery', 'running']);

export function isSolid(segment: BillSegment, documentUrl: string | undefined): boolean {
  return SOLID.has(segment.kind) && segment.url !== undefined && segment.url !== documentUrl;
}

/** The page's own address. */
export const documentOf = ({ assets }: MapView) =>
  assets.find((asset) => asset.kind === 'document' && asset.hold === 'holds')?.url;

/**
 * The bill as one bar: it is the time axis that the assets hang from. With keys its parts are gone to as lines and
 * hand-overs below it.
 */
export function BillBar({
  data,
  onPick,
  onFloor,
}: {
  data: MapView;
  onPick: (url: string) => void;
  onFloor: () => void;
}) {
  const { target } = data;
  if (!target) return <p className="note">Without a paint there is no bill.</p>;
  const documentUrl = documentOf(data);
  const floorMs = target.kind === 'first paint' ? data.floor?.atMs : undefined;
  return (
    <div className="bill">
      <Strip>
        {data.paintBill.map((segment, index) => {
          const long = segment.endMs - segment.startMs;
          const light = !isSolid(segment, documentUrl);
          return (
            <button
              type="button"
              key={segment.startMs}
              tabIndex={-1}
              className={`piece ${light ? 'light' : ''} ${segment.kind === 'running' ? 'running' : ''} ${segment.kind === 'unexplained' ? 'open' : ''}`}
              style={{
                ...overTime(segment.startMs, segment.endMs),
                cursor: segment.url ? 'pointer' : 'default',
              }}
              title={`${index + 1}. ${segment.label}: ${ms(long)}`}
              aria-label={`${index + 1}. ${segment.label}: ${ms(long)}`}
              onClick={() => segment.url && onPick(segment.url)}
            >
              <span style={besideLine(floorMs, segment)}>{long > target.atMs / 20 ? count(long) : ''}</span>
            </button>
          );
        })}
        {data.handOvers.map((one, index) => (
          <button
            type="button"
            key={one.number}
            tabIndex={-1}
            className={`hand-over ${one.serial ? 'serial' : ''} ${asideOf(data.handOvers, index, target.atMs)}`}
            style={atMoment(one.atMs)}
            aria-label={handOverWords(one)}
            title={handOverWords(one)}
            onClick={() => onPick(one.to.url)}
          >
            {one.number}
          </button>
        ))}
        {floorMs !== undefined ? (
          <span className="floor-mark" style={atMoment(floorMs)}>
            <button type="button" title="The floor, line by line" onClick={onFloor}>
              floor {count(floorMs)}
            </button>
          </span>
        ) : null}
        <span className="paint-word as-is" style={atMoment(target.atMs)}>
          {target.kind === 'fold' ? 'fold 95 % complete' : target.kind} {count(target.atMs)}
        </span>
        <i className="paint-line" style={{ ...atMoment(target.atMs), top: -6, bottom: -12 }} />
      </Strip>
    </div>
  );
}

/** A number is about this share of the bar wide: two that are closer would cover each other. */
const NUMBER_SHARE = 0.04;

/** On which side of its moment the number of a hand-over stands, where another one is close; else upon it. */
function asideOf(handOvers: readonly HandOver[], index: number, endMs: number): 'before' | 'behind' | '' {
  const [previous, one, next] = [handOvers[index - 1], handOvers[index]!, handOvers[index + 1]];
  if (previous && one.atMs - previous.atMs < NUMBER_SHARE * endMs) return 'behind';
  return next && next.atMs - one.atMs < NUMBER_SHARE * endMs ? 'before' : '';
}

function handOverWords({ number, atMs, from, to, found, serial }: HandOver): string {
  return `Hand-over ${number} at ${ms(atMs)}: from ${from.name} to ${to.name}, found ${found}${serial ? '; it could not be asked for before' : ''}`;
}

/** The hand-overs as one line of reading: who waits for whom, and how each came to be known. */
export function HandOvers({ data, onPick }: { data: MapView; onPick: (url: string) => void }) {
  const { handOvers } = data;
  if (handOvers.length === 0) return null;
  return (
    <p className="hand-overs" aria-label="Hand-overs">
      <span className="muted" title={handOvers[0]!.from.url}>
        {handOvers[0]!.from.url === documentOf(data) ? 'the HTML' : handOvers[0]!.from.name}
      </span>
      {handOvers.map((one) => (
        <span key={one.number}>
          {' '}
          <b className={`hand-over-number ${one.serial ? 'serial' : ''}`}>{one.number}</b>{' '}
          <button
            type="button"
            className="plain-link"
            title={handOverWords(one)}
            onClick={() => onPick(one.to.url)}
          >
            {one.to.name}
          </button>
        </span>
      ))}
    </p>
  );
}

const MOST_GAINS = 3;

/** Less than this nobody goes after first. */
const LEAST_GAIN_MS = 10;

/** What to look at first: the assets whose removal alone would gain most. */
export function Gains({ assets, onPick }: { assets: readonly MapAsset[]; onPick: (url: string) => void }) {
  const most = assets
    .filter((asset) => (asset.gainMs ?? 0) >= LEAST_GAIN_MS)
    .sort((a, b) => b.gainMs! - a.gainMs!)
    .slice(0, MOST_GAINS);
  return (
    <p className="hand-overs" aria-label="Gains">
      {most.length === 0 ? (
        <span className="muted">No asset would gain much if removed alone.</span>
      ) : (
        <>
          <span className="muted">Removed alone, ms earlier:</span>{' '}
          {most.map((asset, index) => (
            <span key={asset.url}>
              {index > 0 ? <span className="muted"> · </span> : null}
              <button type="button" className="plain-link" onClick={() => onPick(asset.url)}>
                {asset.name}
              </button>{' '}
              <b>{count(asset.gainMs!)}</b>
            </span>
          ))}
        </>
      )}
    </p>
  );
}
