import { describe, expect, it } from 'vitest';
import { describeConditions, findConditions } from './conditions.ts';
import { median, medianRunIndex, summarise, type Metrics } from './metrics.ts';
import { blockingTime, readTrace, type TraceEvent } from './trace.ts';

const PAGE = 'https://quay.test/';

function event(over: Partial<TraceEvent> & { name: string; atMs: number }): TraceEvent {
  const { atMs, ...rest } = over;
  return { ph: 'R', pid: 1, tid: 1, ts: 1_000_000 + atMs * 1000, args: { frame: 'F' }, ...rest };
}

const navigation = event({
  name: 'navigationStart',
  atMs: 0,
  args: { frame: 'F', data: { documentLoaderURL: PAGE, isOutermostMainFrame: true } },
});

describe('readTrace', () => {
  it('reads paints, loading events and the last LCP candidate of the page’s own frame', () => {
    const figures = readTrace(
      [
        event({ name: 'firstPaint', atMs: 400, args: { frame: 'OTHER' } }),
        event({ name: 'firstPaint', atMs: 900 }),
        event({ name: 'firstContentfulPaint', atMs: 950 }),
        event({ name: 'domContentLoadedEventEnd', atMs: 10 }),
        event({ name: 'domContentLoadedEventEnd', atMs: 1_100 }),
        event({ name: 'loadEventEnd', atMs: 1_400 }),
        event({
          name: 'largestContentfulPaint::Candidate',
          atMs: 950,
          args: { frame: 'F', data: { nodeName: 'H1' } },
        }),
        event({
          name: 'largestContentfulPaint::Candidate',
          atMs: 1_300,
          args: { frame: 'F', data: { nodeName: 'IMG' } },
        }),
        navigation,
      ],
      PAGE,
    );
    expect(figures).toMatchObject({
      firstPaintMs: 900,
      firstContentfulPaintMs: 950,
      domReadyMs: 1_100,
      loadMs: 1_400,
      largestContentfulPaintMs: 1_300,
      lcpElement: 'IMG',
    });
  });

  it('is not taken in by what a page’s scripts mark under the names of the browser’s own events', () => {
    const marked = (name: string, atMs: number) =>
      event({ name, atMs, ph: 'I', cat: 'blink.user_timing', args: { data: {} } });
    const own = [
      navigation,
      event({ name: 'firstPaint', atMs: 900, cat: 'loading,rail,devtools.timeline' }),
      event({ name: 'firstContentfulPaint', atMs: 950, cat: 'loading,rail,devtools.timeline' }),
      event({ name: 'domContentLoadedEventEnd', atMs: 1_100, cat: 'blink.user_timing,rail' }),
      event({ name: 'loadEventEnd', atMs: 1_400, cat: 'blink.user_timing' }),
    ];
    const faked = [
      ...['firstPaint', 'firstContentfulPaint', 'LayoutShift', 'constructor', 'navigationStart'],
      ...['largestContentfulPaint::Candidate', 'Screenshot', 'RunTask'],
    ].map((name) => marked(name, 5));
    const late = ['domContentLoadedEventEnd', 'loadEventEnd'].map((name) => marked(name, 9_000));
    expect(readTrace([...own, ...faked, ...late], PAGE)).toEqual(readTrace(own, PAGE));
  });

  it('tells the image that the largest contentful paint is by what was drawn for its element', () => {
    const drawn = (atMs: number, nodeId: number, url: string) =>
      event({ name: 'PaintImage', ph: 'X', atMs, args: { data: { nodeId, url } } });
    const candidate = (type: string) =>
      event({
        name: 'largestContentfulPaint::Candidate',
        atMs: 900,
        args: { frame: 'F', data: { nodeName: 'HEADER', nodeId: 7, type } },
      });
    const events = [
      navigation,
      drawn(300, 7, 'data:image/svg+xml,x'),
      drawn(700, 7, `${PAGE}harbour.jpg`),
      drawn(800, 8, `${PAGE}other.jpg`),
      drawn(950, 7, `${PAGE}next.jpg`),
    ];
    expect(readTrace([...events, candidate('image')], PAGE).lcpUrl).toBe(`${PAGE}harbour.jpg`);
    expect(readTrace([...events, candidate('text')], PAGE).lcpUrl).toBeNull();
  });

  it('takes what the page’s renderer draws outside the main thread, and nobody else’s', () => {
    const off = (name: string, pid: number, tid: number, atMs: number) =>
      event({ name, ph: 'X', pid, tid, atMs, dur: 20_000 });
    const { work, longTasks } = readTrace(
      [
        navigation,
        off('ImageDecodeTask', 1, 9, 500),
        off('RasterTask', 1, 8, 530),
        off('RasterTask', 2, 8, 600),
        off('RunTask', 1, 8, 700),
      ],
      PAGE,
    );
    expect(work.map((one) => [one.kind, one.startMs, one.endMs])).toEqual([
      ['draw', 500, 520],
      ['draw', 530, 550],
    ]);
    expect(longTasks).toEqual([]);
  });

  it('sums layout shifts in sessions and takes the largest, those of frames within the page by their share', () => {
    const shift = (atMs: number, score: number, weighted = score) =>
      event({ name: 'LayoutShift', atMs, args: { data: { score, weighted_score_delta: weighted } } });
    const figures = readTrace(
      [navigation, shift(100, 0.1), shift(600, 0.5, 0.05), shift(3_000, 0.08), shift(9_000, 0.9)],
      PAGE,
      8_000,
    );
    expect(figures.cumulativeLayoutShift).toBeCloseTo(0.15);
  });

  it('counts long tasks after first contentful paint only, beyond 50 ms each', () => {
    const task = (atMs: number, ms: number) => event({ name: 'RunTask', ph: 'X', atMs, dur: ms * 1000 });
    const figures = readTrace(
      [
        navigation,
        event({ name: 'firstContentfulPaint', atMs: 500 }),
        task(100, 300),
        task(600, 120),
        task(800, 40),
      ],
      PAGE,
    );
    expect(figures.totalBlockingMs).toBe(70);
    // Over the whole load, what came before first content counts as well.
    expect(figures.wholeLoadBlockingMs).toBe(320);
    expect(figures.longTasks).toHaveLength(2);
  });

  it('counts nothing that came after the window', () => {
    const figures = readTrace([navigation, event({ name: 'firstPaint', atMs: 900 })], PAGE, 800);
    expect(figures.firstPaintMs).toBeNull();
  });

  it('says so when the page is not in the trace', () => {
    expect(() => readTrace([], PAGE)).toThrow(/no navigation/);
  });
});

it('counts of a task that spans first contentful paint only what came after', () => {
  expect(blockingTime([{ startMs: 400, endMs: 700 }], 500)).toBe(150);
});

describe('figures of several runs', () => {
  const run = (firstPaintMs: number | null) => ({ firstPaintMs }) as Metrics;

  it('gives median, least and greatest, and each run’s own', () => {
    expect(summarise([run(900), run(null), run(1_100)]).firstPaintMs).toEqual({
      median: 1_000,
      min: 900,
      max: 1_100,
      runs: [900, null, 1_100],
    });
    expect(summarise([run(null)]).firstPaintMs.median).toBeNull();
    expect(median([3, 1, 2])).toBe(2);
  });

  it('finds the run that stands for the others', () => {
    expect(medianRunIndex([run(1_200), run(900), run(1_000)], 'firstPaintMs')).toBe(2);
  });
});

it('says conditions in words', () => {
  expect(describeConditions(findConditions('slow-phone')!)).toBe(
    '390×844 · 180 ms · 1.4 Mbps · CPU at 20 % speed',
  );
  expect(findConditions('no-such')).toBeUndefined();
});
