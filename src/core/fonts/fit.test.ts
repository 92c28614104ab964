import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { makeStandIns, WIDTHS_FILE } from '../../../tests/fonts/make-stand-ins.ts';
import { readFace } from './faces.ts';
import { fitFace } from './fit.ts';
import { readMeasures } from './measures.ts';
import { standInsFor } from './stand-ins.ts';
import { parseSheet } from '../css/parse-sheet.ts';
import type { AtRule } from 'postcss';

const fileOf = (family: string, cut = 'latin-400-normal.woff2') =>
  readFileSync(`node_modules/@fontsource/${family}/files/${family}-${cut}`);
const face = (more = '') =>
  readFace(parseSheet(`@font-face{font-family:Keel;src:url(k.woff2)${more}}`, '').first as AtRule);
const TEXT = 'The ferry to the outer islands leaves from the west quay at seven in the morning.';
const letters = (text: string) => {
  const found = new Map<number, number>();
  for (const one of text) found.set(one.codePointAt(0)!, (found.get(one.codePointAt(0)!) ?? 0) + 1);
  return found;
};
const value = (css: string, name: string) => new RegExp(`${name}:([^;}]*)`).exec(css)?.[1];

it('knows the widths of what systems come with, as the packages have them', () => {
  expect(JSON.parse(readFileSync(WIDTHS_FILE, 'utf8'))).toEqual(makeStandIns());
});

it.each(['woff2', 'woff'])('reads a font as %s', (format) => {
  const measures = readMeasures(fileOf('karla', `latin-400-normal.${format}`))!;
  expect([measures.ascent, measures.descent, measures.lineGap]).toEqual([0.917, 0.252, 0]);
  expect(measures.advance('a'.codePointAt(0)!)).toBe(0.5505);
  expect(measures.advance('船'.codePointAt(0)!)).toBeNull();
});

it('reads nothing of what is no font, is cut short, or would be unpacked to more than a font is', () => {
  const whole = fileOf('karla');
  const huge = Buffer.from(whole);
  // The length of the first table, as WOFF2 writes numbers (section 4.1).
  huge.set([0x8f, 0xff, 0xff, 0xff, 0x7f], 49);
  for (const bytes of [
    Buffer.from('GIF89a'),
    Buffer.alloc(0),
    whole.subarray(0, 60),
    huge,
    Buffer.alloc(3_000_000),
  ])
    expect(readMeasures(bytes)).toBeNull();
});

it('reads damaged fonts whole or not at all: nothing of them is looked for later', () => {
  let state = 7;
  const chance = (below: number) => (state = (state * 1_103_515_245 + 12_345) % 2 ** 31) % below;
  const fonts = ['woff2', 'woff'].map((format) => fileOf('karla', `latin-400-normal.${format}`));
  for (let round = 0; round < 60; round++) {
    const damaged = Buffer.from(fonts[round % 2]!);
    for (let byte = 0; byte < 1 + (round % 6); byte++)
      damaged[chance(round % 3 ? 400 : damaged.length)] = chance(256);
    const measures = readMeasures(damaged);
    if (!measures) continue;
    const fit = fitFace(face(), 'Keel', measures, letters(TEXT), 'sans-serif');
    for (const { css } of fit?.fallbacks ?? []) expect(css).not.toMatch(/NaN|Infinity|undefined/);
  }
});

it('sets a font of the system as wide as the text is in the page’s, and its line as high', () => {
  const measures = readMeasures(fileOf('karla'))!;
  const fit = fitFace(face(), 'Keel', measures, letters(TEXT), 'sans-serif')!;
  expect(fit.fallbacks.map((one) => one.name)).toEqual([
    'Arial fitted to Keel',
    'DejaVu Sans fitted to Keel',
    'Roboto fitted to Keel',
  ]);
  const arial = readMeasures(fileOf('arimo'))!;
  const width = (of: typeof arial) =>
    [...TEXT].reduce((sum, one) => sum + of.advance(one.codePointAt(0)!)!, 0);
  const { css } = fit.fallbacks[0]!;
  const size = width(measures) / width(arial);
  expect(parseFloat(value(css, 'size-adjust')!) / 100).toBeCloseTo(size, 3);
  expect((parseFloat(value(css, 'ascent-override')!) / 100) * size).toBeCloseTo(0.917, 3);
  expect((parseFloat(value(css, 'descent-override')!) / 100) * size).toBeCloseTo(0.252, 3);
  expect(value(css, 'line-gap-override')).toBe('0%');
  expect(css).toContain('src:local("Arial"),local("Liberation Sans"),local("Arimo"),local("ArialMT")');
});

it('takes the cut that the face has, and letters of the kind that the page falls back on', () => {
  const measures = readMeasures(fileOf('bitter', 'latin-700-normal.woff2'))!;
  const fit = fitFace(face(';font-weight:bold;font-style:italic'), 'Keel', measures, letters(TEXT), 'serif')!;
  expect(fit.fallbacks[0]!.css).toContain('local("Times New Roman Bold Italic")');
  expect(fit.fallbacks[0]!.css).toMatch(/font-weight:700;font-style:italic/);
  expect(standInsFor('monospace', 400, false)[0]!.family).toBe('Courier New');
});

it('stands in for the characters only that the face has: others are shown as they were', () => {
  const measures = readMeasures(fileOf('karla'))!;
  const range = (more: string) =>
    value(
      fitFace(face(more), 'Keel', measures, letters(TEXT), 'sans-serif')!.fallbacks[0]!.css,
      'unicode-range',
    )!;
  expect(range('')).toMatch(/^U\+20-7E,U\+A0-/);
  expect(range('')).not.toMatch(/U\+4\d\d/);
  expect(range(';unicode-range:U+41-5A,U+61-7A,U+20')).toBe('U+20,U+41-5A,U+61-7A');
});

it('fits nothing where there is too little text to say how wide it is', () => {
  const measures = readMeasures(fileOf('karla'))!;
  expect(fitFace(face(), 'Keel', measures, letters('Quay'), 'sans-serif')).toBeNull();
  expect(fitFace(face(';unicode-range:U+400-4FF'), 'Keel', measures, letters(TEXT), 'sans-serif')).toBeNull();
});
