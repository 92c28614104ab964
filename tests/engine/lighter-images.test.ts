import sharp from 'sharp';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { formatsOf } from '../../src/core/images/lighter.ts';
import type { Capture } from '../../src/core/measure/exchange.ts';
import { readPageAssets } from '../../src/core/page/page-assets.ts';
import { applyPlan } from '../../src/core/treat/apply.ts';
import { bytesOfFile } from '../../src/core/treat/new-files.ts';
import { recommendPlan } from '../../src/core/treat/recommend.ts';
import { sceneOf } from '../../src/core/treat/scene.ts';
import { AS_AUTHORED, FoldStage } from '../../src/engine/fold/fold-stage.ts';
import { comparePictures } from '../../src/engine/fold/pictures.ts';
import { takePicture } from '../../src/engine/load/picture.ts';
import type { LighterFiles } from '../../src/core/measure/lighter-files.ts';
import { makeLighterImages } from '../../src/engine/lighter/make-lighter-images.ts';
import { rolesOf } from '../../src/engine/rehearse/look.ts';
import { madeCapture, type MadeFile } from './made-capture.ts';
import { photo } from './made-photo.ts';

const PAGE = 'https://quay.test/';

/** The first part of a file, as a server gives it that goes away. */
const damaged = (whole: Buffer) => whole.subarray(0, Math.floor(whole.length / 3));

/** A PNG that says that it is animated: the block right behind its header (PNG 3, "acTL"). */
function moved(png: Buffer): Buffer {
  const block = Buffer.alloc(20);
  block.writeUInt32BE(8, 0);
  block.write('acTL', 4);
  block.writeUInt32BE(2, 8);
  return Buffer.concat([png.subarray(0, 33), block, png.subarray(33)]);
}

/** Two pictures one after the other. */
async function moving(): Promise<Buffer> {
  const frames = Buffer.concat([Buffer.alloc(96 * 96 * 3, 20), Buffer.alloc(96 * 96 * 3, 220)]);
  const noise = frames.map((value, at) => (value + ((at * at * 7_919) % 197)) % 256);
  return sharp(noise, { raw: { width: 96, height: 192, channels: 3, pageHeight: 96 } })
    .gif()
    .toBuffer();
}

const HTML = `<!doctype html><meta name="viewport" content="width=device-width"><style>
body{margin:0;font:16px sans-serif} .wide{width:100%;height:200px;object-fit:cover;display:block} .shrinks{max-width:100%} .row{display:flex;gap:8px}
</style>
<img class="wide" src="ferry.jpg" alt="The ferry">
<div class="row"><img src="isle.jpg" width="160" height="107" alt="The isle"><p>Quay</p></div>
<p><img class="shrinks" src="pier.png" alt="The pier"> a line</p><p>By <a href="#isle">
 <img src="isle.jpg" width="160" height="107">
</a>.</p>
<img src="moves.gif" alt=""><img src="moves.png" alt=""><img src="damaged.jpg" alt="" width="200" height="100"><img src="dot.png" alt="">
<img src="print.jpg" alt="" width="150" height="100">
<img class="gull" src="gull.png" srcset="gull-2.png 2x, gull-3.png 3x" alt="The gull">
<img class="set" src="reef-600.jpg" srcset="reef-600.jpg 600w, reef-1200.jpg 1200w, reef-2000.jpg 2000w" sizes="(max-width: 820px) 90vw, 400px" alt="The reef">
<button onclick="document.querySelector('.wide').src='isle.jpg'">Next</button>`;

let capture: Capture;
let bodies: Map<string, Uint8Array>;
let lighter: LighterFiles;

beforeAll(async () => {
  const image = (body: Buffer, type: string): MadeFile => ({ body, type: `image/${type}`, kind: 'image' });
  const made = madeCapture({
    [PAGE]: { body: HTML, type: 'text/html', kind: 'document' },
    [`${PAGE}ferry.jpg`]: image(await photo(2_400, 1_600).jpeg({ quality: 92 }).toBuffer(), 'jpeg'),
    [`${PAGE}isle.jpg`]: image(await photo(1_200, 800).jpeg({ quality: 92 }).toBuffer(), 'jpeg'),
    [`${PAGE}pier.png`]: image(await photo(600, 400, true).png().toBuffer(), 'png'),
    [`${PAGE}moves.gif`]: image(await moving(), 'gif'),
    [`${PAGE}moves.png`]: image(moved(await photo(120, 90).png().toBuffer()), 'png'),
    [`${PAGE}damaged.jpg`]: image(damaged(await photo(600, 300).jpeg().toBuffer()), 'jpeg'),
    [`${PAGE}print.jpg`]: image(
      await (
        await photo(600, 400)
      )
        .toColourspace('cmyk')
        .withIccProfile('cmyk')
        .jpeg({ quality: 92 })
        .toBuffer(),
      'jpeg',
    ),
    [`${PAGE}gull.png`]: image(await photo(150, 100).png().toBuffer(), 'png'),
    [`${PAGE}gull-2.png`]: image(await photo(300, 200).png().toBuffer(), 'png'),
    // The widest of a set was not captured, as no screen of these asks for it.
    [`${PAGE}reef-600.jpg`]: image(await photo(600, 401).jpeg({ quality: 92 }).toBuffer(), 'jpeg'),
    [`${PAGE}reef-1200.jpg`]: image(await photo(1_200, 801).jpeg({ quality: 92 }).toBuffer(), 'jpeg'),
    [`${PAGE}dot.png`]: image(await photo(20, 20).png().toBuffer(), 'png'),
  });
  const came = await makeLighterImages({ ...made, state: null });
  lighter = { ...came.lighter, fonts: [], fontsStay: [], embeds: [] };
  capture = { ...made.capture, lighter };
  bodies = new Map([...made.bodies, ...came.bodies]);
});

const made = (name: string) => lighter.images.find(({ url }) => url === PAGE + name)!;

it('writes each image anew as wide as it is shown, what is cut off included, in fewer bytes', async () => {
  const ferry = made('ferry.jpg');
  // 200 px high and cut to fill, it is drawn 390 px wide on a phone.
  expect(ferry.needs.map(({ viewportWidth, width }) => [viewportWidth, Math.round(width)])).toEqual([
    [390, 390],
    [600, 600],
    [820, 820],
    [1100, 1100],
    [1440, 1440],
    [1920, 1920],
  ]);
  expect(formatsOf(ferry)[0]).toBe('avif');
  expect(ferry.versions.every((one) => one.bytes < ferry.bytes)).toBe(true);
  expect(
    made('isle.jpg')
      .versions.map(({ width }) => width)
      .every((width) => width <= 330),
  ).toBe(true);
  expect(made('pier.png').sizedByFile).toBe(true);
  for (const { bodyHash, width, height, format } of ferry.versions) {
    const { width: w, height: h, format: f } = await sharp(bodies.get(bodyHash)).metadata();
    expect([w, h]).toEqual([width, height]);
    expect(f).toBe(format === 'avif' ? 'heif' : format);
  }
  const [first] = made('pier.png').versions;
  expect((await sharp(bodies.get(first!.bodyHash)).metadata()).hasAlpha).toBe(true);
});

it('writes each file of a set anew in its own size, for what `sizes` says', () => {
  const reef = lighter.images.find(({ set }) => set?.every((one) => one.density === undefined))!;
  expect(reef.set!.map(({ width, bytes }) => [width, bytes !== null])).toEqual([
    [600, true],
    [1_200, true],
    [2_000, false],
  ]);
  expect(reef.needs.map(({ viewportWidth, width }) => [viewportWidth, width])).toEqual([
    [390, 351],
    [600, 540],
    [820, 738],
    [1_100, 400],
    [1_440, 400],
    [1_920, 400],
  ]);
  const avif = reef.versions.filter((one) => one.format === 'avif');
  expect(avif.map(({ width, height }) => [width, height])).toEqual([
    [600, 401],
    [1_200, 801],
  ]);
});

it('writes each file of a set by densities anew, for as many pixels', async () => {
  const gull = made('gull.png');
  expect(gull.set!.map(({ width, density, bytes }) => [width, density, bytes !== null])).toEqual([
    [150, 1, true],
    [300, 2, true],
    [450, 3, false],
  ]);
  expect([...new Set(gull.versions.map(({ width }) => width))]).toEqual([150, 300]);
  const shownAt = (arm: string, deviceScaleFactor: number) =>
    stage.visit(arm, { width: 390, height: 844 }, async ({ page, session }) => {
      const size = { width: 390, height: 844, deviceScaleFactor, mobile: false };
      await session.send('Emulation.setDeviceMetricsOverride', size);
      await page.reload({ waitUntil: 'load' });
      return page.evaluate(() => {
        const { currentSrc, naturalWidth, clientWidth } = document.querySelector<HTMLImageElement>('.gull')!;
        return { name: currentSrc.replace(/^.*\//, ''), naturalWidth, clientWidth };
      });
    });
  for (const [density, name] of [
    [1, /^gull-[0-9a-f]{8}\.(avif|webp)$/],
    [2, /^gull-2-[0-9a-f]{8}\.(avif|webp)$/],
  ] as const) {
    const { name: shown, ...size } = await shownAt(treatedArm, density);
    expect(shown).toMatch(name);
    const { name: _authored, ...before } = await shownAt(AS_AUTHORED, density);
    expect(size).toEqual(before);
  }
});

it('leaves alone what moves, what is damaged and what is small, and says so', () => {
  expect(lighter.stay).toEqual([
    { url: `${PAGE}moves.gif`, why: 'animated' },
    { url: `${PAGE}moves.png`, why: 'animated' },
    { url: `${PAGE}damaged.jpg`, why: 'unreadable' },
    { url: `${PAGE}dot.png`, why: 'small' },
  ]);
});

it('writes what was made for print in the colours that it is shown in', async () => {
  const bytes = bodies.get(made('print.jpg').versions.at(-1)!.bodyHash)!;
  const { space, icc } = await sharp(bytes).metadata();
  expect([space, icc]).toEqual(['srgb', undefined]);
  const means = async (picture: Uint8Array) => {
    const shown = await sharp(picture).toColourspace('srgb').png().toBuffer();
    return (await sharp(shown).stats()).channels.map(({ mean }) => mean);
  };
  const [before, after] = await Promise.all([
    means(bodies.get(capture.exchanges.find(({ url }) => url.endsWith('print.jpg'))!.bodyHash!)!),
    means(bytes),
  ]);
  for (const [at, mean] of before.entries()) expect(Math.abs(mean - after[at]!)).toBeLessThan(4);
});

let stage: FoldStage;
let treatedArm: string;
beforeAll(async () => {
  stage = await FoldStage.open(capture, bodies, null);
  const scene = sceneOf(readPageAssets(stage.page, []), null);
  const plan = recommendPlan(scene);
  const rules = plan.rules.filter((one) => one.kind === 'image-file');
  expect(rules.length).toBe(6);
  const { html, files, notApplied } = applyPlan(scene, { ...plan, rules });
  expect(notApplied).toEqual([]);
  treatedArm = await stage.addVariant(
    'treated',
    [{ start: 0, end: stage.document.bytes.length, text: new TextDecoder().decode(html) }],
    files.map((file) => ({ url: file.url, mimeType: file.mimeType, body: bytesOfFile(file), isNew: true })),
  );
});
afterAll(() => stage.close());

it.each([
  { width: 390, height: 844 },
  { width: 1_440, height: 900 },
  // At a width that nobody looked at.
  { width: 700, height: 900 },
])('shows the same page from lighter files, laid out as before, at $width px', async (viewport) => {
  const look = (arm: string) =>
    stage.visit(arm, viewport, async (visit) => {
      await visit.inPage.call('scrollThrough');
      const picture = await takePicture(visit);
      const boxes = await visit.inPage.call('seenElements');
      const shown = await visit.inPage.call('imageBoxes');
      return { picture, boxes, shown, soft: await visit.inPage.call('lighterBoxes') };
    });
  const authored = await look(AS_AUTHORED);
  const treated = await look(treatedArm);
  expect(treated.boxes).toEqual(authored.boxes);
  expect(
    treated.shown.slice(0, 3).map(({ url }) => /\/wistrel\/(\w+)-\d+-\w+\.(?:avif|webp)$/.exec(url)?.[1]),
  ).toEqual(['ferry', 'isle', 'pier']);
  const reefIn = ({ shown }: typeof treated) => /\/(reef-\d+)[-.]/.exec(shown.at(-1)!.url)?.[1];
  expect(reefIn(treated)).toBe(reefIn(authored));
  expect(treated.shown.at(-1)!.natural).toEqual(authored.shown.at(-1)!.natural);
  expect(treated.shown.at(-1)!.url).toContain('/wistrel/');
  expect((await comparePictures(authored.picture, treated.picture, { soft: treated.soft })).share).toBe(0);
  // Another picture in its place is noticed all the same.
  const other = await sharp(treated.picture)
    .composite([
      {
        input: Buffer.from('<svg width="200" height="80"><rect width="200" height="80"/></svg>'),
        left: 20,
        top: 20,
      },
    ])
    .png()
    .toBuffer();
  expect((await comparePictures(authored.picture, other, { soft: treated.soft })).share).toBeGreaterThan(
    0.003,
  );
});

it('is told as before to those who do not see it, where a link has an image without words between its spaces', async () => {
  const roles = (arm: string) => stage.visit(arm, { width: 390, height: 844 }, rolesOf);
  const authored = await roles(AS_AUTHORED);
  expect(authored).toContain('link “”');
  expect(await roles(treatedArm)).toEqual(authored);
});

it('gives way to a script that gives an image another file', async () => {
  const shown = await stage.visit(treatedArm, { width: 390, height: 844 }, async ({ page, inPage }) => {
    await page.click('button');
    await inPage.call('twoFrames');
    await page.waitForFunction(
      () => document.querySelector<HTMLImageElement>('.wide')!.currentSrc.endsWith('isle.jpg'),
      {
        timeout: 5_000,
      },
    );
    return inPage.call('imageBoxes');
  });
  expect(shown[0]!.url).toBe(`${PAGE}isle.jpg`);
});

it('takes the file for two pixels to a CSS pixel on a phone that has three', async () => {
  const shown = await stage.visit(treatedArm, { width: 390, height: 844 }, async ({ page, session }) => {
    const size = { width: 390, height: 844, deviceScaleFactor: 3, mobile: false };
    await session.send('Emulation.setDeviceMetricsOverride', size);
    await page.reload({ waitUntil: 'load' });
    return page.evaluate(() => ({
      density: devicePixelRatio,
      url: document.querySelector<HTMLImageElement>('.wide')!.currentSrc,
    }));
  });
  expect(shown.density).toBe(3);
  const width = Number(/\/ferry-(\d+)-/.exec(shown.url)?.[1]);
  expect(width).toBeGreaterThan(500);
  expect(width).toBeLessThan(1_100);
});
