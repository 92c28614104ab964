'use client';
import { useWindowVirtualizer, type Virtualizer } from '@tanstack/react-virtual';
import { useEffect, useLayoutEffect, useRef, useState } from 'react';
import { count } from '@/core/path/words';
import { useJobs } from '../api';
import { axisTicks } from '../parts/shown-frames';
import { keyOfLine, lastJobs, scaleEnd, type BoardLine, type BoardOrder, type SortKey } from './board-rows';
import { PageLine, type PageLineActs } from './PageLine';
import { SiteLine } from './SiteLine';

const HEADS: readonly { key: SortKey; name: string; number?: boolean }[] = [
  { key: 'name', name: 'Page' },
  { key: 'paintMs', name: 'First paint, ms' },
  { key: 'speedIndexMs', name: 'Speed Index', number: true },
  { key: 'wireBytes', name: 'Bytes', number: true },
];
const PAGE_HEIGHT = 56;
const SITE_HEIGHT = 42;

/** All sites with their pages; only the rows in sight are drawn, however many there are. */
export function PageList({
  lines,
  order,
  onOrder,
  selectedId,
  chosen,
  onChooseAll,
  conditionsId,
  acts,
}: {
  lines: BoardLine[];
  order: BoardOrder;
  onOrder: (order: BoardOrder) => void;
  selectedId: number | undefined;
  chosen: ReadonlySet<number>;
  /** All that are shown, or none. */
  onChooseAll: (all: boolean) => void;
  conditionsId: string;
  acts: PageLineActs;
}) {
  const jobs = useJobs();
  const list = useRef<HTMLDivElement>(null);
  const [top, setTop] = useState(0);
  useLayoutEffect(() => setTop(list.current?.offsetTop ?? 0), []);
  const virtual = useWindowVirtualizer({
    count: lines.length,
    estimateSize: (index) => (lines[index]?.kind === 'site' ? SITE_HEIGHT : PAGE_HEIGHT),
    // A row that is gone takes its menu and its focus along: the next one is another.
    getItemKey: (index) => keyOfLine(lines[index]!),
    scrollMargin: top,
    // As the server sees it: the first rows stand in the document.
    initialRect: { width: 1_280, height: 800 },
    overscan: 12,
  });
  const selected = lines.findIndex((line) => line.kind === 'page' && line.row.id === selectedId);
  useInSight(virtual, selected, selectedId);
  const most = scaleEnd(lines);
  const lastJob = lastJobs(jobs);

  return (
    <div role="table" aria-label="Pages" aria-rowcount={lines.length + 1}>
      <Heads
        most={most}
        order={order}
        onOrder={onOrder}
        isAllChosen={lines.every((line) => line.kind === 'site' || chosen.has(line.row.id))}
        onChooseAll={onChooseAll}
      />
      <div ref={list} role="rowgroup" style={{ height: virtual.getTotalSize(), position: 'relative' }}>
        {virtual.getVirtualItems().map((item) => {
          const line = lines[item.index];
          if (!line) return null;
          const style = placeOf(item.size, item.start - top);
          return line.kind === 'site' ? (
            <SiteLine key={item.key} line={line} style={style} onName={acts.onName} />
          ) : (
            <PageLine
              key={item.key}
              row={line.row}
              job={lastJob.get(line.row.id)}
              most={most}
              selected={line.row.id === selectedId}
              chosen={chosen.has(line.row.id)}
              movable={order.sort === 'importance'}
              conditionsId={conditionsId}
              style={style}
              acts={acts}
            />
          );
        })}
      </div>
    </div>
  );
}

const placeOf = (height: number, top: number): React.CSSProperties => ({
  position: 'absolute',
  inset: '0 0 auto',
  height,
  transform: `translateY(${top}px)`,
});

/** Scrolls to the page that is chosen: who has scrolled before the script came, or comes back, stays where they are. */
function useInSight(
  virtual: Virtualizer<Window, Element>,
  selected: number,
  selectedId: number | undefined,
): void {
  const shownId = useRef(selectedId);
  useEffect(() => {
    const before = shownId.current;
    shownId.current = selectedId;
    if (before !== undefined && before !== selectedId && selected >= 0)
      virtual.scrollToIndex(selected, { align: 'auto' });
  }, [selected, selectedId, virtual]);
}

/** Left of it the column's name stands, as a share of its width. */
const NAME_ENDS = 0.3;

/** The scale of the paints below, at the times that there is room for. */
function Scale({ most }: { most: number }) {
  return (
    <span className="board-scale" aria-hidden>
      {axisTicks(most, 4)
        .filter((at) => at / most > NAME_ENDS && at / most < 0.97)
        .map((at) => (
          <i key={at} style={{ left: `${(100 * at) / most}%` }}>
            {count(at)}
          </i>
        ))}
    </span>
  );
}

/** The columns' heads: pressed, they sort. @param most ms, where the scale of the paints ends */
function Heads({
  order,
  most,
  onOrder,
  isAllChosen,
  onChooseAll,
}: {
  order: BoardOrder;
  most: number;
  onOrder: (order: BoardOrder) => void;
  isAllChosen: boolean;
  onChooseAll: (all: boolean) => void;
}) {
  const sorter = (key: SortKey, name: string) => (
    <button
      type="button"
      className="sorter"
      onClick={() => onOrder({ ...order, sort: key, descending: order.sort === key && !order.descending })}
    >
      {name}
      {order.sort === key ? (order.descending ? ' ↓' : ' ↑') : ''}
    </button>
  );
  const sorted = (key: SortKey) =>
    order.sort === key ? (order.descending ? 'descending' : 'ascending') : undefined;
  return (
    <div role="row" className="board-row head">
      <span role="columnheader">
        <input
          type="checkbox"
          className="board-choose"
          aria-label="Choose all that are shown"
          checked={isAllChosen}
          onChange={() => onChooseAll(!isAllChosen)}
        />
      </span>
      <span role="columnheader" className="board-picture">
        <span className="visually-hidden">Picture</span>
      </span>
      {HEADS.map((head) => (
        <span
          key={head.key}
          role="columnheader"
          className={head.number ? 'number' : ''}
          aria-sort={sorted(head.key)}
        >
          {sorter(head.key, head.name)}
          {head.key === 'paintMs' ? <Scale most={most} /> : null}
        </span>
      ))}
      <span role="columnheader" className="board-held">
        It waited for
      </span>
      <span role="columnheader" aria-sort={sorted('measuredAt')}>
        {sorter('measuredAt', 'State, and what is next')}
      </span>
      <span role="columnheader">
        <span className="visually-hidden">What to do</span>
      </span>
    </div>
  );
}
