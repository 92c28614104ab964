import { expect, it } from 'vitest';
import { FileNames } from './file-names.ts';

it('keeps the paths of the page’s own host, and puts others under theirs', () => {
  const names = new FileNames([], 'quay.test');
  expect(names.of('https://quay.test/assets/own.css')).toBe('assets/own.css');
  expect(names.of('https://letters.test:8443/faces.css')).toBe('letters.test_8443/faces.css');
  expect(names.of('https://quay.test/')).toBe('index');
});

it('never names two files alike, nor as what is ours, nor out of the folder', () => {
  const names = new FileNames(['page.html', 'plan.json'], 'quay.test');
  expect(
    [
      'page.html',
      'Plan.json',
      'a.css?v=1',
      'a.css?v=2',
      'A.css',
      '%2e%2e/%2e%2e/up.css',
      '..%5c..%5cup.css',
      '%E0%A4%A',
      '__proto__',
    ].map((path) => names.of(`https://quay.test/${path}`)),
  ).toEqual([
    'page-2.html',
    'Plan-2.json',
    'a.css',
    'a-2.css',
    'A-3.css',
    'up.css',
    'up-2.css',
    '-E0-A4-A',
    '__proto__',
  ]);
});
