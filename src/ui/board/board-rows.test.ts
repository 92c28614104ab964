import { describe, expect, it } from 'vitest';
import type { BoardRow, BoardView } from '@/usecases/board-view';
import { boardLines, familiesOf, type BoardOrder } from './board-rows.ts';

const row = (id: number, name: string, paintMs: number | null, family = ''): BoardRow => ({
  id,
  siteId: 1,
  name,
  url: `https://quay.test/${name.toLowerCase()}`,
  family,
  rank: id,
  paintMs,
  headline: 'firstPaintMs',
  caveats: [],
  speedIndexMs: null,
  largestContentfulPaintMs: null,
  wireBytes: null,
  measuredAt: null,
  tooBusy: false,
  trial: null,
});
const view: BoardView = {
  secondsEach: { measure: null, fold: null },
  sites: [
    {
      id: 1,
      name: 'Quay',
      origin: 'https://quay.test',
      seededAt: null,
      pages: [
        row(1, 'Home', 900),
        row(2, 'Gales', null, 'news'),
        row(3, 'Booking', 2_100),
        row(4, 'Winter', 700, 'news'),
      ],
    },
  ],
};
const order: BoardOrder = { sort: 'importance', descending: false, find: '', family: null };
const names = (over: Partial<BoardOrder>) =>
  boardLines(view, { ...order, ...over }).flatMap((line) => (line.kind === 'page' ? [line.row.name] : []));

describe('boardLines', () => {
  it('keeps the order of importance unless told otherwise', () => {
    expect(names({})).toEqual(['Home', 'Gales', 'Booking', 'Winter']);
    expect(names({ sort: 'name' })).toEqual(['Booking', 'Gales', 'Home', 'Winter']);
  });

  it('sorts by a figure either way, and pages without one come last both times', () => {
    expect(names({ sort: 'paintMs' })).toEqual(['Winter', 'Home', 'Booking', 'Gales']);
    expect(names({ sort: 'paintMs', descending: true })).toEqual(['Booking', 'Home', 'Winter', 'Gales']);
  });

  it('shows one family, or what a word finds in name or address; a site with nothing left goes', () => {
    expect(names({ family: 'news' })).toEqual(['Gales', 'Winter']);
    expect(names({ find: 'BOOK' })).toEqual(['Booking']);
    expect(boardLines(view, { ...order, find: 'nowhere' })).toEqual([]);
    expect(familiesOf(view)).toEqual(['news']);
  });
});
