import { expect, it } from 'vitest';
import { filesApart, madeDifferently } from './two-plans.ts';

const made = (...files: [name: string, content: string | Uint8Array][]) => ({
  files: files.map(([name, content]) => ({
    url: `https://quay.test/${name}`,
    mimeType: name.endsWith('.css') ? 'text/css' : 'text/javascript',
    content,
    isNew: false,
  })),
});

it('finds the file that two plans make different ones of: only one can lie there', () => {
  const home = made(['site.css', 'p{color:teal}'], ['home.css', 'h1{}']);
  expect(madeDifferently(home, made(['times.css', 'td{}']))).toBeNull();
  expect(madeDifferently(home, made(['site.css', new TextEncoder().encode('p{color:teal}')]))).toBeNull();
  expect(madeDifferently(home, made(['times.css', 'td{}'], ['site.css', 'p{color:navy}']))).toBe(
    'https://quay.test/site.css',
  );
  expect(madeDifferently(home, made(['site.css', 'p{color:teal} ']))).not.toBeNull();
});

it('takes sheets for one that fit a fallback each to its own text, and nothing else', () => {
  const fitted = (width: string, weight = 400) =>
    `@font-face{font-family:"Arial fitted to Keel";font-weight:${weight};size-adjust:${width}%;ascent-override:${width}%}`;
  expect(madeDifferently(made(['type.css', fitted('98.28')]), made(['type.css', fitted('97.5')]))).toBeNull();
  expect(
    madeDifferently(made(['type.css', fitted('98.28')]), made(['type.css', fitted('97.5', 700)])),
  ).not.toBeNull();
  expect(
    madeDifferently(made(['type.js', fitted('98.28')]), made(['type.js', fitted('97.5')])),
  ).not.toBeNull();
});

it('tells, file by file, how what two pages’ plans do with it goes together', () => {
  const sheet = (width: string) => `@font-face{font-family:"Arial fitted to Keel";size-adjust:${width}%}`;
  const delivered = (loads: string[], ...files: Parameters<typeof made>) => ({
    ...made(...files),
    loads: new Set(loads.map((name) => `https://quay.test/${name}`)),
  });
  const shared = ['type.css', 'site.css', 'menu.js', 'signs.css', 'far.css'];
  const home = delivered(
    shared,
    ['type.css', sheet('98.28')],
    ['site.css', 'p{color:teal}'],
    ['menu.js', 'open()'],
    ['signs.css', 'i{}'],
    ['home.css', 'h1{}'],
  );
  const times = delivered(
    shared,
    ['type.css', sheet('97.5')],
    ['site.css', 'p{color:navy}'],
    ['menu.js', 'open()'],
    ['far.css', 'b{}'],
    ['times.css', 'td{}'],
  );
  const told = (one: typeof home, other: typeof home) =>
    filesApart(one, other).map(({ url, apart }) => `${new URL(url).pathname} ${apart}`);
  expect(told(home, times)).toEqual([
    '/type.css two fits',
    '/site.css two files',
    '/signs.css changed here',
    '/far.css changed there',
  ]);
  expect(told(times, home)).toContain('/far.css changed here');
});
