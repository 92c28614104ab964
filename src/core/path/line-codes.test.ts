import { expect, it } from 'vitest';
import { lineAbout, lineCodes } from './line-codes.ts';

const bill = [
  { code: 'parse', label: 'parsing the HTML' },
  { code: 'script-ran', url: 'https://quay.test/lib.4f2a91bc.js?v=2', label: 'running lib.js' },
  { code: 'parse', label: 'parsing the HTML' },
  { code: 'last-frame', label: 'painting' },
] as const;

it('knows lines by what they are about, whichever release, and counts those that are about the same', () => {
  expect(lineCodes(bill)).toEqual(['parse', 'script-ran https://quay.test/lib.js', 'parse (2)', 'paint']);
});

it('finds the line of a remark by its code, of an older remark by its words', () => {
  expect(lineAbout(bill, 'parse (2)')).toBe(2);
  expect(lineAbout(bill, 'running lib.js')).toBe(1);
  expect(lineAbout(bill, 'script-ran https://quay.test/gone.js')).toBe(-1);
});
