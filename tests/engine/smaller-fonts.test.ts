import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { LighterFiles } from '../../src/core/measure/lighter-files.ts';
import { CapturedPage } from '../../src/core/page/captured-page.ts';
import { readPageAssets } from '../../src/core/page/page-assets.ts';
import { applyPlan } from '../../src/core/treat/apply.ts';
import { bytesOfFile } from '../../src/core/treat/new-files.ts';
import { recommendPlan } from '../../src/core/treat/recommend.ts';
import { sceneOf } from '../../src/core/treat/scene.ts';
import { AS_AUTHORED, FoldStage } from '../../src/engine/fold/fold-stage.ts';
import { comparePictures } from '../../src/engine/fold/pictures.ts';
import { takePicture } from '../../src/engine/load/picture.ts';
import { makeSmallerFonts } from '../../src/engine/lighter/make-smaller-fonts.ts';
import { madeCapture, type MadeFile } from './made-capture.ts';

const PAGE = 'https://quay.test/';
const VIEWPORT = { width: 800, height: 600 };
const face = (family: string, file: string) => `@font-face{font-family:${family};src:url(${file})}`;
const SHEET = `${face('Keel', 'keel.woff2')}${face('"quay icons"', 'icons.woff2')}${face('Hull', 'hull.woff2')}${face('Torn', 'torn.woff2')}${face('Junk', 'junk.woff2')}${face('Spar', 'spar.woff2').replace('}', ';unicode-range:U+0-24F}')}
body{font:20px/1.4 Keel,monospace} .spar{font-family:Spar} .hull{font-family:Hull} .torn{font-family:Torn} .junk{font-family:Junk}
.i::before{font-family:"quay icons";content:"\\2605"} .i.sail::before{content:attr(data-sign)} .late{display:none}`;
const bodyOf = (text: string) =>
  `<!doctype html><meta charset="utf-8"><meta name="viewport" content="width=device-width"><link rel="stylesheet" href="${PAGE}site.css">${text}`;
/** Signs of which no two lie next to each other. */
const SCATTERED = Array.from({ length: 260 }, (_, index) => String.fromCodePoint(0x4e00 + 2 * index)).join(
  '',
);
const HOME = bodyOf(
  `<p>The ferry “Tern” to Orrask: office, fjord, 06:20 — AVATAR 漢</p><p class="late">Ωmega pier</p><i class="i"></i> <i class="i sail" data-sign="☂"></i> <i class="hull">hull</i> <i class="spar">spar</i> <i class="torn">torn</i><p class="junk" hidden>${SCATTERED}</p><button onclick="this.textContent='Σ'">Add</button>`,
);
const TIMES = bodyOf('<p>Жёлтый катер</p><i class="i" style="--x:1"></i>');

const fontAt = (name: string) => readFileSync(`node_modules/@fontsource/${name}-400-normal.woff2`);
const font = (body: Buffer): MadeFile => ({ body, type: 'font/woff2', kind: 'font' });
const files = (path: string, html: string) =>
  madeCapture({
    [PAGE + path]: { body: html, type: 'text/html', kind: 'document' },
    [`${PAGE}site.css`]: { body: SHEET, type: 'text/css', kind: 'stylesheet' },
    [`${PAGE}keel.woff2`]: font(fontAt('dejavu-sans/files/dejavu-sans-latin')),
    [`${PAGE}icons.woff2`]: font(fontAt('dejavu-serif/files/dejavu-serif-latin')),
    [`${PAGE}hull.woff2`]: font(fontAt('karla/files/karla-latin')),
    [`${PAGE}spar.woff2`]: font(fontAt('tinos/files/tinos-latin-ext')),
    [`${PAGE}junk.woff2`]: font(fontAt('arimo/files/arimo-latin')),
    [`${PAGE}torn.woff2`]: font(fontAt('cousine/files/cousine-latin').subarray(0, 9_000)),
  });

let lighter: LighterFiles;
let stage: FoldStage;
let treatedArm: string;

beforeAll(async () => {
  const home = files('', HOME);
  const times = files('times', TIMES);
  // A page that cannot be shown any more.
  const gone = madeCapture({ [`${PAGE}gone`]: { body: 'gone', type: 'text/plain', kind: 'document' } });
  const steps: string[] = [];
  const { bodies, ...made } = await makeSmallerFonts(
    {
      ...home,
      state: null,
      others: [
        { ...times, state: null },
        { ...gone, bodies: new Map(), state: null },
      ],
    },
    (step) => steps.push(step),
  );
  expect(steps).toEqual([
    'Which signs the site’s pages show: 1 of 3',
    'Which signs the site’s pages show: 2 of 3',
    'Which signs the site’s pages show: 3 of 3',
    ...[1, 2, 3, 4, 5].map((one) => `Font ${one} of 5`),
  ]);
  lighter = { takenAt: '', images: [], stay: [], embeds: [], ...made };
  const capture = { ...home.capture, lighter };
  const all = new Map([...home.bodies, ...bodies]);
  stage = await FoldStage.open(capture, all, null);
  const scene = sceneOf(readPageAssets(new CapturedPage(capture, all), []), null);
  const plan = recommendPlan(scene);
  const rules = plan.rules.filter((one) => one.kind === 'font-file');
  const treated = applyPlan(scene, { ...plan, rules });
  expect([rules.length, treated.notApplied]).toEqual([2, []]);
  treatedArm = await stage.addVariant(
    'treated',
    [],
    treated.files.map(({ url, mimeType, isNew, content }) => ({
      url,
      mimeType,
      body: bytesOfFile({ content }),
      isNew,
    })),
  );
});
afterAll(() => stage.close());

const nameOf = ({ url }: { url: string }) => url.slice(PAGE.length);

it('makes files with the signs of all captured pages, and says of others why they stay', () => {
  expect(lighter.fonts.map(nameOf)).toEqual(['keel.woff2', 'icons.woff2']);
  const [keel, icons] = lighter.fonts;
  expect(keel!.pages).toBe(2);
  expect(keel!.smaller.bytes).toBeLessThan(keel!.bytes / 5);
  expect(icons!.smaller.bytes).toBeLessThan(5_000);
  const has = ({ ranges }: (typeof lighter.fonts)[number], sign: string) =>
    ranges.some(([low, high]) => sign.codePointAt(0)! >= low && sign.codePointAt(0)! <= high);
  // Hidden text, and that of another page.
  expect(['Ω', 'Ж', 'é'].map((sign) => has(keel!, sign))).toEqual([true, true, true]);
  expect(['★', '☂', ' ', 'a'].map((sign) => has(icons!, sign))).toEqual([true, true, true, false]);
  expect(lighter.fontsStay.map((one) => [nameOf(one), one.why])).toEqual([
    ['hull.woff2', 'not smaller'],
    ['torn.woff2', 'unreadable'],
    ['junk.woff2', 'scattered'],
  ]);
});

it('shows the same page from the smaller files alone, and asks for the whole one where a text needs it', async () => {
  const look = (arm: string) =>
    stage.visit(arm, VIEWPORT, async (visit) => {
      const asked = () =>
        visit.page.evaluate(() =>
          performance
            .getEntriesByType('resource')
            .map(({ name }) => name.replace(/^.*\//, '').replace(/-[0-9a-f]{8}\./, ' cut.'))
            .filter((name) => /woff2$/.test(name))
            .sort(),
        );
      await visit.page.evaluate(() => document.fonts.ready.then(() => undefined));
      const picture = await takePicture(visit);
      const before = await asked();
      await visit.page.evaluate(async () => {
        document.querySelector('button')!.click();
        document.querySelector('button')!.style.font = '20px Keel';
        await document.fonts.ready;
        await document.fonts.load('20px Keel', 'Σ');
      });
      return { picture, before, after: await asked(), then: await takePicture(visit) };
    });
  const authored = await look(AS_AUTHORED);
  const treated = await look(treatedArm);
  const rest = ['hull.woff2', 'spar.woff2', 'torn.woff2'];
  expect(authored.before).toEqual(['hull.woff2', 'icons.woff2', 'keel.woff2', ...rest.slice(1)]);
  expect(treated.before).toEqual(['hull.woff2', 'icons cut.woff2', 'keel cut.woff2', ...rest.slice(1)]);
  expect((await comparePictures(authored.picture, treated.picture)).share).toBe(0);
  expect(treated.after).toContain('keel.woff2');
  expect(treated.after).not.toContain('icons.woff2');
  expect((await comparePictures(authored.then, treated.then)).share).toBe(0);
});
