import { afterAll, beforeAll, expect, it } from 'vitest';
import { behindVersions } from '../../src/core/images/lighter.ts';
import { readPageAssets } from '../../src/core/page/page-assets.ts';
import { applyPlan } from '../../src/core/treat/apply.ts';
import { bytesOfFile } from '../../src/core/treat/new-files.ts';
import { recommendPlan } from '../../src/core/treat/recommend.ts';
import { sceneOf } from '../../src/core/treat/scene.ts';
import { AS_AUTHORED, FoldStage } from '../../src/engine/fold/fold-stage.ts';
import { comparePictures } from '../../src/engine/fold/pictures.ts';
import type { LighterFiles } from '../../src/core/measure/lighter-files.ts';
import { makeLighterImages } from '../../src/engine/lighter/make-lighter-images.ts';
import { lighterAreas, takePicture } from '../../src/engine/load/picture.ts';
import { madeCapture, type MadeFile } from './made-capture.ts';
import { photo } from './made-photo.ts';

const PAGE = 'https://quay.test/';
const SHEET = `header{background:#123 url(sea.jpg) center/cover;height:300px}
.tiles{background-image:url('tile.jpg');height:220px}
.badge::before{content:"";display:block;width:120px;height:90px;background:url(badge.jpg) no-repeat 0 0/contain}`;
const HTML = `<!doctype html><meta name="viewport" content="width=device-width"><link rel="stylesheet" href="site.css">
<style>body{margin:0;font:16px sans-serif}</style><header>Quay</header><div class="tiles"></div><p class="badge">The isle</p>
<section style="height:200px; background:url('pier.jpg') 50% 50% / cover; color:#fff">The pier</section>`;

let lighter: LighterFiles;
let stage: FoldStage;
let treatedArm: string;

beforeAll(async () => {
  const image = async (width: number, height: number): Promise<MadeFile> => ({
    body: await photo(width, height).jpeg({ quality: 92 }).toBuffer(),
    type: 'image/jpeg',
    kind: 'image',
  });
  const made = madeCapture({
    [PAGE]: { body: HTML, type: 'text/html', kind: 'document' },
    [`${PAGE}site.css`]: { body: SHEET, type: 'text/css', kind: 'stylesheet' },
    [`${PAGE}sea.jpg`]: await image(2_400, 1_200),
    [`${PAGE}tile.jpg`]: await image(300, 200),
    [`${PAGE}badge.jpg`]: await image(900, 600),
    [`${PAGE}pier.jpg`]: await image(2_000, 700),
  });
  const backgrounds = ['sea', 'tile', 'badge', 'pier'].map((name) => ({
    element: 'header',
    url: `${PAGE}${name}.jpg`,
  }));
  const seen = { ...made.capture, observations: { ...made.capture.observations, backgrounds } };
  const came = await makeLighterImages({ capture: seen, bodies: made.bodies, state: null });
  lighter = { ...came.lighter, fonts: [], fontsStay: [], embeds: [] };
  stage = await FoldStage.open({ ...seen, lighter }, new Map([...made.bodies, ...came.bodies]), null);
  const scene = sceneOf(readPageAssets(stage.page, []), null);
  const plan = recommendPlan(scene);
  const rules = plan.rules.filter((one) => one.kind === 'image-file');
  const { html, files, notApplied } = applyPlan(scene, { ...plan, rules });
  expect([rules.length, notApplied]).toEqual([4, []]);
  treatedArm = await stage.addVariant(
    'treated',
    [{ start: 0, end: stage.document.bytes.length, text: new TextDecoder().decode(html) }],
    files.map(({ url, mimeType, isNew, content }) => ({
      url,
      mimeType,
      body: bytesOfFile({ content }),
      isNew,
    })),
  );
});
afterAll(() => stage.close());

it('finds how large files stand behind elements, where they go by their own size too', () => {
  const needs = Object.fromEntries(
    lighter.images.map(({ url, needs }) => [
      url.slice(PAGE.length),
      needs.map(({ viewportWidth, width }) => [viewportWidth, Math.round(width)]),
    ]),
  );
  // 300 px high and twice as wide as high, it is drawn 600 px wide on a phone.
  expect(needs['sea.jpg']!.filter(([at]) => at === 390 || at === 1_920)).toEqual([
    [390, 600],
    [1_920, 1_920],
  ]);
  expect(new Set(needs['tile.jpg']!.map(([, width]) => width))).toEqual(new Set([300]));
  expect(new Set(needs['badge.jpg']!.map(([, width]) => width))).toEqual(new Set([120]));
  const { wide, narrow } = behindVersions(
    lighter.images.find(({ url }) => url.endsWith('sea.jpg'))!,
    'avif',
  );
  expect(wide!.width).toBe(2_400);
  expect(narrow!.bytes).toBeLessThan(wide!.bytes * 0.8);
});

it.each([
  { width: 390, height: 844, sea: 1_714 },
  { width: 1_440, height: 900, sea: 2_400 },
])('shows the same page from lighter files alone at $width px', async ({ sea, ...viewport }) => {
  const look = (arm: string) =>
    stage.visit(arm, viewport, async (visit) => {
      await visit.inPage.call('scrollThrough');
      const picture = await takePicture(visit);
      const boxes = await visit.inPage.call('seenElements');
      const asked = await visit.page.evaluate(() =>
        performance
          .getEntriesByType('resource')
          .map(({ name }) => name.replace(/^.*\//, '').replace(/-[0-9a-f]{8}\./, '.')),
      );
      return { picture, boxes, asked, soft: await lighterAreas(visit, picture, 0) };
    });
  const authored = await look(AS_AUTHORED);
  const treated = await look(treatedArm);
  expect(authored.soft).toEqual([]);
  expect(treated.boxes).toEqual(authored.boxes);
  // Of the badge the lightest is a WebP.
  expect(treated.asked.filter((name) => /\.(avif|webp|jpg)$/.test(name)).sort()).toEqual([
    'badge-240.webp',
    'pier-2000.avif',
    `sea-${sea}.avif`,
    'tile-300.avif',
  ]);
  expect(treated.soft).toHaveLength(4);
  expect((await comparePictures(authored.picture, treated.picture, { soft: treated.soft })).share).toBe(0);
});
