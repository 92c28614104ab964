import { expect, it } from 'vitest';
import { madeDifferently } from './two-plans.ts';

const made = (...files: [name: string, content: string | Uint8Array][]) => ({
  files: files.map(([name, content]) => ({
    url: `https://quay.test/${name}`,
    mimeType: 'text/css',
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
