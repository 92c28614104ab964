import { expect, it } from 'vitest';
import { swapFaces } from './swap-faces.ts';

const swapped = (css: string, ...families: string[]) => swapFaces(css, new Set(families)).css;

it('sets swap in the faces of the families, and leaves others as they are', () => {
  expect(swapped('@font-face{font-family:A;font-display:block}@font-face{font-family:B}', 'a')).toBe(
    '@font-face{font-display:swap;font-family:A;}@font-face{font-family:B}',
  );
});

it('leaves every other character alone, line ends and comments too', () => {
  const css =
    '/* a { */\r\n@charset "utf-8";\r\n@FONT-FACE {\r\n  font-family: "Keel Sans"; /* x */\r\n  FONT-DISPLAY : block;\r\n  src: url(k.woff2);\r\n}\r\np { color: red }\r\n';
  expect(swapped(css, 'keel sans')).toBe(
    css.replace('@FONT-FACE {', '@FONT-FACE {font-display:swap;').replace('FONT-DISPLAY : block;', ''),
  );
});

it('works on a sheet that has errors: a stray brace at its end, a block without one', () => {
  expect(swapped('@font-face{font-family:A}p{color:red}}', 'a')).toBe(
    '@font-face{font-display:swap;font-family:A}p{color:red}}',
  );
  expect(swapped('p{color:red}@font-face{font-family:A;src:url(a)', 'a')).toBe(
    'p{color:red}@font-face{font-display:swap;font-family:A;src:url(a)',
  );
});

it('tells each face before and after, also within another rule', () => {
  const { faces } = swapFaces('@media screen{@font-face{font-family:A;font-display:auto}}', new Set(['a']));
  expect(faces).toEqual([
    {
      family: 'a',
      before: '@font-face{font-family:A;font-display:auto}',
      after: '@font-face{font-display:swap;font-family:A;}',
    },
  ]);
});
