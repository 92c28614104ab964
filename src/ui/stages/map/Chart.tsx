import { lazy, useRef, useState } from 'react';
import type { MapAsset } from '@/core/path/map';
import type { MapView } from '@/usecases/map-view';
import { OnceThere } from '../../parts/Later';
import type { StageProps } from '../../parts/StageFrame';
import { stripLength, type Axis } from './axis';
import { BillBar, Gains, HandOvers } from './Bill';
import { BillLines } from './BillLines';
import { FloorLines } from './FloorLines';
import { aboutAsset, aboutLine, aboutMoment, type NoteSubject } from './note-subjects';
import { PaintChoice } from './PaintChoice';
import { RowFilter } from './RowFilter';
import { StripsOfChart, Ticks } from './Strip';
import { Timeline } from './Timeline';
import { useMapKeys } from './useMapKeys';
import type { MapRows } from './useMapRows';
import { useStrips } from './useStrips';
import { WholeOrNot } from './WholeOrNot';

const BelowTheChart = lazy(() => import('./BelowTheChart').then((one) => ({ default: one.BelowTheChart })));

/** The room of what comes there, px: what stands below it stays where it is. */
const BELOW = 125;

/** The bill as an axis, what is read off it, and the assets that hang below it. */
export function Chart({
  data,
  rows,
  paint,
  pageId,
  conditionsId,
  onPaint,
  onNote,
}: Pick<StageProps, 'pageId' | 'conditionsId'> & {
  data: MapView;
  rows: MapRows;
  paint: string;
  onPaint: (paint: string) => void;
  onNote: (about: NoteSubject) => void;
}) {
  const target = data.target?.atMs ?? null;
  const { upToPaint, limit } = axesOf(data.assets, target);
  const chart = useRef<HTMLDivElement>(null);
  const pointedAt = useRef<number | null>(null);
  const strips = useStrips(chart, upToPaint, limit, pointedAt);
  const [floorOpen, setFloorOpen] = useState(false);
  const { chosen, pick } = rows;
  useMapKeys({
    strips,
    middle: target,
    limit,
    onStep: rows.step,
    onNote: () => chosen && onNote(aboutAsset(chosen.url)),
    onMoment: () => onNote(aboutMoment(pointedAt.current ?? target ?? 0)),
  });
  return (
    <StripsOfChart value={strips}>
      <div ref={chart} className="chart" style={stripLength(strips)}>
        <div className="read-off">
          <HandOvers data={data} onPick={pick} />
          <Gains assets={data.assets} onPick={pick} />
        </div>
        <div className="line-by-line">
          <BillLines
            data={data}
            pageId={pageId}
            conditionsId={conditionsId}
            onPick={pick}
            onNote={(line) => onNote(aboutLine(line))}
          />
          {data.floor && data.target?.atMs === data.headlineMs ? (
            <FloorLines floor={data.floor} open={floorOpen} onOpen={setFloorOpen} />
          ) : null}
        </div>
        <div className="row" style={{ margin: '4px 0 0' }}>
          <RowFilter assets={data.assets} shown={rows.shown} onShow={rows.show} />
          <WholeOrNot strips={strips} upToPaint={upToPaint} />
        </div>
        <Legend />
        <div className="chart-head">
          <div className="axis-row">
            <PaintChoice paint={paint} target={target} onPaint={onPaint} />
            <BillBar data={data} onPick={pick} onFloor={() => setFloorOpen((now) => !now)} />
          </div>
          <div className="axis-row">
            <div className="muted bill-colours">
              <span className="cursor-time" />
              <span className="colours">black: it waits for an asset · white: page and browser</span>
            </div>
            <Ticks notes={data.footnotes} />
          </div>
        </div>
        <Timeline data={data} rows={rows} />
        <div style={{ minHeight: BELOW }}>
          <OnceThere>
            <BelowTheChart data={data} end={limit} />
          </OnceThere>
        </div>
        <i className="cursor" aria-hidden />
      </div>
    </StripsOfChart>
  );
}

/** How far the strips go: to a little after the paint at first, and at most to a little after all that came. */
function axesOf(assets: readonly MapAsset[], target: number | null): { upToPaint: Axis; limit: number } {
  const lastEnd = Math.max(1_000, ...assets.map((asset) => asset.endMs ?? asset.startMs), target ?? 0);
  const end = lastEnd * 1.02;
  const to = target === null ? end : Math.min(target * 1.22, Math.max(end, target * 1.05));
  return { upToPaint: { from: 0, to }, limit: Math.max(end, to) };
}

function Legend() {
  return (
    <p className="legend muted">
      <i className="hold-mark holds" />
      holds <i className="hold-mark crowds" />
      crowds <i className="hold-mark after" />
      after · [ms]: waiting · dashes: connecting · dots: the server · filled: bytes · notch below: run or read
      · framed number: named by the one before
    </p>
  );
}
