import { readEmbeds } from '../src/core/embeds/page-embeds.ts';
import { fontsToCut } from '../src/core/fonts/page-fonts.ts';
import { bytesNow, bytesOn, LAPTOP, PHONE } from '../src/core/images/lighter.ts';
import type { LighterFiles } from '../src/core/measure/lighter-files.ts';
import { CapturedPage } from '../src/core/page/captured-page.ts';
import { readPageAssets } from '../src/core/page/page-assets.ts';
import { broughtBy } from '../src/core/path/brought-by.ts';
import { loneRefusal } from '../src/core/treat/lone.ts';
import { sceneOf } from '../src/core/treat/scene.ts';
import { makeLighterFiles } from '../src/engine/lighter/make-lighter-files.ts';
import { benchPages, type BenchPage } from './pages.ts';
import type { Finding } from './report.ts';

type Row = (string | number)[];

const kilobytes = (bytes: number) => (bytes / 1_000).toFixed(1);
const sum = (numbers: readonly number[]) => numbers.reduce((all, one) => all + one, 0);

/** Lighter files of the demo home and of four general templates: what they save, where they are refused, how long they take. */
export async function lighterBench(): Promise<Finding> {
  const rows: Finding['rows'] = [];
  for (const page of benchPages()) rows.push(...(await rowsOf(page)));
  return {
    title: 'Lighter files per page',
    about: `Images of 4 KB and more, written anew: their bytes on a phone (${PHONE.width} px wide, ${PHONE.density} pixels to a CSS pixel) and on a laptop (${LAPTOP.width} px, ${LAPTOP.density}), and the least structural similarity to the original at the quality chosen. Fonts of 8 KB and more with the signs that this page shows and a safe range; the file itself stays for all others. Embeds until they are pressed: what they and all that they ask for came to in the measured run, and the picture in their place. Refused: made, and not in the plan for a reason of the page’s.`,
    columns: [
      'page',
      'what',
      'on it',
      'made',
      'as authored, KB: phone',
      'laptop',
      'made, KB: phone',
      'laptop',
      'least likeness',
      'refused',
      'seconds',
    ],
    rows,
  };
}

async function rowsOf(bench: BenchPage): Promise<Row[]> {
  const { name, capture, bodies } = bench;
  const began = performance.now();
  const { lighter, bodies: made } = await makeLighterFiles({ capture, bodies, state: null, others: [] });
  const seconds = ((performance.now() - began) / 1_000).toFixed(0);
  const page = new CapturedPage({ ...capture, lighter }, new Map([...bodies, ...made]));
  const scene = sceneOf(readPageAssets(page, bench.requests), null);
  const refused = (kind: 'image-file' | 'font-file' | 'embed', treatment: string, urls: readonly string[]) =>
    urls.filter((url) => loneRefusal(scene, kind, { url }, treatment) !== null).length;
  const urlsOf = (files: readonly { url: string }[]) => files.map(({ url }) => url);
  return [
    [
      name,
      'images',
      ...imageCells(lighter),
      refused('image-file', 'lighter', urlsOf(lighter.images)),
      seconds,
    ],
    [name, 'fonts', ...fontCells(page, lighter), refused('font-file', 'subset', urlsOf(lighter.fonts)), ''],
    [name, 'embeds', ...embedCells(bench, page), refused('embed', 'on-press', urlsOf(lighter.embeds)), ''],
  ];
}

function imageCells({ images, stay }: LighterFiles): Row {
  const at = (bytesAt: typeof bytesOn, { width, density }: typeof PHONE | typeof LAPTOP) =>
    kilobytes(sum(images.map((one) => bytesAt(one, width, density))));
  const likeness = images.flatMap(({ chosen }) => chosen.map((one) => one.likeness));
  return [
    images.length + stay.length,
    images.length,
    at(bytesNow, PHONE),
    at(bytesNow, LAPTOP),
    at(bytesOn, PHONE),
    at(bytesOn, LAPTOP),
    likeness.length ? Math.min(...likeness).toFixed(3) : '–',
  ];
}

function fontCells(page: CapturedPage, { fonts }: LighterFiles): Row {
  const before = kilobytes(sum(fonts.map(({ bytes }) => bytes)));
  const after = kilobytes(sum(fonts.map(({ smaller }) => smaller.bytes)));
  return [fontsToCut(page).length, fonts.length, before, before, after, after, '–'];
}

/** What came over the wire is that of the measured run, which has no embeds where nothing was measured. */
function embedCells({ requests }: BenchPage, page: CapturedPage): Row {
  const embeds = readEmbeds(page);
  const pictured = embeds.filter(({ picture }) => picture !== null);
  const theirs = new Set(pictured.flatMap(({ url }) => [url, ...broughtBy(requests, url)]));
  const before = kilobytes(
    sum(requests.filter(({ url }) => theirs.has(url)).map(({ wireBytes }) => wireBytes)),
  );
  const after = kilobytes(sum(pictured.map(({ picture }) => picture!.bytes)));
  return [embeds.length, pictured.length, before, before, after, after, '–'];
}
