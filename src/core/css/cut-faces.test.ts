import { expect, it } from 'vitest';
import { cutFaces } from './cut-faces.ts';

const BASE = 'https://quay.test/css/site.css';
const KEEL = 'https://quay.test/fonts/keel.ttf';
const cuts = new Map([
  [
    KEEL,
    {
      url: KEEL,
      smaller: 'https://quay.test/wistrel/keel.woff2',
      ranges: [
        [0x20, 0x7e],
        [0xe9, 0xe9],
      ] as const,
    },
  ],
]);
const cut = (css: string) =>
  cutFaces(
    css,
    {
      read: (address) => (URL.canParse(address, BASE) ? new URL(address, BASE).href : null),
      write: (url) => new URL(url).pathname,
    },
    cuts,
  );
const FEW = 'unicode-range:U+20-7E,U+E9;';
const OTHERS = 'unicode-range:U+0-1F,U+7F-E8,U+EA-10FFFF;';
const SMALLER = 'url("/wistrel/keel.woff2") format("woff2"),';

it('makes two faces of one: the smaller file for its signs, the whole one for all others', () => {
  const face = (inside: string) => `@font-face {${inside} font-family: Keel; font-weight: 700; `;
  expect(cut(`${face('')}src: url(../fonts/keel.ttf) }\np { color: red }`).css).toBe(
    `${face(FEW)}src: ${SMALLER}url(../fonts/keel.ttf) }${face(OTHERS)}src: url(../fonts/keel.ttf) }\np { color: red }`,
  );
});

it('puts the smaller file right before the whole one, so that what stands before it still comes first', () => {
  const list = 'local("Keel"), url("/fonts/keel.eot?#iefix") format("embedded-opentype"), ';
  const { css } = cut(
    `@font-face{font-family:Keel;src:url(/fonts/keel.eot);src:${list}url('/fonts/keel.ttf')}`,
  );
  expect(css).toContain(`src:url(/fonts/keel.eot);src:${list}${SMALLER}url('/fonts/keel.ttf')}`);
});

it('leaves alone a face of other files, one that says its signs itself, and one that is never closed', () => {
  for (const css of [
    '@font-face{font-family:Hull;src:url(../fonts/hull.ttf)}',
    '@font-face{font-family:Keel;src:url(../fonts/keel.ttf);unicode-range:U+0-FF}',
    '@font-face{font-family:Keel;src:url(../fonts/keel.ttf)',
    '.keel{background:url(../fonts/keel.ttf)}',
  ])
    expect(cut(css)).toEqual({ css, changes: [] });
});

it('keeps line ends and comments as they are, and tells each face before and after', () => {
  const before = '@FONT-FACE{\r\n  font-family: Keel; /* } */\r\n  src: url( "../fonts/keel.ttf" );\r\n}';
  const { css, changes } = cut(`/* a */\r\n${before}\r\np{}\r\n`);
  const after = `${before.replace('{', `{${FEW}`).replace('url(', `${SMALLER}url(`)}${before.replace('{', `{${OTHERS}`)}`;
  expect(css).toBe(`/* a */\r\n${after}\r\np{}\r\n`);
  expect(changes).toEqual([{ url: KEEL, before, after }]);
});
