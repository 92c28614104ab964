import { expect, it } from 'vitest';
import type { FaceFit } from '../fonts/fit.ts';
import { fitFaces } from './fit-faces.ts';

const fitOf = (family: string, face: Partial<FaceFit['face']> = {}): FaceFit => ({
  face: { family: family.toLowerCase(), weights: [400, 400], italic: false, ranges: null, ...face },
  fallbacks: [
    { name: `Arial fitted to ${family}`, css: `@font-face{font-family:"Arial fitted to ${family}"}` },
  ],
});
const KEEL = fitOf('Keel Sans');
const fitted = (css: string, ...fits: FaceFit[]) => fitFaces(css, fits.length ? fits : [KEEL]).css;

it.each([
  [
    'behind the family, before what the author falls back on',
    'p{font-family:"Keel Sans",serif}',
    'p{font-family:"Keel Sans","Arial fitted to Keel Sans",serif}',
  ],
  [
    'where it is not the first',
    "p{font-family:Wharf, 'keel sans' , serif}",
    'p{font-family:Wharf, \'keel sans\',"Arial fitted to Keel Sans" , serif}',
  ],
  [
    'alone, and important',
    'p{font-family: Keel Sans !important}',
    'p{font-family: Keel Sans,"Arial fitted to Keel Sans" !important}',
  ],
  [
    'in the shorthand, behind the size',
    'p{font:italic 700 1rem/1.5 "Keel Sans",serif}',
    'p{font:italic 700 1rem/1.5 "Keel Sans","Arial fitted to Keel Sans",serif}',
  ],
  [
    'in the shorthand, in several words without quotes',
    'p{font:bold 16px / 1.5 Keel  Sans}',
    'p{font:bold 16px / 1.5 Keel  Sans,"Arial fitted to Keel Sans"}',
  ],
  [
    'in the shorthand, behind what is reckoned',
    'p{font:var(--s) Keel Sans,serif}',
    'p{font:var(--s) Keel Sans,"Arial fitted to Keel Sans",serif}',
  ],
  [
    'in a list that a property of the author’s own holds',
    ':root{--text: "Keel Sans", serif}',
    ':root{--text: "Keel Sans","Arial fitted to Keel Sans", serif}',
  ],
])('names the fallback %s', (_, css, expected) => {
  expect(fitted(css)).toBe(expected);
});

it.each([
  ['another family', 'p{font-family:"Keel Sans Mono",serif}'],
  ['a family whose name ends alike', 'p{font:1em My Keel Sans,serif}'],
  ['a word that may stand for anything', ':root{--ship: "Keel Sans"}'],
  ['what only contains the name', 'p{content:"Keel Sans, serif";background:url("Keel Sans,serif")}'],
  ['a list with a comment in it, which is left as it is', 'p{font-family:"Keel Sans"/* x */,serif}'],
])('leaves alone %s', (_, css) => {
  expect(fitted(css)).toBe(css);
});

it('puts the rule behind the face that it stands in for, and behind no other', () => {
  const face = (more: string) => `@font-face{font-family:"Keel Sans";src:url(k.woff2)${more}}`;
  const put = KEEL.fallbacks[0]!.css;
  expect(fitted(`${face('')}${face(';font-weight:700')}@media print{p{color:red}}`)).toBe(
    `${face('')}${put}${face(';font-weight:700')}@media print{p{color:red}}`,
  );
  expect(fitted(face(';unicode-range:U+0-FF'))).toBe(face(';unicode-range:U+0-FF'));
  expect(fitted('p{color:red}@font-face{font-family:"Keel Sans";src:url(k.woff2)')).not.toContain('fitted');
});

it('leaves every other character alone, and tells each place before and after', () => {
  const css =
    '@charset "utf-8";\r\n/* a { */\r\np {\r\n  font-family : "Keel Sans" , serif;\r\n}\r\nq{color:red}}';
  const { css: out, changes } = fitFaces(css, [KEEL, fitOf('Wharf')]);
  expect(out).toBe(css.replace('"Keel Sans"', '"Keel Sans","Arial fitted to Keel Sans"'));
  expect(changes).toEqual([
    {
      families: ['keel sans'],
      before: 'font-family : "Keel Sans" , serif',
      after: 'font-family : "Keel Sans","Arial fitted to Keel Sans" , serif',
    },
  ]);
});
