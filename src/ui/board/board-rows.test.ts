import { describe, expect, it } from 'vitest';
import type { BoardRow, BoardView } from '@/usecases/board-view';
import {
  boardLines,
  deletionOfPages,
  familiesOf,
  lastJobs,
  nextStep,
  stateWords,
  type BoardOrder,
} from './board-rows.ts';

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
  pictureId: null,
  held: null,
  hasFold: false,
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

describe('a page’s state and next step', () => {
  const measured = { ...row(1, 'Home', 900), measuredAt: '2026-12-02T08:00:00Z' };
  const trial = {
    stale: [],
    verdict: 'earlier' as const,
    headline: 'firstPaintMs' as const,
    asIsMs: 900,
    treatedMs: 600,
    differenceMs: -290,
    worse: [],
  };
  const name = (over: Partial<BoardRow>, failed = false) => nextStep({ ...measured, ...over }, failed).name;

  it('leads from a page that nothing is known of to one that is handed off', () => {
    expect(name({ measuredAt: null })).toBe('Measure');
    expect(name({})).toBe('Make fold CSS');
    expect(name({ hasFold: true })).toBe('Prove');
    expect(name({ hasFold: true, trial })).toBe('Hand off');
  });

  it('tells of the trial, which says more than the measurement, also of a busy machine', () => {
    const words = (over: Partial<BoardRow>) => stateWords({ ...measured, ...over });
    expect(words({ measuredAt: null })).toBe('not measured');
    expect(words({})).toMatch(/^measured 2 Dec/);
    expect(words({ tooBusy: true })).toBe('measured on a busy machine');
    expect(words({ tooBusy: true, trial })).toBe('proved 290 ms earlier');
    expect(words({ tooBusy: true, trial: { ...trial, verdict: 'later' } })).toBe('trial: later');
    expect(words({ trial: { ...trial, stale: ['the plan was changed'] } })).toBe('trial out of date');
  });

  it('never hands off what broke, or what is not as it was proved', () => {
    expect(name({ trial: { ...trial, verdict: 'earlier, but it breaks' } })).toBe('See the trial');
    expect(name({ trial: { ...trial, stale: ['the plan was changed'] } })).toBe('Prove again');
    expect(name({ trial }, true)).toBe('See why');
  });
});

it('tells of what runs for a page, not of what waits behind it', () => {
  const job = (pageId: number, state: 'running' | 'waiting' | 'failed') => ({ pageId, state });
  const last = lastJobs([
    job(1, 'failed'),
    job(1, 'running'),
    job(1, 'waiting'),
    job(2, 'failed'),
    job(2, 'waiting'),
  ]);
  expect([last.get(1)!.state, last.get(2)!.state]).toEqual(['running', 'waiting']);
});

it('says what is deleted with one page, and with several', () => {
  const what = 'captures, measurements, fold CSS, plan and trials';
  expect(deletionOfPages([row(1, 'Home', 900)]).words).toBe(`Home is deleted, with ${what}`);
  const two = deletionOfPages([row(1, 'Home', 900), row(2, 'Gales', null)]);
  expect([two.words, two.keys, two.body]).toEqual([
    `2 pages are deleted, with ${what}`,
    ['pages/1', 'pages/2'],
    { pageIds: [1, 2] },
  ]);
});
