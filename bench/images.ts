import { bytesOn, LAPTOP, PHONE } from '../src/core/images/lighter.ts';
import { CapturedPage } from '../src/core/page/captured-page.ts';
import { readPageAssets } from '../src/core/page/page-assets.ts';
import { loneRefusal } from '../src/core/treat/lone.ts';
import { sceneOf } from '../src/core/treat/scene.ts';
import { makeLighterImages } from '../src/engine/lighter/make-lighter-images.ts';
import { benchPages, type BenchPage } from './pages.ts';
import type { Finding } from './report.ts';

const kilobytes = (bytes: number) => (bytes / 1_000).toFixed(1);

/** Lighter images of the demo home and of four general templates: what they save, where they are refused, how long they take. */
export async function imagesBench(): Promise<Finding> {
  const rows: Finding['rows'] = [];
  for (const page of benchPages()) rows.push(await rowOf(page));
  return {
    title: 'Lighter images per page',
    about:
      'Images in the markup of 4 KB and more, made lighter: bytes as authored, on a phone (390 px wide, two pixels to a CSS pixel) and on a laptop (1440 px, one). The least likeness is the structural similarity to the original at the quality chosen.',
    columns: [
      'page',
      'images',
      'made lighter',
      'as authored, KB',
      'phone, KB',
      'laptop, KB',
      'least likeness',
      'refused',
      'seconds',
    ],
    rows,
  };
}

async function rowOf({ name, capture, bodies }: BenchPage): Promise<(string | number)[]> {
  const began = performance.now();
  const { lighter, bodies: made } = await makeLighterImages({ capture, bodies, state: null });
  const seconds = (performance.now() - began) / 1_000;
  const { images, stay } = lighter;
  const page = new CapturedPage(
    { ...capture, lighter: { ...lighter, fonts: [], fontsStay: [], embeds: [] } },
    new Map([...bodies, ...made]),
  );
  const scene = sceneOf(readPageAssets(page, []), null);
  const refused = images.filter(({ url }) => loneRefusal(scene, 'image-file', { url }, 'lighter') !== null);
  const sum = (bytesOf: (image: (typeof images)[number]) => number) =>
    kilobytes(images.reduce((all, one) => all + bytesOf(one), 0));
  const likeness = images.flatMap(({ chosen }) => chosen.map((one) => one.likeness));
  return [
    name,
    images.length + stay.length,
    images.length,
    sum(({ bytes }) => bytes),
    sum((one) => bytesOn(one, PHONE.width, PHONE.density)),
    sum((one) => bytesOn(one, LAPTOP.width, LAPTOP.density)),
    likeness.length ? Math.min(...likeness).toFixed(3) : '–',
    refused.length,
    seconds.toFixed(0),
  ];
}
