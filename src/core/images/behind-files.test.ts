import { expect, it } from 'vitest';
import { resolve } from '../html/assets.ts';
import { withBehindFiles, type BehindFile } from './behind-files.ts';

const PAGE = 'https://quay.test/';
const option = (name: string, density: number) => ({ url: `${PAGE}${name}`, density, type: 'image/avif' });
const FILES = new Map<string, BehindFile>([
  [`${PAGE}sea.jpg`, { wide: [option('sea-wide.avif', 0.5)], narrow: [option('sea-narrow.avif', 0.25)] }],
  [`${PAGE}sky.jpg`, { wide: [option('sky.avif', 1)], narrow: null }],
  [`${PAGE}fog.jpg`, { wide: null, narrow: [option('fog.avif', 0.2)] }],
]);
const addresses = {
  read: (address: string) => resolve(address, `${PAGE}css/site.css`),
  write: (url: string) => url.replace(PAGE, '/'),
};
const beside = (css: string) => withBehindFiles(css, addresses, FILES).css;

const SEA = 'image-set("/sea-wide.avif" 0.5x type("image/avif"))';
const SEA_NARROW = 'image-set("/sea-narrow.avif" 0.25x type("image/avif"))';
const SKY = 'image-set("/sky.avif" 1x type("image/avif"))';

it('puts other files right behind the authored declaration, and those for narrow screens behind its rule', () => {
  expect(beside('p{color:red}header { background: url(../sea.jpg) center / cover; color: #fff }b{}')).toBe(
    `p{color:red}header { background: url(../sea.jpg) center / cover;background-image:${SEA}; color: #fff }@media (max-width:820px){header{background-image:${SEA_NARROW}}}b{}`,
  );
  expect(beside(`a{background-image:url("../sky.jpg") !important}`)).toBe(
    `a{background-image:url("../sky.jpg") !important;background-image:${SKY}!important}`,
  );
});

it('keeps all other pictures of the declaration, and their order', () => {
  const css = '.a{background:linear-gradient(rgba(0,0,0,.5),red),url(/sea.jpg),url(/sky.jpg) no-repeat,#123}';
  const gradient = 'linear-gradient(rgba(0,0,0,.5),red)';
  expect(beside(css)).toBe(
    `${css.slice(0, -1)};background-image:${gradient},${SEA},${SKY},none}@media (max-width:820px){.a{background-image:${gradient},${SEA_NARROW},${SKY},none}}`,
  );
});

it('leaves wide screens the file itself where that is right there', () => {
  expect(beside('.a{background:url(/fog.jpg)}')).toBe(
    '.a{background:url(/fog.jpg)}@media (max-width:820px){.a{background-image:image-set("/fog.avif" 0.2x type("image/avif"))}}',
  );
});

it('says for narrow screens only what still counts at the end of its rule, within what stands around it', () => {
  const later = '.a{background:url(/sea.jpg);color:red;background:none}';
  expect(beside(later)).toBe(
    `.a{background:url(/sea.jpg);background-image:${SEA};color:red;background:none}`,
  );
  expect(beside('@media print{@layer a{.a{background:url(/sea.jpg)}}}')).toBe(
    `@media print{@layer a{.a{background:url(/sea.jpg);background-image:${SEA}}@media (max-width:820px){.a{background-image:${SEA_NARROW}}}}}`,
  );
});

it.each([
  ['names another file', '.a{background:url(/quay.jpg)}'],
  ['goes by a value that is not known before it is used', '.a{background:url(/sea.jpg) var(--place)}'],
  ['chooses between files already', '.a{background-image:image-set(url(/sea.jpg) 1x)}'],
  ['is no declaration of a background', '.a{mask-image:url(/sea.jpg);--sea:url(/sea.jpg)}'],
  ['is a frame of an animation', '@keyframes a{to{background:url(/sea.jpg)}}'],
  ['is cut off', '.a{color:red}.b{background:url(/sea.jpg)'],
  ['is cut off within the address', '.b{background:url(/sea.jpg'],
])('leaves alone what %s', (_what, css) => {
  expect(withBehindFiles(css, addresses, FILES)).toEqual({ css, changes: [] });
});

it('tells what changed, rule by rule, in texts with any line ends', () => {
  const css = '/* a */\r\n.a {\r\n  background: url(/sky.jpg);\r\n}\r\n.b{}';
  const { css: whole, changes } = withBehindFiles(css, addresses, FILES);
  expect(whole).toBe(css.replace('sky.jpg);', `sky.jpg);background-image:${SKY};`));
  expect(changes).toEqual([
    {
      urls: [`${PAGE}sky.jpg`],
      before: '.a {\r\n  background: url(/sky.jpg);\r\n}',
      after: `.a {\r\n  background: url(/sky.jpg);background-image:${SKY};\r\n}`,
    },
  ]);
});
