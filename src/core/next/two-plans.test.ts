import { expect, it } from 'vitest';
import { madeDifferently } from './two-plans.ts';

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
