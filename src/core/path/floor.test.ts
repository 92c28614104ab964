import { describe, expect, it } from 'vitest';
import { findConditions } from '../measure/conditions.ts';
import { floorAmong, floorOf, transferMs } from './floor.ts';
import { neededFor, ownTimeOf } from './main-thread.ts';

const conditions = { ...findConditions('slow-phone')!, roundTripMs: 100, downKbps: 1_500 };
const input = {
  conditions,
  secure: true,
  redirectMs: 0,
  serverMs: 40,
  htmlBytes: 1_460,
  foldBytes: 2_920,
  parseMs: 25,
  workMs: 35,
  ownTime: { beginMs: 54, toScreenMs: 20 },
  earliestMs: null,
};

describe('the floor', () => {
  it('is what no treatment can take away, item by item', () => {
    const floor = floorOf(input);
    // 3 packets of 1,500 bytes at 1,500 kbps take 8 ms each.
    expect(floor.lines.map((line) => [line.label, Math.round(line.ms)])).toEqual([
      ['connecting', 200],
      ['the server answering', 140],
      ['the bytes that any paint needs', 24],
      ['taking the page over and parsing it', 55],
      ['style, layout and paint', 35],
      ['onto the screen', 20],
    ]);
    expect(floor.measured).toBe(false);
    expect(floor.atMs).toBeCloseTo(474, 6);
    expect(floorOf({ ...input, secure: false }).atMs).toBeCloseTo(374, 6);
    expect(floorOf({ ...input, redirectMs: 300 }).atMs).toBeCloseTo(774, 6);
  });

  it('counts the browser’s own work and parsing only as far as the bytes do not take as long', () => {
    const slow = { ...input, htmlBytes: 60_000 };
    const line = floorOf(slow).lines.find((one) => one.label === 'taking the page over and parsing it')!;
    expect(line.ms).toBe(0);
  });

  it('is never later than anything that was measured', () => {
    const measured = floorOf({ ...input, earliestMs: 400 });
    expect(measured).toMatchObject({ atMs: 400, measured: true });
    expect(measured.lines.at(-1)).toMatchObject({ label: 'measured earlier than that' });
    expect(measured.lines.reduce((sum, line) => sum + line.ms, 0)).toBeCloseTo(400, 6);
    expect(floorOf({ ...input, earliestMs: 900 })).toMatchObject({ measured: false });
  });
});

describe('the floor of several runs', () => {
  const among = (...all: number[]) =>
    floorAmong(all.map((atMs) => ({ atMs, lines: [], measured: false })))?.atMs;

  it('is the median of theirs, so that a run gone wrong does not move it; of two the earlier', () => {
    expect(among(1_200, 2_100, 1_140, 1_190, 1_120)).toBe(1_190);
    expect(among(1_200, 9_900, 1_140, 1_190, 1_120)).toBe(1_190);
    expect(among(900, 800)).toBe(800);
    expect(among(900)).toBe(900);
    expect(among()).toBeUndefined();
  });
});

describe('transferMs', () => {
  it('waits a round trip for each window that the line could have emptied sooner', () => {
    // The first window, 14,600 bytes, takes 78 ms at 1,500 kbps: 22 ms short of the round trip.
    const line = (bytes: number) => (bytes * (1_500 / 1_460) * 8) / 1_500;
    expect(transferMs(14_600, conditions)).toBeCloseTo(line(14_600), 3);
    expect(transferMs(14_601, conditions) - line(14_601)).toBeCloseTo(100 - (14_600 * 8) / 1_500, 3);
  });
});

const work = (kind: Parameters<typeof ownTimeOf>[0][number]['kind'], startMs: number, endMs: number) => ({
  kind,
  url: null,
  startMs,
  endMs,
});

describe('the work that any paint needs', () => {
  const run = [
    work('parse-html', 100, 150),
    work('parse-css', 150, 250),
    work('evaluate', 250, 400),
    work('style', 400, 430),
    work('layout', 430, 460),
    work('task', 460, 500),
    work('paint', 500, 520),
  ];

  it('is style, layout and paint; of reading sheets the share of the fold CSS', () => {
    expect(neededFor(run, 0, 600, { sheets: 1, html: 1 })).toBe(180);
    expect(neededFor(run, 0, 600, { sheets: 0.1, html: 1 })).toBe(76.5);
    expect(neededFor(run, 0, 600, { sheets: 0, html: 1 })).toBe(65);
  });

  it('is less of matching and laying out where most of the page lies below the fold; painting stays', () => {
    // 100 of reading, 20 of painting; of 30 matched and 30 laid out three quarters.
    expect(neededFor(run, 0, 600, { sheets: 1, html: 0.5 })).toBe(165);
  });

  it('is only what lies between the two moments', () => {
    expect(neededFor(run, 200, 430, { sheets: 1, html: 1 })).toBe(80);
    expect(neededFor(run, 200, 430, { sheets: 0.5, html: 1 })).toBe(47.5);
  });
});

describe('the browser’s own time', () => {
  it('is its work before parsing, and the way from the last layout to the screen without painting', () => {
    const run = [
      work('parse-html', 10, 20),
      work('task', 110, 180),
      work('parse-html', 200, 240),
      work('layout', 240, 300),
      work('paint', 300, 320),
      work('task', 320, 350),
      work('layout', 380, 420),
    ];
    // The empty page before is parsed at 10; what is laid out after the paint at 360 is not for it.
    expect(ownTimeOf(run, 100, 360)).toEqual({ beginMs: 70, toScreenMs: 40 });
  });

  it('is no more than the time until the paint when nothing was ever parsed or laid out', () => {
    expect(ownTimeOf([work('task', 110, 180)], 100, 150)).toEqual({ beginMs: 40, toScreenMs: 0 });
  });
});
