import type { Conditions } from '../src/core/measure/conditions.ts';
import { BUILT_IN_CONDITIONS, findConditions } from '../src/core/measure/conditions.ts';
import { median } from '../src/core/measure/metrics.ts';
import type { Yardstick } from '../src/core/measure/yardstick.ts';
import { headlineOf, headlineOfSpreads, type HeadlineKey } from '../src/core/measure/headline.ts';
import type { RunObservation } from '../src/core/measure/run.ts';
import type { MapAsset } from '../src/core/path/map.ts';
import type { PrepareTarget } from '../src/engine/chromium/visit.ts';
import type { FoldResult } from '../src/engine/fold/fold-result.ts';
import { generateFold } from '../src/engine/fold/generate-fold.ts';
import { mapPage } from '../src/core/path/map-page.ts';
import { measureCapture } from '../src/engine/lab/measure-capture.ts';
import { AS_IS } from '../src/core/trial/arms.ts';
import type { ArmFiles } from '../src/engine/replay/messages.ts';
import { idealPage } from '../src/core/treat/ideal-page.ts';
import { CapturedPage } from '../src/core/page/captured-page.ts';
import { readPageAssets } from '../src/core/page/page-assets.ts';
import { benchPages, type BenchPage } from './pages.ts';
import { whileReplayed } from './replayed.ts';
import type { Finding } from './report.ts';

const ROUNDS = 7;
const AS_IS_A_ROUND = 3;
const FLOOR_ROUNDS = 9;
const LARGEST = 10;
const MAPPING_RUNS = 5;
const AS_IS_ARM: ArmFiles = { name: AS_IS, overrides: [] };

/** Maps a page by the median of a few runs, without knowing of any variant measured before. */
async function mapped(page: BenchPage, conditions: Conditions) {
  const { capture, bodies } = page;
  const measurement = await measureCapture({
    capture,
    bodies,
    state: null,
    conditions,
    runs: MAPPING_RUNS,
    returnVisits: false,
    yardstick: null,
  });
  const run = measurement.runs[measurement.medianRun]!;
  const headline = headlineOfSpreads(measurement.spreads);
  const assets = readPageAssets(new CapturedPage(capture, bodies), run.requests);
  return {
    ...mapPage({
      assets,
      run,
      runs: measurement.runs,
      conditions,
      fold: null,
      headline,
      earliestMs: null,
    }),
    headline,
    yardstick: measurement.yardstick,
  };
}

export const gainOnPhone = () => gainBench(findConditions('slow-phone')!);
/** The same where the processor is not slowed, so that loads differ less by chance. */
export const gainOnLaptop = () => gainBench(findConditions('home-laptop')!);

/** What the map says removing an asset would gain, against loads in which it is answered empty at once. */
async function gainBench(conditions: Conditions): Promise<Finding> {
  const rows: Finding['rows'] = [];
  for (const page of benchPages(1)) {
    const { map, headline, yardstick } = await mapped(page, conditions);
    const largest = map.assets
      .filter((asset) => asset.gainMs !== null && asset.hold !== 'after' && asset.kind !== 'document')
      .sort((a, b) => b.wireBytes - a.wireBytes)
      .slice(0, LARGEST);
    const paints = await paintsWithout(page, conditions, { yardstick, headline }, largest);
    for (const asset of largest) rows.push(gainRow(page.name, asset, paints));
  }
  return {
    title: `Gain if removed, ${conditions.id}`,
    about: `The map’s stated gain of the ${LARGEST} largest early assets, against loads with that asset answered empty at once, before the network (${ROUNDS} rounds in any order, as is ${AS_IS_A_ROUND} times in each; means of the middle half, with their standard error). To reach: within max(20 %, 60 ms).`,
    columns: [
      'page',
      'asset',
      'hold',
      'stated, ms',
      'measured, ms',
      'give or take, ms',
      'off by, ms',
      'within',
    ],
    rows,
  };
}

/** Paints as is (under '') and without each asset: of the page's headline. */
function paintsWithout(
  page: BenchPage,
  conditions: Conditions,
  { yardstick, headline }: { yardstick: Yardstick; headline: HeadlineKey },
  assets: readonly MapAsset[],
): Promise<Map<string, number[]>> {
  const request = { ...page, conditions, yardstick, arms: [AS_IS_ARM] };
  return whileReplayed(request, async ({ load }) => {
    const paints = new Map<string, number[]>();
    for (const url of ['', ...assets.map((asset) => asset.url)]) paints.set(url, []);
    const round = [...Array.from({ length: AS_IS_A_ROUND }, () => ''), ...assets.map(({ url }) => url)];
    for (let count = 0; count < ROUNDS; count++)
      for (const url of inAnyOrder(round))
        paints.get(url)!.push((await load(AS_IS, emptyAtOnce(page, url))).metrics[headline] ?? NaN);
    return paints;
  });
}

/** Answers one address with nothing before the network is asked; the same is in the way of every other load. */
function emptyAtOnce({ capture }: BenchPage, url: string): PrepareTarget {
  const type = capture.exchanges.find((one) => one.url === url)?.mimeType ?? '';
  return async (session) => {
    session.on('Fetch.requestPaused', ({ requestId }) => {
      const responseHeaders = [
        { name: 'content-type', value: type },
        { name: 'access-control-allow-origin', value: '*' },
      ];
      // The page may be gone meanwhile.
      session
        .send('Fetch.fulfillRequest', { requestId, responseCode: 200, responseHeaders, body: '' })
        .catch(() => undefined);
    });
    const urlPattern = (url || 'https://nothing.invalid/').replace(/[*?\\]/g, (sign) => `\\${sign}`);
    await session.send('Fetch.enable', { patterns: [{ urlPattern }] });
  };
}

function inAnyOrder<T>(list: readonly T[]): T[] {
  return list
    .map((one) => ({ one, at: Math.random() }))
    .sort((a, b) => a.at - b.at)
    .map(({ one }) => one);
}

function gainRow(page: string, asset: MapAsset, paints: Map<string, number[]>): (string | number)[] {
  const [asIs, without] = [middleMean(paints.get('')!), middleMean(paints.get(asset.url)!)];
  const measured = asIs.mean - without.mean;
  const off = asset.gainMs! - measured;
  const within = Math.abs(off) <= Math.max(60, 0.2 * Math.abs(measured));
  return [
    page,
    asset.name,
    asset.hold,
    Math.round(asset.gainMs!),
    Math.round(measured),
    Math.round(Math.hypot(asIs.error, without.error)),
    Math.round(off),
    within ? 'yes' : 'no',
  ];
}

/** Mean of the middle half, and its standard error (Tukey and McLaughlin 1963: from the winsorised variance). */
function middleMean(values: readonly number[]): { mean: number; error: number } {
  const sorted = [...values].sort((a, b) => a - b);
  const cut = Math.floor(sorted.length / 4);
  const middle = sorted.slice(cut, sorted.length - cut);
  const mean = middle.reduce((sum, one) => sum + one, 0) / middle.length;
  const winsorised = sorted.map((one) => Math.min(Math.max(one, middle[0]!), middle.at(-1)!));
  const centre = winsorised.reduce((sum, one) => sum + one, 0) / winsorised.length;
  const squares = winsorised.reduce((sum, one) => sum + (one - centre) ** 2, 0);
  return { mean, error: Math.sqrt(squares / (middle.length * (middle.length - 1))) };
}

/** The floor against an ideal page: the fold CSS inline, and nothing else asked for before paint. */
export async function floorBench(): Promise<Finding> {
  const rows: Finding['rows'] = [];
  for (const page of benchPages(1)) {
    const fold = await generateFold({ capture: page.capture, bodies: page.bodies, state: null });
    for (const conditions of BUILT_IN_CONDITIONS) rows.push(await floorRow(page, conditions, fold));
  }
  return {
    title: 'Floor',
    about: `The stated floor against a replayed ideal page: its HTML with the fold CSS inline, without scripts, sheets, fonts, pictures and embeds, loaded in turns with the page as it is, in any order (medians of ${FLOOR_ROUNDS}; of the ideal page its first contentful paint, since its first paint is now and then that of an empty background, and its least and greatest). To reach: within 15 %.`,
    columns: ['page', 'conditions', 'floor, ms', 'ideal page, ms', 'least', 'greatest', 'floor later by'],
    rows,
  };
}

async function floorRow(
  page: BenchPage,
  conditions: Conditions,
  fold: FoldResult,
): Promise<(string | number)[]> {
  const { capture, bodies } = page;
  const captured = new CapturedPage(capture, bodies);
  const body = idealPage(captured, fold.css);
  const ideal: ArmFiles = {
    name: 'ideal',
    overrides: [{ url: capture.documentUrl, mimeType: 'text/html', body, isNew: false }],
  };
  const runs: RunObservation[] = [];
  const paints: number[] = [];
  await whileReplayed(
    { ...page, conditions, yardstick: null, arms: [AS_IS_ARM, ideal] },
    async ({ load }) => {
      for (let round = 0; round < FLOOR_ROUNDS; round++)
        for (const { name } of inAnyOrder([AS_IS_ARM, ideal])) {
          const run = await load(name);
          if (name === AS_IS) runs.push(run);
          else paints.push(run.metrics.firstContentfulPaintMs ?? NaN);
        }
    },
  );
  const [run] = runs;
  const assets = readPageAssets(captured, run!.requests);
  const headline = headlineOf(runs.map((one) => one.metrics));
  const request = { assets, run: run!, runs, conditions, fold, headline, earliestMs: null };
  const { floor } = mapPage(request);
  const [stated, measured] = [floor!.atMs, median(paints)!];
  return [
    page.name,
    conditions.id,
    Math.round(stated),
    Math.round(measured),
    Math.round(Math.min(...paints)),
    Math.round(Math.max(...paints)),
    `${(100 * (stated / measured - 1)).toFixed(1)} %`,
  ];
}
