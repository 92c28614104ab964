import { parse } from 'postcss';
import { describe, expect, it } from 'vitest';
import { readFace, type PaintedFace } from '../fonts/faces.ts';
import { closeOver, type OutsideNeeds } from './closure.ts';

/** What is left of sheets once closed over, white space apart. */
function closed(css: string | string[], outside: Partial<OutsideNeeds> = {}): string {
  const roots = [css].flat().map((text) => parse(text));
  closeOver(roots, { css: '', faces: [], ...outside });
  return roots
    .map(String)
    .join('')
    .replaceAll(/\s+/g, ' ')
    .replaceAll(/\s*([{};:,])\s*/g, '$1')
    .trim();
}

const wants = (over: Partial<PaintedFace> = {}): PaintedFace => ({
  families: ['quay'],
  weight: 400,
  italic: false,
  characters: 'abc',
  ...over,
});

describe('custom properties', () => {
  it('stay when something kept reads them, directly or through another, in any sheet', () => {
    expect(
      closed([
        ':root { --ink: #123; --edge: 1px solid var(--ink); --idle: 1px; --idle-too: var(--idle) }',
        'h1 { border: var(--edge) }',
      ]),
    ).toBe(':root{--ink:#123;--edge:1px solid var(--ink)}h1{border:var(--edge)}');
  });

  it('stay when a style attribute or an inline sheet of the page reads them', () => {
    expect(closed(':root { --a: 1px; --b: 2px }', { css: 'margin: var(--b, var(--c))' })).toBe(
      ':root{--b:2px}',
    );
  });

  it('that refer to each other in a circle do not keep each other', () => {
    expect(closed(':root { --a: var(--b); --b: var(--a) } p { top: 0 }')).toBe('p{top:0}');
  });

  it('stay when a container or a supports condition asks for them, with what registers them', () => {
    expect(
      closed(
        `@property --side { syntax: '<length>'; inherits: true; initial-value: 0px }
         @property --none { syntax: '<length>'; inherits: true; initial-value: 0px }
         main { --side: 1px; --none: 2px }
         @container style(--side: 1px) { p { top: 0 } }`,
      ),
    ).toBe(
      "@property --side{syntax:'<length>';inherits:true;initial-value:0px}main{--side:1px}@container style(--side:1px){p{top:0}}",
    );
  });

  it('of an escaped name are the same as those written plainly', () => {
    expect(closed(':root { --a: 1px } p { top: var(--\\61) }')).toBe(':root{--a:1px}p{top:var(--\\61)}');
  });

  it('leave no empty rule behind, but the order of layers', () => {
    expect(
      closed('@layer base, page; @layer base { :root { --idle: 1px } } @media print { :root { --b: 1 } }'),
    ).toBe('@layer base,page;@layer base');
  });
});

describe('position fallbacks', () => {
  it('stay when they are named', () => {
    expect(
      closed(
        '@position-try --below { top: 0 } @position-try --above { bottom: 0 } .tip { position-try-fallbacks: --below }',
      ),
    ).toBe('@position-try --below{top:0}.tip{position-try-fallbacks:--below}');
  });
});

describe('keyframes and counter styles', () => {
  const FRAMES = '@keyframes tide { to { opacity: 1 } } @keyframes ebb { to { opacity: 0 } }';

  it.each([
    ['by the shorthand', '.a { animation: 2s ease tide }'],
    ['by name', '.a { animation-name: tide }'],
    ['by name in quotes', '.a { animation-name: "tide" }'],
    ['through a custom property', ':root { --move: tide 2s } .a { animation: var(--move) }'],
    ['with a prefix', '.a { -webkit-animation-name: tide }'],
  ])('stay when named %s', (_how, css) => {
    expect(closed(FRAMES + css)).toContain('@keyframes tide');
    expect(closed(FRAMES + css)).not.toContain('ebb');
  });

  it('are not kept by a name within other keyframes', () => {
    expect(
      closed(
        '@keyframes a { to { animation-name: b } } @keyframes b { to { top: 0 } } p { animation: a 1s }',
      ),
    ).toBe('@keyframes a{to{animation-name:b}}p{animation:a 1s}');
  });

  it('of lists and generated content stay when used', () => {
    const styles =
      '@counter-style knots { system: cyclic; symbols: "~" } @counter-style bells { system: cyclic; symbols: "!" }';
    expect(closed(`${styles} ol { list-style: knots }`)).not.toContain('bells');
    expect(closed(`${styles} p::before { content: counter(n, bells) }`)).toContain('@counter-style bells');
  });
});

describe('faces', () => {
  const face = (weight: string, more = '') =>
    `@font-face { font-family: Quay; font-weight: ${weight}; src: url(q-${weight.replace(' ', '-')}.woff2); ${more} }`;
  const kept = (css: string, want: PaintedFace) =>
    [...closed(css, { faces: [want] }).matchAll(/q-([\w-]+)\.woff2/g)].map((match) => match[1]);

  it('that paint nothing above the fold go', () => {
    expect(closed(face('400'), { faces: [] })).toBe('');
    expect(closed(face('400'), { faces: [wants({ families: ['pier'] })] })).toBe('');
  });

  // CSS Fonts 4, section 5.2: what is looked for, what there is, what is taken.
  it.each([
    [400, ['400', '700'], ['400']],
    [400, ['500', '300'], ['500']],
    [450, ['400', '500'], ['500']],
    [500, ['400', '600'], ['400']],
    [600, ['400', '900'], ['900']],
    [600, ['500', '700'], ['700']],
    [900, ['400', '700'], ['700']],
    [300, ['200', '400'], ['200']],
    [300, ['400', '700'], ['400']],
    [650, ['100 900', '700'], ['100-900']],
    [950, ['100 900', '400'], ['100-900']],
  ])('for weight %i of %j keeps %j', (weight, all, taken) => {
    expect(kept(all.map((one) => face(one)).join(''), wants({ weight }))).toEqual(taken);
  });

  it('by words are the weights they stand for', () => {
    expect(kept(face('normal') + face('bold'), wants({ weight: 700 }))).toEqual(['bold']);
  });

  it('of the wanted slant come first; without one the upright is slanted', () => {
    const both = face('400') + face('700', 'font-style: italic');
    expect(kept(both, wants({ italic: true }))).toEqual(['700']);
    expect(kept(both, wants())).toEqual(['400']);
    expect(kept(face('400'), wants({ italic: true }))).toEqual(['400']);
  });

  it('for other characters go', () => {
    const ranged = (name: string, range: string) =>
      `@font-face { font-family: 'Quay'; src: url(q-${name}.woff2); unicode-range: ${range} }`;
    const css =
      ranged('latin', 'U+0000-00FF, U+0131') + ranged('greek', 'u+370-3ff') + ranged('wild', 'U+4??');
    expect(kept(css, wants())).toEqual(['latin']);
    expect(kept(css, wants({ characters: 'aΩЖ' }))).toEqual(['latin', 'greek', 'wild']);
    expect(kept(css, wants({ characters: '😀' }))).toEqual([]);
  });

  it('are read descriptor by descriptor, the last of each', () => {
    const rule = parse(
      "@font-face { FONT-FAMILY: 'Old Quay'; font-family: \"Quay\"; font-weight: 200 800; font-style: oblique 10deg; font-display: swap; src: local(Quay); src: url(q.woff2) format('woff2'); unicode-range: U+41 }",
    ).first;
    expect(readFace(rule as Parameters<typeof readFace>[0])).toEqual({
      family: 'quay',
      weights: [200, 800],
      italic: true,
      ranges: [[0x41, 0x41]],
      sources: ['local(Quay)', "url(q.woff2) format('woff2')"],
      display: 'swap',
    });
  });

  it('keep the features and palettes of their family', () => {
    const css =
      '@font-feature-values Quay, Pier { @styleset { old: 1 } } @font-feature-values Mole { @styleset { old: 1 } }' +
      '@font-palette-values --dusk { font-family: "Quay"; base-palette: 1 } @font-palette-values --dawn { font-family: Mole; base-palette: 2 }';
    const left = closed(css, { faces: [wants()] });
    expect(left).toContain('@font-feature-values Quay');
    expect(left).toContain('@font-palette-values --dusk');
    expect(left).not.toContain('Mole');
  });
});
