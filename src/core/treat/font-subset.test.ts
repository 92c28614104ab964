import { describe, expect, it } from 'vitest';
import { madePage, type MadeFile } from '../../../tests/engine/made-capture.ts';
import type { SmallerFont } from '../fonts/smaller.ts';
import { CapturedPage } from '../page/captured-page.ts';
import { readPageAssets } from '../page/page-assets.ts';
import { refusalWords } from '../words/refusals.ts';
import { applyPlan } from './apply.ts';
import { loneRefusal } from './lone.ts';
import { recommendPlan } from './recommend.ts';
import { sceneOf } from './scene.ts';

const PAGE = 'https://quay.test/';
const KEEL = `${PAGE}keel.ttf`;
const FACE = '@font-face{font-family:Keel;src:url(/keel.ttf)}';
const font: MadeFile = { body: 'the whole font', type: 'font/ttf', kind: 'font' };

/** A page with a font, of which a smaller one was made. */
function sceneFor(head: string, sheets: Record<string, string>, policies: string[] = []) {
  const made = madePage(`<!doctype html><head>${head}</head>`, { ...sheets, [KEEL]: font }, { policies });
  const own = made.exchange(KEEL)!;
  const keel: SmallerFont = {
    url: KEEL,
    of: own.bodyHash!,
    bytes: 90_000,
    smaller: { bodyHash: 'smaller', bytes: 12_000 },
    pages: 1,
    ranges: [[0x20, 0x7e]],
  };
  const lighter = { takenAt: '', images: [], stay: [], fonts: [keel], fontsStay: [], embeds: [] };
  const page = new CapturedPage({ ...made.capture, lighter }, (hash) =>
    hash === 'smaller' ? new Uint8Array([1, 2, 3]) : made.bodyOf(hash),
  );
  return sceneOf(readPageAssets(page, []), null);
}

const LINK = '<link rel="stylesheet" href="/site.css">';
const ruleOf = (scene: ReturnType<typeof sceneFor>) =>
  recommendPlan(scene).rules.find((one) => one.kind === 'font-file');
const refusedIn = (scene: ReturnType<typeof sceneFor>) => {
  const refusal = loneRefusal(scene, 'font-file', { url: KEEL }, 'subset');
  // What is refused is not recommended either.
  expect(ruleOf(scene) === undefined).toBe(refusal !== null);
  return refusal && refusalWords(refusal);
};

describe('a font with the signs that are shown', () => {
  it('is asked for first, in sheets and in the page, and where it was asked for ahead', () => {
    const scene = sceneFor(`${LINK}<style>${FACE}</style>`, { 'site.css': `${FACE}p{font-family:Keel}` });
    const plan = recommendPlan(scene);
    const rule = ruleOf(scene)!;
    expect(rule).toMatchObject({ on: true, treatment: 'subset', risk: 'medium' });
    expect(rule.reason).toContain('Its file is 90 KB;');
    expect(rule.reason).toContain('it is 12 KB.');
    const early = { ...rule, id: 'early', kind: 'font' as const, treatment: 'swap-preload' };
    const { html, files, changes, notApplied } = applyPlan(scene, { ...plan, rules: [early, rule] });
    expect(notApplied).toEqual([]);
    const text = new TextDecoder().decode(html);
    const smaller = files.find(({ url }) => url.endsWith('.woff2'))!;
    const path = new URL(smaller.url).pathname;
    expect(path).toMatch(/^\/wistrel\/keel-[0-9a-f]{8}\.woff2$/);
    expect(text).toContain(`<link rel="preload" as="font" href="${path}" crossorigin>`);
    for (const css of [text, files.find(({ url }) => url.endsWith('site.css'))!.content as string]) {
      expect(css).toContain(
        `@font-face{unicode-range:U+20-7E;font-display:swap;font-family:Keel;src:url("${path}") format("woff2"),url(/keel.ttf)}`,
      );
      expect(css).toContain(
        '@font-face{unicode-range:U+0-1F,U+7F-10FFFF;font-display:swap;font-family:Keel;src:url(/keel.ttf)}',
      );
    }
    expect(changes.filter(({ ruleId }) => ruleId === rule.id).map(({ title }) => title)).toEqual([
      'keel.ttf: subset',
      'keel.ttf: subset',
    ]);
  });

  it('is refused where its sheet, another host or a policy has the say', () => {
    expect(refusedIn(sceneFor(LINK, { 'site.css': FACE }))).toBeNull();
    expect(refusedIn(sceneFor(LINK, { 'site.css': FACE.replace('}', ';unicode-range:U+0-FF}') }))).toContain(
      'says already which signs each of its files is for',
    );
    const elsewhere = 'https://type.example/faces.css';
    const face = FACE.replace('/keel', `${PAGE}keel`);
    expect(
      refusedIn(sceneFor(`<link rel="stylesheet" href="${elsewhere}">`, { [elsewhere]: face })),
    ).toContain('declared by type.example');
    expect(refusedIn(sceneFor(LINK, { 'site.css': FACE }, ['font-src https://type.example']))).toContain(
      'fonts of the page’s own host',
    );
    expect(refusedIn(sceneFor(`<style>${FACE}</style>`, {}, ["style-src 'sha256-x'"]))).toContain(
      'whose policy lets no style in',
    );
    const ahead = '<link rel="preload" as="font" href="/keel.ttf" crossorigin>';
    expect(refusedIn(sceneFor(ahead + LINK, { 'site.css': FACE }))).toContain('line 1');
  });

  it('is refused where none was made', () => {
    const page = madePage(`<!doctype html>${LINK}`, { 'site.css': FACE, [KEEL]: font });
    const refusal = loneRefusal(
      sceneOf(readPageAssets(page, []), null),
      'font-file',
      { url: KEEL },
      'subset',
    );
    expect(refusalWords(refusal!)).toContain('make lighter files in Treat');
  });
});
