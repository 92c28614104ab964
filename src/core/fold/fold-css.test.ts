import { describe, expect, it } from 'vitest';
import { flattenSheet, type FlatSheet } from '../css/flatten.ts';
import { countKept } from './count-kept.ts';
import type { Concern } from './declarations.ts';
import type { FoldDecision } from './decisions.ts';
import { compressedBytes, makeFoldCss } from './fold-css.ts';
import type { ElementsOf } from './overridden.ts';
import { breakpointsIn, questionsOf } from './sheet-index.ts';
import { whyKept } from './why-kept.ts';

const PAGE = 'https://quay.test/';

interface Setting {
  painted?: string[];
  shaping?: string[];
  hidden?: string[];
  rejected?: string[];
  media?: string[];
  outside?: string;
  unsure?: string[];
  elementsOf?: ElementsOf;
  decisions?: FoldDecision[];
  faces?: { families: string[]; weight: number; italic: boolean; characters: string }[];
}

function setOf(sheets: FlatSheet[], concerns: Map<string, Concern>, setting: Setting) {
  return makeFoldCss({
    sheets,
    unsure: new Set(setting.unsure),
    answers: {
      concerns,
      neededBy: new Map([...concerns.keys()].map((key) => [key, [{ viewport: '390×844', element: key }]])),
      rejected: new Set(setting.rejected),
      liveMedia: new Set(setting.media),
    },
    elementsOf: setting.elementsOf ?? null,
    outside: { css: setting.outside ?? '', faces: setting.faces ?? [] },
    decisions: setting.decisions ?? [],
    documentUrl: PAGE,
  });
}

function fold(css: string, setting: Setting): string {
  const sheet = flattenSheet(`${PAGE}a.css`, () => css, PAGE)!;
  const concerns = new Map<string, Concern>();
  for (const concern of ['painted', 'shaping', 'hidden'] as const) {
    for (const key of setting[concern] ?? []) concerns.set(key, concern);
  }
  return setOf([sheet], concerns, setting).sheets[0]!.css.replace(/\s+/g, ' ').trim();
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
      '.card{> b{c:d}}',
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
    const sheet = flattenSheet(`${PAGE}a.css`, () => '@media screen{\n\n.a{b:c}}', PAGE)!;
    const [folded] = setOf([sheet], new Map([['.a', 'painted']]), { media: ['screen'] }).sheets;
    expect(folded!.kept).toEqual([
      {
        selector: '.a',
        context: '@media screen',
        sheetUrl: `${PAGE}a.css`,
        line: 3,
        concern: 'painted',
        reason: 'matches',
        neededBy: [{ viewport: '390×844', element: '.a' }],
        bytes: 7,
        embedded: false,
      },
    ]);
    expect(whyKept(folded!.kept[0]!)).toBe('It paints .a at 390×844.');
    expect(folded!.rules).toBe(1);
  });

  it('never counts more of its rules kept than it has: faces and keyframes are none of those counted', () => {
    const css =
      '.x{animation:rise 1s}@keyframes rise{from{a:b}}@property --a{inherits:false}.x{width:var(--a)}';
    const sheet = flattenSheet(`${PAGE}a.css`, () => css, PAGE)!;
    const [folded] = setOf([sheet], new Map([['.x', 'painted']]), {}).sheets;
    expect(folded!.kept).toHaveLength(4);
    expect([countKept(folded!.kept), folded!.rules]).toEqual([2, 2]);
  });
});

describe('decisions of the user', () => {
  const css = '.menu{a:b}.menu > .item:hover{c:d}.menus{e:f}.b,.menu b{g:h}';
  it('keep every rule that names a selector', () => {
    expect(fold(css, { decisions: [{ verb: 'keep', by: 'selector', what: '.menu' }] })).toBe(
      '.menu{a:b}.menu > .item:hover{c:d}.menu b{g:h}',
    );
  });
  it('leave out what names a selector, and of a list only that part', () => {
    const painted = ['.menu', '.menus', '.b', '.menu b'];
    expect(fold(css, { painted, decisions: [{ verb: 'leave-out', by: 'selector', what: '.menu' }] })).toBe(
      '.menus{e:f}.b{g:h}',
    );
    expect(fold(css, { painted, decisions: [{ verb: 'leave-out', by: 'rule', what: '.menu' }] })).toBe(
      '.menus{e:f}.b,.menu b{g:h}',
    );
  });
  it('keep or leave out whole sheets, a selector having the last word', () => {
    const sheet = { by: 'sheet' as const, what: 'a.css' };
    expect(fold(css, { decisions: [{ verb: 'keep', ...sheet }] })).toBe(css);
    expect(
      fold(css, {
        painted: ['.menu'],
        decisions: [
          { verb: 'leave-out', ...sheet },
          { verb: 'keep', by: 'selector', what: '.menus' },
        ],
      }),
    ).toBe('.menus{e:f}');
  });
});

describe('overridden declarations', () => {
  const elements = (map: Record<string, number[][]>) => new Map(Object.entries(map));
  it('go when another rule sets the same for every element, with no less weight', () => {
    const css = 'a{color:red;margin-top:1px}.a{color:blue;margin:0}';
    const elementsOf = elements({ a: [[1, 2]], '.a': [[1, 2, 3]] });
    expect(fold(css, { painted: ['a', '.a'], elementsOf })).toBe('.a{color:blue;margin:0}');
  });
  it.each([
    ['one element is not overridden', 'a{color:red}.a{color:blue}', [[1, 2]], [[1]]],
    ['in one state it is not', 'a{color:red}.a{color:blue}', [[1], [2]], [[1], [3]]],
    ['the other is weaker', '.a{color:blue}a{color:red}', [[1, 2]], [[1]]],
    ['it is important', 'a{color:red!important}.a{color:blue}', [[1]], [[1, 2]]],
    ['the other holds only under a condition', 'a{color:red}@media all{.a{color:blue}}', [[1]], [[1]]],
    ['not every browser takes the other', 'a{height:1px}.a{height:1dvh}', [[1]], [[1]]],
    ['it is of a pseudo-element', 'a::before{color:red}.a{color:blue}', [[1]], [[1]]],
    ['they are a fallback in one rule', 'a{height:1px;height:2px}.a{color:blue}', [[1]], [[1]]],
  ])('stay when %s', (_why, css, weak, strong) => {
    const elementsOf = elements({ a: weak, '.a': strong });
    expect(fold(css, { painted: ['a', '.a'], media: ['all'], elementsOf })).toBe(css);
  });
});

describe('a sheet that the browser reads otherwise', () => {
  it('is kept whole, its addresses written against the page', () => {
    const [sheet] = setOf(
      [flattenSheet(`${PAGE}css/a.css`, () => '.z{background:url(x.png)} /* ! */', PAGE)!],
      new Map(),
      { unsure: [`${PAGE}css/a.css`] },
    ).sheets;
    expect(sheet).toMatchObject({ whole: true, css: '.z{background:url(/css/x.png)} /* ! */' });
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
      everKeys: ['.a', '.b'],
      lists: ['.a::before', '.a', '.b'],
      nestedLists: [],
      media: ['print'],
      namespaces: [],
    });
  });
});

it('finds the widths where a layout may change', () => {
  expect(breakpointsIn(['(min-width: 48em) and (max-width: 991.98px)', 'print'])).toEqual([768, 992]);
});

it('counts compressed bytes as less than raw ones for repeating text', () => {
  expect(compressedBytes('a{b:c}'.repeat(200))).toBeLessThan(100);
});
