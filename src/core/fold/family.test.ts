import { describe, expect, it } from 'vitest';
import { flattenSheet } from '../css/flatten.ts';
import { joinAnswers, oneSetBytes, recommendedChoice } from './family.ts';
import type { StoredAnswers } from './record.ts';

const page = (name: string, ownBytes: number, oneSetBytes: number) => ({ name, ownBytes, oneSetBytes });
const said = (over: Partial<StoredAnswers>): StoredAnswers => ({
  concerns: [],
  neededBy: [],
  everUsed: [],
  rejected: [],
  liveMedia: [],
  faces: [],
  outsideCss: '',
  ...over,
});

describe('a family', () => {
  it('is better off with one set when that costs no page much', () => {
    expect(recommendedChoice([page('a', 4_000, 4_900), page('b', 4_200, 4_900)])).toBe('one set');
    expect(recommendedChoice([page('a', 4_000, 6_000), page('b', 5_800, 6_000)])).toBe('each its own');
    expect(recommendedChoice([page('a', 4_000, 4_000)])).toBe('each its own');
  });

  it('keeps for all what concerns one of them, the strongest concern winning', () => {
    const { answers } = joinAnswers([
      said({ concerns: [['.a', 'hidden']], liveMedia: ['(min-width: 1px)'] }),
      said({
        concerns: [
          ['.a', 'painted'],
          ['.b', 'shaping'],
        ],
      }),
    ]);
    expect([...answers.concerns]).toEqual([
      ['.a', 'painted'],
      ['.b', 'shaping'],
    ]);
    expect([...answers.liveMedia]).toEqual(['(min-width: 1px)']);
  });

  it('has one set at least as large as the largest of its own', () => {
    const rules = Array.from(
      { length: 40 },
      (_one, index) => `.r${index}{padding:${index}px ${index * 7}px}`,
    );
    const sheet = flattenSheet('https://quay.test/a.css', () => rules.join(''), 'https://quay.test/')!;
    const needs = (from: number, to: number) =>
      said({ concerns: rules.slice(from, to).map((one) => [one.split('{')[0]!, 'painted']) });
    const size = (...pages: StoredAnswers[]) => oneSetBytes([sheet], pages, [], 'https://quay.test/');
    expect(size(needs(0, 20), needs(20, 40))).toBeGreaterThan(size(needs(0, 20)));
    expect(size(needs(0, 20), needs(5, 15))).toBe(size(needs(0, 20)));
  });
});
