import { describe, expect, it } from 'vitest';
import { madeImage, madePage } from '../../../tests/engine/made-capture.ts';
import type { LighterImage } from '../images/lighter.ts';
import { readPageAssets } from '../page/page-assets.ts';
import { CapturedPage } from '../page/captured-page.ts';
import { refusalWords } from '../words/refusals.ts';
import { applyPlan } from './apply.ts';
import { loneRefusal } from './lone.ts';
import type { Plan, PlanRule } from './plan.ts';
import { recommendPlan } from './recommend.ts';
import { sceneOf } from './scene.ts';

const PAGE = 'https://quay.test/';
const ferry = await madeImage(800, 450);

/** A page whose ferry was made lighter. */
function sceneWith(html: string, lighter: Partial<LighterImage> = {}, css: string | null = null) {
  const files = { 'ferry.png': ferry, 'isle.png': ferry, ...(css === null ? {} : { 'a.css': css }) };
  const link = css === null ? '' : '<link rel="stylesheet" href="a.css">';
  const made = madePage(`<head>${link}</head>${html}`, files);
  const hash = made.exchange(`${PAGE}isle.png`)!.bodyHash!;
  const image: LighterImage = {
    url: `${PAGE}ferry.png`,
    of: made.exchange(`${PAGE}ferry.png`)!.bodyHash!,
    bytes: 90_000,
    size: { width: 800, height: 450 },
    needs: [
      { viewportWidth: 390, width: 390 },
      { viewportWidth: 1_440, width: 1_440 },
    ],
    sizedByFile: false,
    versions: [
      { format: 'avif', width: 400, height: 225, bodyHash: hash, bytes: 5_000 },
      { format: 'avif', width: 800, height: 450, bodyHash: hash, bytes: 9_000 },
      { format: 'webp', width: 800, height: 450, bodyHash: hash, bytes: 11_000 },
    ],
    chosen: [],
    ...lighter,
  };
  const page = new CapturedPage(
    {
      ...made.capture,
      lighter: { takenAt: '', images: [image], stay: [], fonts: [], fontsStay: [], embeds: [] },
    },
    (one) => made.bodyOf(one),
  );
  return sceneOf(readPageAssets(page, []), null);
}
const refusalIn = (scene: ReturnType<typeof sceneWith>) => {
  const refusal = loneRefusal(scene, 'image-file', { url: `${PAGE}ferry.png` }, 'lighter');
  return refusal && refusalWords(refusal);
};
function treated(scene: ReturnType<typeof sceneWith>, rules: readonly PlanRule[]) {
  const plan: Plan = { wistrelPlan: 1, page: PAGE, rules: [...rules] };
  const { html, ...rest } = applyPlan(scene, plan);
  return { ...rest, text: new TextDecoder().decode(html) };
}
/** What the markup has of the ferry; the widest was not captured. */
const SET = [
  { width: 400, bytes: 30_000 },
  { width: 800, bytes: 90_000 },
  { width: 1_600, bytes: null },
];
const IMAGE = '<p><img src="ferry.png" alt="The ferry" width="800" height="450"></p>';

describe('lighter images', () => {
  it('are recommended with what a phone saves, and shown by browsers that know their format, the file as authored by others', () => {
    const scene = sceneWith(IMAGE);
    const rules = recommendPlan(scene).rules.filter((one) => one.kind === 'image-file');
    expect(rules.map(({ treatment, reason }) => [treatment, reason])).toEqual([
      [
        'lighter',
        'It is 90 KB: as wide as it is shown and in a format of today a phone needs 9.0 KB of that, a laptop 9.0 KB.',
      ],
    ]);
    const { text, files, changes, takenOut, notApplied } = treated(scene, rules);
    expect(notApplied).toEqual([]);
    expect(text).toMatch(
      /<p><picture data-lighter><source type="image\/avif" srcset="\/wistrel\/ferry-400-[0-9a-f]{8}\.avif 400w, \/wistrel\/ferry-800-[0-9a-f]{8}\.avif 800w" sizes="\(min-resolution: 2\.5dppx\) 67vw, 100vw"><source type="image\/webp" srcset="\/wistrel\/ferry-800-[0-9a-f]{8}\.webp 800w" sizes="\(min-resolution: 2\.5dppx\) 67vw, 100vw"><img src="ferry\.png" alt="The ferry" width="800" height="450"><\/picture><\/p>/,
    );
    expect(files.map(({ mimeType, isNew }) => [mimeType, isNew])).toEqual([
      ['image/avif', true],
      ['image/avif', true],
      ['image/webp', true],
    ]);
    expect(takenOut).toEqual([`${PAGE}ferry.png`]);
    expect(changes.find(({ title }) => title === 'ferry.png: lighter files')!.before).toBe(
      '<img src="ferry.png" alt="The ferry" width="800" height="450">',
    );
  });

  it('leave the file itself to screens for which no version is lighter', () => {
    const scene = sceneWith(IMAGE);
    const image = scene.images[0]!;
    const versions = image.lighter!.versions.filter(({ width }) => width === 400);
    const only: typeof scene = { ...scene, images: [{ ...image, lighter: { ...image.lighter!, versions } }] };
    const { rules } = recommendPlan(scene);
    const { text, takenOut } = treated(
      only,
      rules.filter((one) => one.kind === 'image-file'),
    );
    expect(text).toMatch(/srcset="\/wistrel\/ferry-400-[0-9a-f]{8}\.avif 400w, \/ferry\.png 800w"/);
    // A phone no longer asks for it: that it does not is no request that is missing.
    expect(takenOut).toEqual([`${PAGE}ferry.png`]);
  });

  it('are refused where a style names the file as well: both would come', () => {
    const words = (where: string) => `it is named where no other file can stand beside it (${where})`;
    expect(refusalIn(sceneWith(IMAGE, {}, 'header{background:url(ferry.png)}'))).toBe(words('in a.css'));
    expect(refusalIn(sceneWith(`${IMAGE}<header style="background:url(ferry.png)">`))).toBe(
      words('in the style of line 1'),
    );
  });

  it('go with another rule for the same image, and Hand off tells the second on what the first one left', () => {
    const scene = sceneWith('<img src="isle.png"><img src="ferry.png" alt="">');
    const early: PlanRule = {
      id: 'r9',
      on: true,
      kind: 'image',
      match: { url: `${PAGE}ferry.png` },
      scope: 'page',
      treatment: 'early',
      reason: '',
      risk: 'low',
    };
    const lighter = { ...early, id: 'r10', kind: 'image-file' as const, treatment: 'lighter' };
    const { text, changes, notApplied } = treated(scene, [early, lighter]);
    expect(notApplied).toEqual([]);
    expect(text).toContain('<img src="ferry.png" alt="" fetchpriority="high"></picture>');
    const [first, second] = changes.filter(({ at, before }) => at !== null && before !== '');
    expect(first!.after).toBe('<img src="ferry.png" alt="" fetchpriority="high">');
    expect(second!.before).toBe(first!.after);
    expect(second!.after).toContain(`${first!.after}</picture>`);
  });

  it('stand in the places of the files that the markup chooses from by width, those included that were not captured, with its own sizes', () => {
    const sizes = 'sizes="(max-width: 600px) 100vw, 600px"';
    const srcset = 'srcset="ferry-s.png 400w, ferry.png 800w, ferry-l.png 1600w"';
    const html = `<img src="ferry-s.png" ${srcset} ${sizes} alt="">`;
    const needs = [
      { viewportWidth: 390, width: 250 },
      { viewportWidth: 1_440, width: 600 },
    ];
    const scene = sceneWith(html, { needs, set: SET });
    const rules = recommendPlan(scene).rules.filter((one) => one.kind === 'image-file');
    expect(rules.map(({ reason }) => reason)).toEqual([
      'In a format of today its files need less: on a phone 9.0 KB of 90 KB, on a laptop 9.0 KB of 90 KB.',
    ]);
    const { text, takenOut, notApplied } = treated(scene, rules);
    expect(notApplied).toEqual([]);
    expect(text).toMatch(
      /<picture data-lighter><source type="image\/avif" srcset="\/wistrel\/ferry-s-\w{8}\.avif 400w, \/wistrel\/ferry-\w{8}\.avif 800w, \/ferry-l\.png 1600w" sizes="\(max-width: 600px\) 100vw, 600px"><source type="image\/webp" srcset="\/ferry-s\.png 400w, \/wistrel\/ferry-\w{8}\.webp 800w, \/ferry-l\.png 1600w" sizes="[^"]*"><img src="ferry-s\.png"/,
    );
    // The wide one is asked for as before: that it is missing would be a fault.
    expect(new Set(takenOut)).toEqual(new Set([`${PAGE}ferry.png`, `${PAGE}ferry-s.png`]));
    // As they were made before sets were taken: of other widths.
    expect(refusalIn(sceneWith(html))).toMatch(/no lighter files were made/);
  });

  it('of files that are chosen by density keep theirs, and the one that was not captured', () => {
    const set = [
      { width: 800, density: 1, bytes: 90_000 },
      { width: 1_600, density: 2, bytes: null },
    ];
    const scene = sceneWith('<img src="ferry.png" srcset="ferry-2.png 2x" sizes="9px">', { set });
    const rules = recommendPlan(scene).rules.filter((one) => one.kind === 'image-file');
    expect(rules.map(({ reason }) => reason)).toEqual([
      'In a format of today its files need less: on a phone 90 KB of 90 KB, on a laptop 9.0 KB of 90 KB.',
    ]);
    const { text, takenOut, notApplied } = treated(scene, rules);
    expect(notApplied).toEqual([]);
    expect(text).toMatch(
      /<picture data-lighter><source type="image\/avif" srcset="\/wistrel\/ferry-\w{8}\.avif 1x, \/ferry-2\.png 2x"><source type="image\/webp" srcset="\/wistrel\/ferry-\w{8}\.webp 1x, \/ferry-2\.png 2x"><img src="ferry\.png"/,
    );
    expect(takenOut).toEqual([`${PAGE}ferry.png`]);
  });

  it.each([
    ['a width that is not the file’s', '<img srcset="isle.png 400w, ferry.png 900w">'],
    ['two sets', '<img srcset="ferry.png 800w"><img srcset="ferry.png 800w, isle.png 400w">'],
    ['a set beside itself alone', '<img srcset="ferry.png 800w"><img src="ferry.png">'],
    ['where it stands', '<img loading="lazy" sizes="auto, 100vw" srcset="isle.png 400w, ferry.png 800w">'],
    ['densities and widths', '<img srcset="ferry.png 800w, isle.png 2x">'],
    ['two densities of one file', '<img src="ferry.png" srcset="ferry.png 2x">'],
    [
      'sources',
      '<picture><source srcset="isle.png 800w"><img src="ferry.png" srcset="ferry.png 800w"></picture>',
    ],
  ])('are refused where it is chosen by %s', (_by, html) => {
    expect(refusalIn(sceneWith(html.replace('isle.png', 'other.png'), { set: SET }))).toMatch(
      /choose between files already/,
    );
  });

  it('keep the room that the file itself would have taken, where nothing else says how wide it is', () => {
    const scene = sceneWith('<img src="ferry.png">', { sizedByFile: true });
    const { rules } = recommendPlan(scene);
    const { text } = treated(
      scene,
      rules.filter((one) => one.kind === 'image-file'),
    );
    expect(text).toContain('<picture data-lighter="room"><source type="image/avif"');
    expect(text).toContain('sizes="(min-resolution: 2.5dppx) 67vw, 100vw" width="800" height="450"><source');
    expect(refusalIn(sceneWith('<img src="ferry.png">', { sizedByFile: true }, 'img{height:40px}'))).toMatch(
      /may set its height \(img\)/,
    );
  });

  it.each([
    [
      'its parent',
      '.card>img{border:1px solid}',
      '<div class="card"><img src="ferry.png"></div>',
      '.card>img',
    ],
    ['any child', '.card > *{padding:0}', '<div class="card"><img src="ferry.png"></div>', '.card > *'],
    [
      'its place',
      '.card img:first-child{margin:0}',
      '<div class="card"><img src="ferry.png"></div>',
      'img:first-child',
    ],
    ['what stands beside', 'img + p{margin:0}', '<img src="ferry.png"><p>Quay</p>', 'img + p'],
    ['what stands before', 'h1 ~ img{margin:0}', '<h1>Quay</h1><img src="ferry.png">', 'h1 ~ img'],
    [
      'a group',
      ':where(.card > img){margin:0}',
      '<div class="card"><img src="ferry.png"></div>',
      ':where(.card > img)',
    ],
    ['what is around', 'img{border-radius:inherit}', '<img src="ferry.png">', '(img)'],
    ['a nested rule', '.card{& > img{margin:0}}', '<div class="card"><img src="ferry.png"></div>', '* > img'],
  ])('are refused where a style goes by %s', (_by, css, html, told) => {
    expect(refusalIn(sceneWith(html, {}, css))).toContain(told);
  });

  it('are refused where a sheet cannot be read, and say which', () => {
    const scene = sceneWith(
      '<link rel="stylesheet" href="https://fonts.test/gone.css"><img src="ferry.png">',
    );
    expect(refusalIn(scene)).toBe('gone.css cannot be read: it may go by what stands right around it');
    const room = loneRefusal(scene, 'image', { url: `${PAGE}ferry.png` }, 'room');
    expect(room && refusalWords(room)).toBe('gone.css cannot be read: it may set its height');
  });

  it.each([
    ['another parent', '.menu>img{margin:0}', '<div class="card"><img src="ferry.png"></div>'],
    ['images anywhere within', '.card img{margin:0}', '<div class="card"><img src="ferry.png"></div>'],
    [
      'what has no image',
      '.row > .col{margin:0}',
      '<div class="row"><div class="col"><img src="ferry.png"></div></div>',
    ],
    ['everything', '*{box-sizing:inherit}', '<img src="ferry.png">'],
    ['links beside', 'a + p{margin:0}', '<p><img src="ferry.png"></p>'],
    ['what follows on another', 'legend+*{clear:left}', '<h1>Quay</h1><img src="ferry.png">'],
    ['what another follows on', 'img+p{margin:0}', '<img src="ferry.png"><h2>Isle</h2><p>Pier</p>'],
  ])('are not refused for a style of %s', (_of, css, html) => {
    expect(refusalIn(sceneWith(html, {}, css))).toBeNull();
  });

  it('are refused where the page asks for the file ahead, or lets no new images in', () => {
    expect(
      refusalIn(sceneWith('<link rel="preload" as="image" href="ferry.png"><img src="ferry.png">')),
    ).toMatch(/asks for this very file ahead/);
    const set = 'srcset="ferry.png 800w, wide.png 1600w"';
    expect(
      refusalIn(
        sceneWith(`<link rel="preload" as="image" image${set}><img src="ferry.png" ${set}>`, { set: SET }),
      ),
    ).toMatch(/asks for this very file ahead/);
    const policy = `<meta http-equiv="Content-Security-Policy" content="img-src https://cdn.quay.test">`;
    expect(refusalIn(sceneWith(`${policy}<img src="ferry.png">`))).toMatch(
      /refuses images of the page’s own host/,
    );
  });
});
