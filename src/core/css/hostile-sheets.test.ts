import { describe, expect, it } from 'vitest';
import { flattenSheet } from './flatten.ts';
import { parseSheet } from './parse-sheet.ts';
import { printSheet } from './print-sheet.ts';

/** What is quadratic takes minutes with these, and what recurs overflows. */
const LIMIT = { timeout: 20_000 };
const PAGE = 'https://quay.test/';
const times = (text: string, count: number) => text.repeat(count);
const flat = (files: Record<string, string>) =>
  flattenSheet(`${PAGE}a.css`, (url) => files[url.replace(PAGE, '')] ?? null, PAGE)!;

describe('sheets that are made to be hard to read', LIMIT, () => {
  it('comments without end: what they stand in is read', () => {
    const sheet = parseSheet(`a${times('/**/', 100_000)}b${times('/**/ ', 100_000)}{c:d}`, 'a.css');
    expect(sheet.nodes).toHaveLength(1);
    expect(printSheet(sheet)).toMatch(/^a(\/\*\*\/)+b\{c:d\}$/);
  });

  it('blocks in blocks: as deep as anybody writes them, and what comes behind', () => {
    for (const open of ['a{', '@media all{', '&{b:c;']) {
      const root = parseSheet(`${times(open, 20_000)}${times('}', 20_000)}x{y:z}`, 'a.css');
      expect(printSheet(root)).toMatch(/x\{y:z\}$/);
    }
    const deep = parseSheet(`${times('@media all{', 100)}x{y:z}${times('}', 100)}`, 'a.css');
    expect(printSheet(deep)).toContain('x{y:z}');
  });

  it('imports that double at each step: as many as are needed, and it is told', () => {
    const names = Array.from({ length: 40 }, (_, index) => `s${index}.css`);
    const files = Object.fromEntries(
      names.map((name, index) => [
        name,
        `@import "${names[index + 1]}";@import "/${names[index + 1]}";b{c:d}`,
      ]),
    );
    const sheet = flat({ ...files, 'a.css': '@import "s0.css";e{f:g}' });
    expect(sheet.parts.length).toBeLessThanOrEqual(400);
    expect(sheet.problems.filter((one) => one.startsWith('Too much is imported'))).toHaveLength(1);
    expect(printSheet(sheet.root)).toMatch(/e\{f:g\}$/);
  });

  it('an address that is none: the import is as if it were not there', () => {
    const sheet = flat({ 'a.css': '@import "http://[";e{f:g}' });
    expect(printSheet(sheet.root)).toBe('e{f:g}');
  });
});
