import { describe, expect, it } from 'vitest';
import { madeImage, madePage } from '../../../tests/engine/made-capture.ts';
import { readPageAssets } from '../page/page-assets.ts';
import { applyPlan } from './apply.ts';
import { loneOffers } from './offers.ts';
import type { Plan, PlanRule } from './plan.ts';
import { recommendPlan } from './recommend.ts';
import { sceneOf } from './scene.ts';

const PAGE = 'https://quay.test/';
const ferry = await madeImage(800, 450);
const files = { 'ferry.png': ferry, 'isle.png': ferry, 'pier.png': ferry };
const box = { x: 0, y: 0, width: 400, height: 225 };

/** A page whose first screen shows its first image, which is the largest that is painted. */
function sceneWith(
  html: string,
  seen = ['ferry.png'],
  backgrounds: string[] = [],
  below = ['isle.png', 'pier.png'],
) {
  const largest = backgrounds[0] ?? seen[0];
  const observations = {
    lcp: largest ? { element: 'img', url: PAGE + largest, box } : null,
    backgrounds: backgrounds.map((name) => ({ element: 'header', url: PAGE + name })),
    imagesBelow: below.map((name) => PAGE + name),
    boxes: seen.map((name) => ({
      element: 'img',
      tag: 'img',
      url: PAGE + name,
      box,
      natural: { width: 800, height: 450 },
    })),
  };
  return sceneOf(readPageAssets(madePage(html, files, { observations }), []), null);
}
const rule = (name: string, treatment: string): PlanRule => ({
  id: name,
  on: true,
  kind: 'image',
  match: { url: PAGE + name },
  scope: 'page',
  treatment,
  reason: '',
  risk: 'low',
});
function treated(scene: ReturnType<typeof sceneWith>, rules: PlanRule[], evenIllegal = false) {
  const plan: Plan = { wistrelPlan: 1, page: PAGE, rules };
  const { html, ...rest } = applyPlan(scene, plan, { evenIllegal });
  return { ...rest, text: new TextDecoder().decode(html) };
}
const HTML =
  '<head></head><h1>Quay</h1><img src="ferry.png" alt=""><img src="isle.png" alt=""><img loading="lazy" src="pier.png">';

describe('images', () => {
  it('are recommended early where they are the largest of the first screen, late where they stand below, with room kept', () => {
    const scene = sceneWith(HTML);
    const plan = recommendPlan(scene);
    expect(
      plan.rules
        .filter((one) => one.kind === 'image')
        .map(({ match, treatment, risk }) => [match, treatment, risk]),
    ).toEqual([
      [{ url: `${PAGE}ferry.png` }, 'early-with-room', 'low'],
      [{ url: `${PAGE}isle.png` }, 'late-with-room', 'medium'],
      [{ url: `${PAGE}pier.png` }, 'room', 'low'],
    ]);
    const { text, notApplied, takenOut } = treated(scene, plan.rules);
    expect(notApplied).toEqual([]);
    expect(text).toBe(
      '<head>\n<style>@layer wistrel-room{:where(img[data-room]){height:auto}}</style>\n</head><h1>Quay</h1><img src="ferry.png" alt="" fetchpriority="high" width="800" height="450" data-room><img src="isle.png" alt="" loading="lazy" width="800" height="450" data-room><img loading="lazy" src="pier.png" width="800" height="450" data-room>',
    );
    expect(takenOut).toEqual([`${PAGE}isle.png`]);
  });

  it('are left alone where they say it all themselves', () => {
    const scene = sceneWith(
      '<img src="ferry.png" fetchpriority="high" width="800" height="450"><img loading="lazy" src="isle.png" width="800" height="450">',
    );
    expect(recommendPlan(scene).rules).toEqual([]);
  });

  it('are given no size where a style may set their height', () => {
    const refused = (css: string) => {
      const scene = sceneWith(
        `<head><style>${css}</style></head><div class="top"><p><img class="sign" src="ferry.png"></p></div>`,
      );
      return loneOffers(scene, 'image', scene.images[0]!).find((one) => one.treatment === 'room')!.refused;
    };
    for (const css of [
      '.top img { height: 40px }',
      '@media (width > 600px) { .sign { max-height: 3em } }',
      'img { block-size: 40px }',
      'p { & > img { height: 40px } }',
      '.sign { @media (width > 600px) { height: 40px } }',
      'p { @media (width > 600px) { & img { height: 40px } } }',
      ':is(img, video) { height: 2em }',
      'p :not(:is(b, i)) { height: 2em }',
      '@import "gone.css";',
    ])
      expect(refused(css), css).toMatch(/may set its height/);
    const own = sceneWith('<img src="ferry.png" style="width: 80px; height: 40px">');
    expect(
      loneOffers(own, 'image', own.images[0]!).find((one) => one.treatment === 'room')!.refused,
    ).toContain('its style attribute');
    for (const css of [
      'img { max-width: 100%; height: auto }',
      '.foot img, .top { height: 40px }',
      '.hidden:not(:focus):not(:focus-within) { height: 1px }',
      '.sign::before { height: 9px }',
      '@keyframes in { 50% { height: 9px } }',
    ])
      expect(refused(css), css).toBeNull();
  });

  it('keep what their markup says of their size', () => {
    const scene = sceneWith('<h1>Quay</h1><img src="isle.png" width="300">');
    expect(
      loneOffers(scene, 'image', scene.images[0]!).map((one) => [one.treatment, one.refused !== null]),
    ).toEqual([
      ['as-authored', false],
      ['early', true],
      ['late', true],
    ]);
    expect(recommendPlan(scene).rules).toEqual([]);
  });

  it('of the first screen never come late, and those of a screen that nobody saw neither', () => {
    const refused = (scene: ReturnType<typeof sceneWith>, name: string, id: string) =>
      loneOffers(scene, 'image', { url: PAGE + name }).find((one) => one.treatment === id)!.refused;
    const scene = sceneWith(HTML);
    expect(refused(scene, 'ferry.png', 'late-with-room')).toBe('it stands on the first screen');
    expect(refused(scene, 'isle.png', 'late')).toBe(
      'its markup says no size: what stands under it would jump when it comes',
    );
    expect(refused(scene, 'isle.png', 'early')).toContain('it does not stand on the first screen');
    const unseen = sceneWith(HTML, [], [], []);
    expect(refused(unseen, 'isle.png', 'late-with-room')).toContain('nobody saw it below');
    expect(recommendPlan(unseen).rules.map((one) => one.treatment)).toEqual(['room', 'room', 'room']);

    // A plan file cannot do what the screen refuses.
    const byFile = treated(scene, [rule('ferry.png', 'late-with-room')]);
    expect(byFile.text).toBe(HTML);
    expect(byFile.notApplied).toMatchObject([{ why: 'It stands on the first screen.', illegal: true }]);
    expect(treated(scene, [rule('ferry.png', 'late-with-room')], true).text).toContain(
      'loading="lazy" width',
    );
  });

  it('behind the first screen are asked for with the page, where a style names them on screens of any sort', () => {
    const early = (html: string) => {
      const scene = sceneWith(`<head>${html}</head><h1>Quay</h1>`, [], ['pier.png']);
      const { rules } = recommendPlan(scene);
      const offer =
        scene.images[0] &&
        loneOffers(scene, 'image', scene.images[0]).find((one) => one.treatment === 'early');
      return { rules: rules.map((one) => one.treatment), offer, text: treated(scene, rules).text };
    };
    const always = early('<style>header { background: teal url("pier.png") }</style>');
    expect(always.rules).toEqual(['early']);
    expect(always.text).toContain(
      '<link rel="preload" as="image" href="/pier.png" fetchpriority="high">\n<style>header',
    );
    expect(early('</head><header style="background-image: url(\'/pier.png\')">').rules).toEqual(['early']);

    const sometimes = early('<style>@media (width > 600px) { header { background: url(pier.png) } }</style>');
    expect(sometimes.rules).toEqual([]);
    expect(sometimes.offer!.refused).toContain('on some screens only');
    const print = early('<style media="(width > 600px)">header { background: url(pier.png) }</style>');
    expect(print.offer!.refused).toContain('on some screens only');
    // On narrow screens another one stands there.
    const other = early(
      '<style>header { background: url(pier.png) } @media (width < 600px) { .top > header { background: url(isle.png) } }</style>',
    );
    expect(other.offer!.refused).toContain('on some screens only');
    // The author asks for it already; and what no style names is a script's.
    const style = '<style>header { background: url(pier.png) }</style>';
    expect(early(`<link rel="preload" as="image" href="pier.png">${style}`).rules).toEqual([]);
    expect(early('').rules).toEqual([]);
  });

  it('that the page does not show, and treatments that are none of theirs, are told', () => {
    const scene = sceneWith(HTML);
    expect(treated(scene, [rule('other.png', 'room')]).notApplied).toMatchObject([
      { why: 'The page has no such image.', illegal: false },
    ]);
    expect(treated(scene, [rule('pier.png', 'late')]).notApplied).toMatchObject([
      { why: 'When scrolled near is not for this.', illegal: false },
    ]);
  });

  it('are not given a size that they have on no other screen, or that is not theirs', async () => {
    const turned = await madeImage(800, 450, 'jpeg', 6);
    const page = madePage(
      '<picture><source srcset="b.png"><img src="a.png"></picture><img src="c.png" srcset="d.png 2x"><img src="turned.jpg"><img src="broken.png">',
      {
        'a.png': ferry,
        'b.png': ferry,
        'c.png': ferry,
        'd.png': ferry,
        'turned.jpg': turned,
        'broken.png': { ...ferry, body: ferry.body.subarray(0, 10) },
      },
    );
    const { images } = sceneOf(readPageAssets(page, []), null);
    expect(images.map((one) => [one.url.replace(PAGE, ''), one.size])).toEqual([
      ['a.png', null],
      ['c.png', null],
      ['turned.jpg', { width: 450, height: 800 }],
      ['broken.png', null],
    ]);
  });
});
