import { describe, expect, it } from 'vitest';
import { madeImage, madePage, type MadeFile } from '../../../tests/engine/made-capture.ts';
import type { LighterImage } from '../images/lighter.ts';
import { CapturedPage } from '../page/captured-page.ts';
import { readPageAssets } from '../page/page-assets.ts';
import { refusalWords } from '../words/refusals.ts';
import { applyPlan } from './apply.ts';
import { loneRefusal } from './lone.ts';
import type { PlanRule } from './plan.ts';
import { recommendPlan } from './recommend.ts';
import { sceneOf } from './scene.ts';
import type { Scene } from './treatment.ts';

const PAGE = 'https://quay.test/';
const SEA = `${PAGE}img/sea.png`;
const sea = await madeImage(800, 450);

/** A page with the sea behind its header, of which lighter files were made. */
function sceneWith(
  html: string,
  files: Record<string, string | MadeFile> = {},
  behind: LighterImage['behind'] = 'by sheets',
): Scene {
  const made = madePage(html, { 'img/sea.png': sea, ...files });
  const { bodyHash } = made.exchange(SEA)!;
  const version = { height: 450, bodyHash: bodyHash! };
  const image: LighterImage = {
    url: SEA,
    of: bodyHash!,
    bytes: 90_000,
    size: { width: 1_600, height: 900 },
    needs: [
      { viewportWidth: 390, width: 390 },
      { viewportWidth: 1_440, width: 1_440 },
    ],
    sizedByFile: false,
    behind,
    versions: [
      { ...version, format: 'avif', width: 800, bytes: 9_000 },
      { ...version, format: 'avif', width: 1_600, bytes: 20_000 },
      { ...version, format: 'webp', width: 1_600, bytes: 30_000 },
    ],
    chosen: [],
  };
  const page = new CapturedPage(
    {
      ...made.capture,
      observations: {
        ...made.capture.observations,
        backgrounds: [{ element: 'header', url: SEA }],
        lcp: { element: 'header', url: SEA, box: null },
      },
      lighter: { takenAt: '', images: [image], stay: [], fonts: [], fontsStay: [], embeds: [] },
    },
    (hash) => made.bodyOf(hash),
  );
  return sceneOf(readPageAssets(page, []), null);
}

const CSS = 'header{background:url(../img/sea.png) center/cover}';
const LINKED = '<head><link rel="stylesheet" href="css/site.css"></head><header>Quay</header>';
const linked = (css = CSS, html = LINKED, more: Record<string, string | MadeFile> = {}) =>
  sceneWith(html, { 'css/site.css': css, ...more });
const lighterRules = (scene: Scene) => recommendPlan(scene).rules.filter((one) => one.kind === 'image-file');
const refusalIn = (scene: Scene) => {
  const refusal = loneRefusal(scene, 'image-file', { url: SEA }, 'lighter');
  return refusal && refusalWords(refusal);
};
const names = (text: string) => text.replace(/-[0-9a-f]{8}\./g, '-….');

describe('lighter files behind elements', () => {
  it('are recommended with what they save, and put beside the authored one in the sheet that names it', () => {
    const scene = linked();
    const [rule] = lighterRules(scene);
    expect(rule!.reason).toMatch(/^It is 90 KB: .+ a phone needs 9\.0 KB of that, a laptop 20 KB\.$/);
    const { files, changes, takenOut, notApplied } = applyPlan(scene, {
      wistrelPlan: 1,
      page: PAGE,
      rules: [rule!],
    });
    expect(notApplied).toEqual([]);
    expect(takenOut).toEqual([SEA]);
    const sheet = files.find(({ url }) => url.endsWith('site.css'))!;
    expect(sheet.isNew).toBe(false);
    expect(names(sheet.content as string)).toBe(
      'header{background:url(../img/sea.png) center/cover;background-image:image-set("/wistrel/sea-1600-….avif" 1x type("image/avif"),"/wistrel/sea-1600-….webp" 1x type("image/webp"))}@media (max-width:820px){header{background-image:image-set("/wistrel/sea-800-….avif" 0.5x type("image/avif"))}}',
    );
    expect(files.map(({ mimeType }) => mimeType).sort()).toEqual([
      'image/avif',
      'image/avif',
      'image/webp',
      'text/css',
    ]);
    expect(changes.find(({ where }) => where.endsWith('site.css'))).toMatchObject({
      title: 'sea.png: lighter files',
      before: CSS,
    });
  });

  it('are asked for ahead in its place, on each screen the one that is shown there', () => {
    const scene = linked();
    const early: PlanRule = {
      id: 'early',
      on: true,
      kind: 'image',
      match: { url: SEA },
      scope: 'page',
      treatment: 'early',
      reason: '',
      risk: 'low',
    };
    const plan = { wistrelPlan: 1 as const, page: PAGE, rules: [early, ...lighterRules(scene)] };
    const { html, notApplied } = applyPlan(scene, plan);
    expect(notApplied).toEqual([]);
    expect(names(new TextDecoder().decode(html)).match(/<link rel="preload"[^>]*>/g)).toEqual([
      '<link rel="preload" as="image" href="/wistrel/sea-1600-….avif" type="image/avif" media="not all and (max-width:820px)" fetchpriority="high">',
      '<link rel="preload" as="image" href="/wistrel/sea-800-….avif" type="image/avif" media="(max-width:820px)" fetchpriority="high">',
    ]);
  });

  it('stand beside it in styles of the page itself, and in what treating makes of a sheet', () => {
    const own = sceneWith(`<head><style>${CSS.replace('../', '')}</style></head><header></header>`);
    const inPage = applyPlan(own, { wistrelPlan: 1, page: PAGE, rules: lighterRules(own) });
    expect(names(new TextDecoder().decode(inPage.html))).toContain('image-set("/wistrel/sea-1600-….avif" 1x');
    const scene = linked();
    const inline: PlanRule = {
      ...lighterRules(scene)[0]!,
      id: 'inline',
      kind: 'stylesheet',
      match: { url: `${PAGE}css/site.css` },
      treatment: 'inline',
    };
    const both = applyPlan(scene, { wistrelPlan: 1, page: PAGE, rules: [inline, ...lighterRules(scene)] });
    expect(both.notApplied).toEqual([]);
    expect(names(new TextDecoder().decode(both.html))).toMatch(
      /<style>header\{background:url\(\/img\/sea\.png\) center\/cover;background-image:image-set\("\/wistrel\/sea-1600-….avif" 1x/,
    );
  });

  it('stand beside it in the style of an element, one for all screens', () => {
    const html = `<header style="color: #fff; background-image: url('img/sea.png')" id="top">Quay</header>`;
    const scene = sceneWith(`<head></head>${html}`, {}, 'by elements');
    expect(lighterRules(scene)[0]!.reason).toMatch(/a phone needs 20 KB of that, a laptop 20 KB\.$/);
    const {
      html: treated,
      changes,
      notApplied,
    } = applyPlan(scene, {
      wistrelPlan: 1,
      page: PAGE,
      rules: lighterRules(scene),
    });
    expect(notApplied).toEqual([]);
    expect(names(new TextDecoder().decode(treated))).toContain(
      `<header style="color: #fff; background-image: url('img/sea.png');background-image:image-set(&quot;/wistrel/sea-1600-….avif&quot; 1x type(&quot;image/avif&quot;),&quot;/wistrel/sea-1600-….webp&quot; 1x type(&quot;image/webp&quot;))" id="top">Quay</header>`,
    );
    // Told of is the tag, not all that stands in it.
    expect(changes.map(({ before }) => before)).toEqual([html.replace('Quay</header>', '')]);
  });

  it.each([
    ['in the style of line 1', linked(CSS, `${LINKED}<p style="background:url(img/sea.png) var(--place)">`)],
    ['in the style of line 1', linked(CSS, `${LINKED}<img style="background:url(img/sea.png)">`)],
    ['in “--sea”', linked(`${CSS}p{--sea:url(../img/sea.png)}`)],
    ['in “border-image”', linked(`${CSS}p{border-image:url(../img/sea.png) 3}`)],
    ['in “background”', linked(`${CSS}p{background:url(../img/sea.png) var(--place)}`)],
    [
      'in signs.css',
      linked(CSS, LINKED.replace('</head>', '<link rel="stylesheet" href="https://signs.test/signs.css">'), {
        'https://signs.test/signs.css': {
          body: `p{background:url(${SEA})}`,
          type: 'text/css',
          kind: 'stylesheet',
        },
      }),
    ],
  ])('are refused where the file is named %s as well', (where, scene) => {
    expect(refusalIn(scene)).toBe(`it is named where no other file can stand beside it (${where})`);
    expect(lighterRules(scene)).toEqual([]);
  });

  it('are refused where a script may ask what stands behind, or the page asks for the file ahead', () => {
    const asking = linked(CSS, `${LINKED}<script src="slides.js"></script>`, {
      'slides.js': 'getComputedStyle(document.querySelector("header")).backgroundImage',
    });
    expect(refusalIn(asking)).toBe(
      'a script may ask what stands behind elements, and would find several files (slides.js)',
    );
    const unread = linked(CSS, `${LINKED}<script src="https://signs.test/slides.js"></script>`);
    expect(refusalIn(unread)).toMatch(/several files \(slides\.js\)$/);
    const inline = linked(CSS, `${LINKED}\n<script>$("header").css("background-image")</script>`);
    expect(refusalIn(inline)).toMatch(/several files \(in line 2 of the page\)$/);
    const ahead = linked(
      CSS,
      LINKED.replace('<head>', '<head><link rel="preload" as="image" href="img/sea.png">'),
    );
    expect(refusalIn(ahead)).toMatch(/asks for this very file ahead/);
  });
});
