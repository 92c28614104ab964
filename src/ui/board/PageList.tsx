'use client';
import { useWindowVirtualizer, type Virtualizer } from '@tanstack/react-virtual';
import { useEffect, useLayoutEffect, useRef, useState } from 'react';
import type { Job } from '@/store/jobs';
import { count } from '@/core/path/words';
import { useJobs } from '../api';
import { axisTicks } from '../parts/shown-frames';
import type { Named } from '../NameDialog';
import { shownPaint, treatedPaint, type BoardLine, type BoardOrder, type SortKey } from './board-rows';
import { PageLine, SiteLine } from './BoardLines';

const HEADS: readonly { key: SortKey; name: string; number?: boolean }[] = [
  { key: 'name', name: 'Page' },
  { key: 'paintMs', name: 'First paint, ms' },
  { key: 'speedIndexMs', name: 'Speed Index', number: true },
  { key: 'wireBytes', name: 'Bytes', number: true },
  { key: 'measuredAt', name: 'State' },
];
const PAGE_HEIGHT = 47;
const SITE_HEIGHT = 42;

/** All sites with their pages; only the rows in sight are drawn, however many there are. */
export function PageList({
  lines,
  order,
  onOrder,
  selectedId,
  conditionsId,
  onName,
}: {
  lines: BoardLine[];
  order: BoardOrder;
  onOrder: (order: BoardOrder) => void;
  selectedId: number | undefined;
  conditionsId: string;
  onName: (named: Named) => void;
}) {
  const jobs = useJobs();
  const list = useRef<HTMLDivElement>(null);
  const [top, setTop] = useState(0);
  useLayoutEffect(() => setTop(list.current?.offsetTop ?? 0), []);
  const virtual = useWindowVirtualizer({
    count: lines.length,
    estimateSize: (index) => (lines[index]?.kind === 'site' ? SITE_HEIGHT : PAGE_HEIGHT),
    scrollMargin: top,
    // As the server sees it: the first rows stand in the document.
    initialRect: { width: 1_280, height: 800 },
    overscan: 12,
  });
  const selected = lines.findIndex((line) => line.kind === 'page' && line.row.id === selectedId);
  useInSight(virtual, selected, selectedId);
  const most =
    Math.max(
      1_000,
      ...lines.flatMap((line) =>
        line.kind === 'page' ? [shownPaint(line.row) ?? 0, treatedPaint(line.row) ?? 0] : [],
      ),
    ) * 1.5;
  const lastJob = new Map<number, Job>();
  // What runs is told, not what waits behind it.
  for (const job of jobs)
    if (job.pageId !== null && lastJob.get(job.pageId)?.state !== 'running') lastJob.set(job.pageId, job);

  return (
    <div role="table" aria-label="Pages" aria-rowcount={lines.length + 1} className="board">
      <Heads most={most} order={order} onOrder={onOrder} />
      <div ref={list} role="rowgroup" style={{ height: virtual.getTotalSize(), position: 'relative' }}>
        {virtual.getVirtualItems().map((item) => {
          const line = lines[item.index];
          if (!line) return null;
          const place = {
            position: 'absolute' as const,
            top: 0,
            left: 0,
            right: 0,
            height: item.size,
            transform: `translateY(${item.start - top}px)`,
          };
          return line.kind === 'site' ? (
            <SiteLine key={item.key} line={line} style={place} onName={onName} />
          ) : (
            <PageLine
              key={item.key}
              row={line.row}
              job={lastJob.get(line.row.id)}
              most={most}
              selected={line.row.id === selectedId}
              movable={order.sort === 'importance'}
              conditionsId={conditionsId}
              style={place}
              onName={onName}
            />
          );
        })}
      </div>
    </div>
  );
}

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
}: {
  order: BoardOrder;
  most: number;
  onOrder: (order: BoardOrder) => void;
}) {
  return (
    <div role="row" className="board-row head">
      {HEADS.map((head) => (
        <span
          key={head.key}
          role="columnheader"
          className={head.number ? 'number' : ''}
          aria-sort={order.sort === head.key ? (order.descending ? 'descending' : 'ascending') : undefined}
        >
          <button
            type="button"
            className="sorter"
            onClick={() =>
              onOrder({
                ...order,
                sort: head.key,
                descending: order.sort === head.key && !order.descending,
              })
            }
          >
            {head.name}
            {order.sort === head.key ? (order.descending ? ' ↓' : ' ↑') : ''}
          </button>
          {head.key === 'paintMs' ? <Scale most={most} /> : null}
        </span>
      ))}
      <span role="columnheader" className="number">
        <button
          type="button"
          className="sorter"
          onClick={() => onOrder({ ...order, sort: 'importance', descending: false })}
        >
          By importance
        </button>
      </span>
    </div>
  );
}
