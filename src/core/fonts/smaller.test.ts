import { describe, expect, it } from 'vitest';
import { othersThan, rangesOf, unicodeRange } from './smaller.ts';

describe('the signs that a smaller font file is for', () => {
  const has = (ranges: ReturnType<typeof rangesOf>, sign: string) =>
    ranges.some(([low, high]) => sign.codePointAt(0)! >= low && sign.codePointAt(0)! <= high);

  it('are those of texts that were seen, and what the next text may need', () => {
    const ranges = rangesOf('Ørkenes Ж', false);
    for (const sign of ['Ж', 'a', 'Z', 'é', 'ß', '“', '–', '…', '€', ' '])
      expect(has(ranges, sign)).toBe(true);
    for (const sign of ['Я', '漢', '\ue000']) expect(has(ranges, sign)).toBe(false);
  });

  it('are of icons only those that were seen, and the space that says how high a line is', () => {
    expect(rangesOf('\ue001\ue000\ue010', true)).toEqual([
      [0x20, 0x20],
      [0xe000, 0xe001],
      [0xe010, 0xe010],
    ]);
  });

  it('leave every other sign to the whole file: none is lost, and none is in both', () => {
    const ranges = rangesOf('Ж\u{1f6a2}', false);
    const others = othersThan(ranges);
    const all = [...ranges, ...others].sort((a, b) => a[0] - b[0]);
    expect(all[0]![0]).toBe(0);
    expect(all.at(-1)![1]).toBe(0x10ffff);
    for (const [index, [low]] of all.slice(1).entries()) expect(low).toBe(all[index]![1] + 1);
  });

  it('are written as style sheets say them', () => {
    expect(
      unicodeRange([
        [0x20, 0x7e],
        [0xe9, 0xe9],
        [0x1f6a2, 0x10ffff],
      ]),
    ).toBe('U+20-7E,U+E9,U+1F6A2-10FFFF');
  });
});
