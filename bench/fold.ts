import { readFileSync } from 'node:fs';
import { flattenSheet } from '../src/core/css/flatten.ts';
import { makeFoldCss } from '../src/core/fold/fold-css.ts';
import { questionsOf } from '../src/core/fold/sheet-index.ts';
import type { Concern } from '../src/core/fold/declarations.ts';
import { generateFold } from '../src/engine/fold/generate-fold.ts';
import type { FoldResult } from '../src/engine/fold/fold-result.ts';
import { madeCapture } from '../tests/engine/made-capture.ts';
import { benchPages } from './pages.ts';
import type { Finding } from './report.ts';

const PAGE = 'https://bench.test/';

const kilobytes = (bytes: number) => (bytes / 1024).toFixed(1);
const median = (values: number[]) => values.sort((a, b) => a - b)[Math.floor(values.length / 2)]!;

/** Fold CSS of the demo home and of four general templates: its size, its proof, and what it takes. */
export async function foldBench(): Promise<Finding> {
  const rows: Finding['rows'] = [];
  for (const { name, capture, bodies } of benchPages())
    rows.push(rowOf(name, await generateFold({ capture, bodies, state: null })));
  return {
    title: 'Fold CSS per page',
    about:
      'At 390×844, 820×1180, 1440×900 and three widths between. To reach: at most 0.05 % of the pixels and no region over 16 px differ; at most 5 KB compressed on templates, 14 KB always, and 12 % of a general framework’s source; generation (asking the page and choosing, beyond loading it) at most 3 s. With the proofs, everything beyond waiting for loads takes what the last column says.',
    columns: [
      'page',
      'source, KB',
      'fold, KB',
      'compressed, KB',
      'of source',
      'worst pixels',
      'largest region',
      'proved',
      'asking and choosing, ms',
      'all beyond loading, ms',
    ],
    rows,
  };
}

function rowOf(name: string, fold: FoldResult): (string | number)[] {
  return [
    name,
    kilobytes(fold.sourceBytes),
    kilobytes(fold.foldBytes),
    kilobytes(fold.foldCompressedBytes),
    `${((100 * fold.foldCompressedBytes) / fold.sourceCompressedBytes).toFixed(1)} %`,
    `${(100 * Math.max(...fold.viewports.map((one) => one.differingPixelShare))).toFixed(3)} %`,
    Math.max(...fold.viewports.map((one) => one.largestRegionPixels)),
    fold.proved ? 'yes' : 'no',
    Math.round((fold.timings?.askingMs ?? 0) + (fold.timings?.choosingMs ?? 0)),
    Math.round(fold.timings?.beyondLoadingMs ?? 0),
  ];
}

/** Reading and choosing alone, and how they grow; and a sheet so large that it has to finish at all. */
export async function foldScalingBench(): Promise<Finding> {
  const framework = readFileSync('node_modules/bootstrap/dist/css/bootstrap.css', 'utf8');
  const text = (framework + framework).slice(0, framework.lastIndexOf('}', 300_000) + 1) + '}';
  const rows: Finding['rows'] = [];
  const alone = Array.from({ length: 7 }, () => readAndChoose(text));
  rows.push(['reading and choosing alone, 300 KB', '–', Math.round(median(alone)), 'at most 400']);
  let before: number | null = null;
  for (const [rules, elements] of [
    [1_000, 250],
    [2_000, 500],
    [4_000, 1_000],
    [8_000, 2_000],
  ] as const) {
    const { timings } = await generateFold({
      ...synthetic(rules, elements),
      state: null,
      viewports: [{ width: 390, height: 844 }],
    });
    const took = timings!.askingMs + timings!.choosingMs;
    const each = (1e6 * took) / (rules * elements);
    rows.push([
      `${rules} rules, ${elements} elements`,
      `${each.toFixed(1)} ns a pair`,
      Math.round(took),
      before === null ? '–' : `${(each / before).toFixed(2)} times the pair before (at most 1 is linear)`,
    ]);
    before = each;
  }
  const large = await generateFold({ ...synthetic(12_000, 400, 90), state: null });
  rows.push([
    `12,000 rules, ${kilobytes(large.sourceBytes)} KB, three viewports`,
    large.proved ? 'proved' : 'not proved',
    Math.round(large.timings!.totalMs),
    'at most 30,000, loads and proofs included',
  ]);
  return {
    title: 'Fold CSS: growth',
    about: 'Reading, asking and choosing over rules times elements; a very large sheet.',
    columns: ['what', 'each', 'ms', 'to reach'],
    rows,
  };
}

function readAndChoose(css: string): number {
  const started = performance.now();
  const sheet = flattenSheet(`${PAGE}a.css`, () => css, PAGE)!;
  const { matchKeys, media } = questionsOf([sheet]);
  const concerns = new Map(
    matchKeys.filter((_key, index) => index % 12 === 0).map((key): [string, Concern] => [key, 'painted']),
  );
  makeFoldCss({
    sheets: [sheet],
    unsure: new Set(),
    answers: { concerns, neededBy: new Map(), rejected: new Set(), liveMedia: new Set(media) },
    elementsOf: null,
    outside: { css: '', faces: [] },
    decisions: [],
    documentUrl: PAGE,
  });
  return performance.now() - started;
}

/** A page whose elements each have a class of their own, and a sheet with rules for some of them. */
function synthetic(rules: number, elements: number, padding = 0) {
  const body = Array.from({ length: elements }, (_one, index) => `<i class="e${index} g${index % 37}">x</i>`);
  const css = Array.from(
    { length: rules },
    (_one, index) =>
      `.e${index}, .g${index % 37} > .c${index}:first-child{color:#${(index % 4096).toString(16).padStart(3, '0')};margin:${index % 5}px;${padding ? `font-family:${'x'.repeat(padding)};` : ''}}`,
  );
  return madeCapture({
    [PAGE]: {
      body: `<!DOCTYPE html><link rel="stylesheet" href="/a.css"><body>${body.join('\n')}`,
      type: 'text/html',
      kind: 'document',
    },
    [`${PAGE}a.css`]: { body: css.join('\n'), type: 'text/css', kind: 'stylesheet' },
  });
}
