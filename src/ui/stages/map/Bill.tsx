'use client';
import Link from 'next/link';
import { useState } from 'react';
import type { BillSegment } from '@/core/path/bill';
import type { Finding } from '@/core/path/findings';
import { findingsBeside } from '@/core/path/findings/beside';
import type { HandOver } from '@/core/path/hand-overs';
import { lineNames } from '@/core/path/line-names';
import type { MapAsset } from '@/core/path/map';
import { count, ms } from '@/core/path/words';
import type { MapView } from '@/usecases/map-view';
import { treatmentOf } from '../../api';
import { atMoment, overTime } from './axis';
import { NoteNumbers } from './Footnotes';
import { OwnerDialog } from './OwnerDialog';
import { Strip } from './Strip';

/** Solid for what an asset makes the paint wait for; light for what the page and the browser take themselves. */
const SOLID = new Set(['bytes', 'server', 'queue', 'discovery', 'running']);

export function isSolid(segment: BillSegment, documentUrl: string | undefined): boolean {
  return SOLID.has(segment.kind) && segment.url !== undefined && segment.url !== documentUrl;
}

const documentOf = ({ assets }: MapView) =>
  assets.find((asset) => asset.kind === 'document' && asset.hold === 'holds')?.url;

/** The bill as one bar: it is the time axis that the assets hang from. */
export function BillBar({ data, onPick }: { data: MapView; onPick: (url: string) => void }) {
  const { target } = data;
  if (!target) return <p className="note">Without a paint there is no bill.</p>;
  const documentUrl = documentOf(data);
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
              className={`piece ${light ? 'light' : ''} ${segment.kind === 'running' ? 'running' : ''} ${segment.kind === 'unexplained' ? 'open' : ''}`}
              style={{
                ...overTime(segment.startMs, segment.endMs),
                cursor: segment.url ? 'pointer' : 'default',
              }}
              title={`${index + 1}. ${segment.label}: ${ms(long)}`}
              aria-label={`${index + 1}. ${segment.label}: ${ms(long)}`}
              onClick={() => segment.url && onPick(segment.url)}
            >
              {long > target.atMs / 20 ? count(long) : ''}
            </button>
          );
        })}
        {data.handOvers.map((one) => (
          <button
            type="button"
            key={one.number}
            className={`hand-over ${one.serial ? 'serial' : ''}`}
            style={atMoment(one.atMs)}
            aria-label={handOverWords(one)}
            title={handOverWords(one)}
            onClick={() => onPick(one.to.url)}
          >
            {one.number}
          </button>
        ))}
        {data.floor && target.kind === 'first paint' ? (
          <span className="floor-mark" style={atMoment(data.floor.atMs)}>
            <b>floor {count(data.floor.atMs)}</b>
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

function handOverWords({ number, atMs, from, to, found, serial }: HandOver): string {
  return `Hand-over ${number} at ${ms(atMs)}: from ${from.name} to ${to.name}, found ${found}${serial ? '; it could not be asked for before' : ''}`;
}

/** The hand-overs as one line of reading: who waits for whom, and how each came to be known. */
export function HandOvers({ data, onPick }: { data: MapView; onPick: (url: string) => void }) {
  const { handOvers } = data;
  const serial = handOvers.filter((one) => one.serial).length;
  if (handOvers.length === 0) return null;
  return (
    <p className="hand-overs" aria-label="Hand-overs">
      <span className="muted">{handOvers[0]!.from.name}</span>
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
      {serial > 0 ? <span className="muted"> · framed: it could not be asked for before</span> : null}
    </p>
  );
}

const MOST_GAINS = 5;

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
          <span className="muted">Removed alone, most would gain</span>{' '}
          {most.map((asset, index) => (
            <span key={asset.url}>
              {index > 0 ? <span className="muted"> · </span> : null}
              <button type="button" className="plain-link" onClick={() => onPick(asset.url)}>
                {asset.name}
              </button>{' '}
              <b>{count(asset.gainMs!)}</b>
            </span>
          ))}{' '}
          <span className="muted">ms</span>
        </>
      )}
    </p>
  );
}

const SHOWN = 7;

/** The bill line by line: what, why, how long, and the way to do something about it. */
export function BillLines({
  data,
  pageId,
  conditionsId,
  onPick,
  onNote,
}: {
  data: MapView;
  pageId: number;
  conditionsId: string;
  onPick: (url: string) => void;
  onNote: (line: string) => void;
}) {
  const [all, setAll] = useState(false);
  const { target, paintBill, findings } = data;
  if (!target || paintBill.length === 0) return null;
  const long = (segment: BillSegment) => segment.endMs - segment.startMs;
  const documentUrl = documentOf(data);
  const names = lineNames(paintBill);
  const numbered = paintBill.map((segment, index) => ({
    segment,
    number: index + 1,
    name: names[index]!,
    notes: data.footnotes.filter((note) => note.line === names[index]),
  }));
  const largest = new Set([...numbered].sort((a, b) => long(b.segment) - long(a.segment)).slice(0, SHOWN));
  // What somebody remarked on is not put away.
  const shown = numbered.filter((one) => all || largest.has(one) || one.notes.length > 0);
  const left = numbered.filter((one) => !shown.includes(one));
  return (
    <details className="bill-lines" open>
      <summary>The bill, line by line</summary>
      <table className="plain">
        <tbody>
          {shown.map(({ segment, number, name, notes }) => (
            <tr key={segment.startMs}>
              <td className="number muted" style={{ width: 36 }}>
                <NoteNumbers notes={notes} />
                {number}
              </td>
              <td className="number" style={{ width: 52 }}>
                <b>{count(long(segment))}</b>
              </td>
              <td style={{ width: 282 }} title={segment.label}>
                {segment.url ? (
                  <button type="button" className="plain-link" onClick={() => onPick(segment.url!)}>
                    {segment.label}
                  </button>
                ) : (
                  segment.label
                )}
              </td>
              <td className="muted" title={segment.why}>
                {segment.why}
                {findingsBeside(segment, findings).map((of) => (
                  <a
                    key={of}
                    className="key finding-number"
                    href={`#finding-${of}`}
                    title={findings[of - 1]!.sentence}
                  >
                    finding {of}
                  </a>
                ))}
              </td>
              <td className="number" style={{ width: 84 }}>
                <button
                  type="button"
                  className="plain-link muted"
                  aria-label={`Footnote on ${name}`}
                  onClick={() => onNote(name)}
                >
                  note
                </button>{' '}
                {segment.url !== undefined && segment.url !== documentUrl ? (
                  <Link href={treatmentOf(pageId, conditionsId, segment.url)}>treat</Link>
                ) : null}
              </td>
            </tr>
          ))}
          {left.length > 0 ? (
            <tr>
              <td />
              <td className="number">
                <b>{count(left.reduce((sum, one) => sum + long(one.segment), 0))}</b>
              </td>
              <td colSpan={3}>
                <button type="button" className="key" onClick={() => setAll(true)}>
                  {left.length} shorter {left.length === 1 ? 'line' : 'lines'}
                </button>
              </td>
            </tr>
          ) : null}
          <tr>
            <td />
            <td className="number">
              <b>{count(target.atMs)}</b>
            </td>
            <td colSpan={3}>
              <b>{target.kind === 'fold' ? 'the fold 95 % complete' : target.kind}</b>
            </td>
          </tr>
        </tbody>
      </table>
    </details>
  );
}

const LINE_WORDS: Record<Finding['line'], string> = {
  waiting: 'would shorten waiting for assets',
  connecting: 'would shorten connecting',
  server: 'would shorten the server’s answer',
  bytes: 'would free the line',
  'main thread': 'would free the main thread',
  'after first paint': 'come after first paint',
};

/** What follows from the map, by the line of the bill it shortens. */
export function Findings({ findings, onPick }: { findings: Finding[]; onPick: (url: string) => void }) {
  const [naming, setNaming] = useState<string[] | null>(null);
  const lines = [...new Set(findings.map((finding) => finding.line))];
  if (lines.length === 0) return null;
  return (
    <section aria-label="Findings">
      <h2 style={{ fontSize: 15, margin: '18px 0 4px' }}>
        Findings <span className="muted">{findings.length}, by the line of the bill they shorten</span>
      </h2>
      {lines.map((line) => (
        <div key={line} className="findings">
          <b>{LINE_WORDS[line]}</b>
          <ul>
            {findings
              .filter((finding) => finding.line === line)
              .map((finding) => (
                <li key={finding.id} id={`finding-${findings.indexOf(finding) + 1}`} tabIndex={-1}>
                  <b className="muted">{findings.indexOf(finding) + 1}</b>
                  <span className="number">
                    {finding.costMs !== null && finding.costMs >= 1
                      ? `up to ${count(finding.costMs)} ms`
                      : ''}
                  </span>
                  <span>
                    {finding.sentence}{' '}
                    {finding.urls[0] ? (
                      <button
                        type="button"
                        className="key"
                        aria-label={`Show ${finding.urls[0]}`}
                        onClick={() => onPick(finding.urls[0]!)}
                      >
                        show
                      </button>
                    ) : null}{' '}
                    {finding.domains ? (
                      <button
                        type="button"
                        className="key"
                        aria-label={`Name the owner of ${finding.domains.join(', ')}`}
                        onClick={() => setNaming(finding.domains!)}
                      >
                        whose?
                      </button>
                    ) : null}
                  </span>
                </li>
              ))}
          </ul>
        </div>
      ))}
      {naming ? <OwnerDialog domains={naming} onClose={() => setNaming(null)} /> : null}
    </section>
  );
}
