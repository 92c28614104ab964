import { describe, expect, it } from 'vitest';
import { flattenSheet } from '../css/flatten.ts';
import type { Concern } from './declarations.ts';
import { compressedBytes, makeFoldCss } from './fold-css.ts';
import { breakpointsIn, questionsOf } from './sheet-index.ts';

const PAGE = 'https://quay.test/';

interface Setting {
  painted?: string[];
  shaping?: string[];
  hidden?: string[];
  rejected?: string[];
  media?: string[];
  outside?: string;
  faces?: { families: string[]; weight: number; italic: boolean; characters: string }[];
}

function fold(css: string, setting: Setting): string {
  const sheet = flattenSheet(`${PAGE}a.css`, () => css, PAGE)!;
  const concerns = new Map<string, Concern>();
  for (const concern of ['painted', 'shaping', 'hidden'] as const) {
    for (const key of setting[concern] ?? []) concerns.set(key, concern);
  }
  const [folded] = makeFoldCss(
    [sheet],
    { concerns, rejected: new Set(setting.rejected), liveMedia: new Set(setting.media) },
    { css: setting.outside ?? '', faces: setting.faces ?? [] },
    (text) => text,
  );
  return folded!.css.replace(/\s+/g, ' ').trim();
}

describe('fold CSS', () => {
  it('keeps rules that concern the fold in their order, and prunes unused selectors', () => {
    expect(fold('.b{a:b}.a,.c{c:d}.a{e:f}', { painted: ['.a'] })).toBe('.a{c:d}.a{e:f}');
  });

  it('never prunes a list with a selector the browser rejects; its rule never applied', () => {
    expect(fold('.a,:unknown-thing{c:d}.a{e:f}', { painted: ['.a'], rejected: ['.a,:unknown-thing'] })).toBe(
      '.a{e:f}',
    );
  });

  it('keeps a media block only where a viewport meets it', () => {
    const css = '@media (min-width: 600px){.a{b:c}}@media print{.a{d:e}}';
    expect(fold(css, { painted: ['.a'], media: ['(min-width: 600px)'] })).toBe(
      '@media (min-width: 600px){.a{b:c}}',
    );
  });

  it('keeps both sides of @supports and @container', () => {
    const css =
      '@supports (display: grid){.a{b:c}}@supports not (display: grid){.a{d:e}}@container (width > 1px){.z{x:y}}';
    expect(fold(css, { painted: ['.a'] })).toBe(
      '@supports (display: grid){.a{b:c}}@supports not (display: grid){.a{d:e}}',
    );
  });

  it('leaves emptied named layers as statements, so that the order of layers stays', () => {
    expect(fold('@layer base{.z{a:b}}@layer theme{.a{c:d}}', { painted: ['.a'] })).toBe(
      '@layer base;@layer theme{.a{c:d}}',
    );
  });

  it('keeps nested rules with the selector they are relative to', () => {
    expect(fold('.card{color:red; .t &{x:y} > b{c:d}}', { painted: [':is(.card) > b'] })).toBe(
      '.card{ > b{c:d}}',
    );
  });

  it('keeps placing declarations only for what shapes the fold from outside', () => {
    expect(
      fold('.side{display:flex;color:red;width:10px}.menu{display:none;color:red}', {
        shaping: ['.side'],
        hidden: ['.menu'],
      }),
    ).toBe('.side{display:flex;width:10px}.menu{display:none}');
  });

  it('keeps custom properties by closure, inline styles included', () => {
    const css = ':root{--a:var(--b);--b:1px;--c:2px;--d:3px}.x{width:var(--a)}';
    expect(fold(css, { painted: [':root', '.x'], outside: 'height: var(--d)' })).toBe(
      ':root{--a:var(--b);--b:1px;--d:3px}.x{width:var(--a)}',
    );
  });

  it('keeps only the keyframes that are named', () => {
    const css = '.x{animation:rise 1s}@keyframes rise{from{a:b}}@keyframes fall{from{a:b}}';
    expect(fold(css, { painted: ['.x'] })).toBe('.x{animation:rise 1s}@keyframes rise{from{a:b}}');
  });

  it('keeps the faces that paint characters above the fold, of the nearest weight', () => {
    const face = (weight: number, range: string) =>
      `@font-face{font-family:"Keel";font-weight:${weight};unicode-range:${range};src:url(k${weight}.woff2)}`;
    const css =
      face(400, 'U+0-7F') +
      face(700, 'U+0-7F') +
      face(400, 'U+400-4FF') +
      '@font-face{font-family:Mast;src:url(m)}';
    const kept = fold(css, {
      faces: [{ families: ['keel', 'serif'], weight: 400, italic: false, characters: 'Tide' }],
    });
    expect(kept).toContain('/k400.woff2');
    expect(kept.match(/@font-face/g)).toHaveLength(1);
  });

  it('says where each kept rule came from', () => {
    const sheet = flattenSheet(`${PAGE}a.css`, () => '\n\n.a{b:c}', PAGE)!;
    const [folded] = makeFoldCss(
      [sheet],
      { concerns: new Map([['.a', 'painted']]), rejected: new Set(), liveMedia: new Set() },
      { css: '', faces: [] },
      (text) => text,
    );
    expect(folded!.kept).toEqual([{ selector: '.a', sheetUrl: `${PAGE}a.css`, line: 3, concern: 'painted' }]);
    expect(folded!.rules).toBe(1);
  });
});

describe('questionsOf', () => {
  it('asks each selector and media query once, without pseudo-elements', () => {
    const sheet = flattenSheet(
      `${PAGE}a.css`,
      () => '.a::before{x:y}.a{x:y}@media print{.b{c:d}}@keyframes k{from{a:b}}',
      PAGE,
    )!;
    expect(questionsOf([sheet])).toEqual({
      matchKeys: ['.a', '.b'],
      lists: ['.a::before', '.a', '.b'],
      nestedLists: [],
      media: ['print'],
    });
  });
});

it('finds the widths where a layout may change', () => {
  expect(breakpointsIn(['(min-width: 48em) and (max-width: 991.98px)', 'print'])).toEqual([768, 992]);
});

it('counts compressed bytes as less than raw ones for repeating text', () => {
  expect(compressedBytes('a{b:c}'.repeat(200))).toBeLessThan(100);
});
