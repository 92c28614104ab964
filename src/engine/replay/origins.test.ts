import { expect, it } from 'vitest';
import { replaceOrigins } from './origins.ts';

const PLACES: [string, string][] = [
  ['https://quay.test', 'http://h0.localhost:1'],
  ['https://quay.test:8443', 'http://h1.localhost:1'],
  ['https://cdn.test', 'http://h2.localhost:1'],
];

it.each([
  ['<a href="https://quay.test/a">', '<a href="http://h0.localhost:1/a">'],
  // One origin begins as another does.
  ['https://quay.test:8443/b', 'http://h1.localhost:1/b'],
  ['{"u":"https:\\/\\/cdn.test\\/c"}', '{"u":"http:\\/\\/h2.localhost:1\\/c"}'],
  // Without a scheme, however it is written down.
  ['<script src="//cdn.test/d.js">', '<script src="http://h2.localhost:1/d.js">'],
  ["load('//cdn.test/e.js')", "load('http://h2.localhost:1/e.js')"],
  ['load(`//cdn.test/f.js`)', 'load(`http://h2.localhost:1/f.js`)'],
  ['url(//cdn.test/g.png)', 'url(http://h2.localhost:1/g.png)'],
  ['<img src=//cdn.test/h.png>', '<img src=http://h2.localhost:1/h.png>'],
  // No address at all.
  ['x // cdn.test is slow', 'x // cdn.test is slow'],
])('writes an origin anew wherever it stands: %s', (text, expected) => {
  expect(replaceOrigins(text, PLACES)).toBe(expected);
});
