import { describe, expect, it } from 'vitest';
import { resolveNesting, splitSelectors, withoutPseudoElements } from './selectors.ts';

describe('splitSelectors', () => {
  it('splits at the commas that separate selectors and at no others', () => {
    expect(splitSelectors('.a:is(.b, .c), [title="x,y"] > p')?.map((p) => p.source)).toEqual([
      '.a:is(.b, .c)',
      '[title="x,y"] > p',
    ]);
  });

  it('gives null for a list that cannot be read', () => {
    expect(splitSelectors('.a, ..b')).toBeNull();
  });
});

describe('withoutPseudoElements', () => {
  it.each([
    ['.a::before', '.a'],
    ['.a:after', '.a'],
    ['::selection', '*'],
    ['.a > ::before', '.a>*'],
    ['.a::-webkit-scrollbar:hover', '.a'],
    ['.a:hover', '.a:hover'],
    ['a:not(:hover)', 'a:not(:hover)'],
    ['.a', '.a'],
  ])('%s is asked as %s', (selector, key) => {
    expect(withoutPseudoElements(selector)).toBe(key);
  });
});

describe('resolveNesting', () => {
  it.each([
    ['&:hover', '.a', ':is(.a):hover'],
    ['.b', '.a', ':is(.a) .b'],
    ['> .b', '.a', ':is(.a) > .b'],
    ['.c &', '.a, .d', '.c :is(.a, .d)'],
    ['b, & + &', '.a', ':is(.a) b, :is(.a) + :is(.a)'],
  ])('%s in %s', (nested, parent, expected) => {
    expect(resolveNesting(nested, parent)).toBe(expected);
  });
});
