import type { Conditions } from '../src/core/measure/conditions.ts';
import { findConditions } from '../src/core/measure/conditions.ts';
import { median } from '../src/core/measure/metrics.ts';
import type { MapAsset } from '../src/core/path/map.ts';
import { generateFold } from '../src/engine/fold/generate-fold.ts';
import { mapPage } from '../src/engine/map-page.ts';
import { measureCapture } from '../src/engine/measure-page.ts';
import type { ArmFiles } from '../src/engine/replay/messages.ts';
import { bodyOf } from '../src/engine/stored-page.ts';
import { pageAssetsOf } from '../src/engine/treat-page.ts';
import { benchPages, type BenchPage } from './pages.ts';
import { whileReplayed } from './replayed.ts';
import type { Finding } from './report.ts';

const slowPhone = findConditions('slow-phone')!;
const ROUNDS = 7;
const FLOOR_ROUNDS = 3;
const LARGEST = 10;
const MAPPING_RUNS = 3;

/** Maps a page by the median of a few runs, without knowing of any variant measured before. */
async function mapped(page: BenchPage, conditions: Conditions, fold: Parameters<typeof mapPage>[0]['fold']) {
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
  const assets = pageAssetsOf(capture, bodies, run.requests);
  return {
    ...mapPage({ capture, bodies, assets, run, conditions, fold, earliestMs: null }),
    yardstick: measurement.yardstick,
  };
}

/** First paints of several arms, in turns: one a round of each. The first load warms up and does not count. */
function firstPaints(
  page: BenchPage,
  conditions: Conditions,
  arms: ArmFiles[],
  rounds: number,
): Promise<Map<string, number[]>> {
  return whileReplayed(page, conditions, arms, async ({ firstPaint }) => {
    const paints = new Map<string, number[]>(arms.map((arm) => [arm.name, []]));
    await firstPaint(arms[0]!.name);
    for (let round = 0; round < rounds; round++)
      for (const { name } of arms) paints.get(name)!.push((await firstPaint(name)) ?? NaN);
    return paints;
  });
}

/** What the map says removing an asset would gain, against a replay in which it is answered empty at once. */
export async function gainBench(): Promise<Finding> {
  const rows: Finding['rows'] = [];
  for (const page of benchPages(1)) {
    const { map } = await mapped(page, slowPhone, null);
    const largest = map.assets
      .filter((asset) => asset.gainMs !== null && asset.hold !== 'after' && asset.kind !== 'document')
      .sort((a, b) => b.wireBytes - a.wireBytes)
      .slice(0, LARGEST);
    const arms: ArmFiles[] = [
      { name: 'as is', overrides: [] },
      ...largest.map((asset) => ({
        name: asset.url,
        overrides: [{ url: asset.url, mimeType: '', body: new Uint8Array(), isNew: false, serverMs: 0 }],
      })),
    ];
    const paints = await firstPaints(page, slowPhone, arms, ROUNDS);
    for (const asset of largest) rows.push(gainRow(page.name, asset, paints));
  }
  return {
    title: 'Gain if removed',
    about: `The map’s stated gain of the ${LARGEST} largest early assets, against replays with that asset answered empty at once (medians of ${ROUNDS} differences within a round, and by how much these typically differ from it; slow-phone). To reach: within max(20 %, 60 ms).`,
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

function gainRow(page: string, asset: MapAsset, paints: Map<string, number[]>): (string | number)[] {
  const without = paints.get(asset.url)!;
  const gains = paints.get('as is')!.map((asIs, round) => asIs - without[round]!);
  const measured = median(gains)!;
  const giveOrTake = median(gains.map((gain) => Math.abs(gain - measured)))!;
  const off = asset.gainMs! - measured;
  const within = Math.abs(off) <= Math.max(60, 0.2 * Math.abs(measured));
  return [
    page,
    asset.name,
    asset.hold,
    Math.round(asset.gainMs!),
    Math.round(measured),
    Math.round(giveOrTake),
    Math.round(off),
    within ? 'yes' : 'no',
  ];
}

/** The floor against an ideal page: the fold CSS inline, and nothing else asked for before paint. */
export async function floorBench(): Promise<Finding> {
  const rows: Finding['rows'] = [];
  for (const page of benchPages(1)) {
    const { capture, bodies } = page;
    const fold = await generateFold({ capture, bodies, state: null });
    for (const conditions of [slowPhone, findConditions('home-laptop')!]) {
      const { floor } = await mapped(page, conditions, fold);
      const body = idealPage(bodyOf(capture, bodies, capture.documentUrl)!, fold.css);
      const ideal: ArmFiles = {
        name: 'ideal',
        overrides: [{ url: capture.documentUrl, mimeType: 'text/html', body, isNew: false }],
      };
      const measured = median((await firstPaints(page, conditions, [ideal], FLOOR_ROUNDS)).get('ideal')!)!;
      const stated = floor!.atMs;
      rows.push([
        page.name,
        conditions.id,
        Math.round(stated),
        Math.round(measured),
        `${(100 * (stated / measured - 1)).toFixed(1)} %`,
      ]);
    }
  }
  return {
    title: 'Floor',
    about: `The stated floor against a replayed ideal page: its HTML with the fold CSS inline, without scripts, sheets, fonts, pictures and embeds (medians of ${FLOOR_ROUNDS}). To reach: within 15 %.`,
    columns: ['page', 'conditions', 'floor, ms', 'ideal page, ms', 'floor later by'],
    rows,
  };
}

/** The page with its fold CSS, asking for nothing. */
function idealPage(html: Uint8Array, foldCss: string): Uint8Array {
  const css = foldCss.replaceAll(/@font-face\s*\{[^}]*\}/g, '').replaceAll(/url\([^)]*\)/g, 'none');
  const text = Buffer.from(html)
    .toString('latin1')
    .replaceAll(/<script\b[\s\S]*?<\/script\s*>/gi, '')
    .replaceAll(/<(iframe|video|noscript)\b[\s\S]*?<\/\1\s*>/gi, '')
    .replaceAll(/<(link|img|source|base)\b[^>]*>/gi, '')
    .replace(/<\/head>/i, () => `<style>${css}</style></head>`);
  return Buffer.from(text, 'latin1');
}
