import { describe, expect, it } from 'vitest';
import { flattenSheet } from '../css/flatten.ts';
import { chooseRules } from './choose.ts';
import type { Concern } from './declarations.ts';
import { restOf } from './late-rest.ts';

const PAGE = 'https://quay.test/';

function rest(css: string, kept: string[], everUsed: string[] | null = null) {
  const sheet = flattenSheet(`${PAGE}a.css`, () => css, PAGE)!;
  const concerns = new Map(kept.map((key): [string, Concern] => [key, 'painted']));
  const chosen = chooseRules(sheet, {
    concerns,
    neededBy: new Map(),
    rejected: new Set(),
    liveMedia: new Set(['all']),
  });
  return restOf(sheet, chosen, everUsed && new Set(everUsed));
}

describe('the late rest of a sheet', () => {
  it('is without the rules that are inlined word for word', () => {
    expect(rest('.a{color:red}.b{top:0}', ['.a'])).toEqual({ css: '.b{top:0}', taken: 1, unused: 0 });
  });

  it('keeps a rule that an earlier one of the same weight would now override', () => {
    expect(rest('.b{color:blue}.a{color:red}', ['.a'])).toMatchObject({
      css: '.b{color:blue}.a{color:red}',
      taken: 0,
    });
    expect(rest('.b{margin-top:1px}.a{margin:0}', ['.a']).taken).toBe(0);
    expect(rest('.b{top:1px}.a{inset:0}', ['.a']).taken).toBe(0);
  });

  it('takes it out where the earlier one is weaker, stronger, or of other properties', () => {
    expect(rest('b{color:blue}.a{color:red}', ['.a']).taken).toBe(1);
    expect(rest('#b{color:blue}.a{color:red}', ['.a']).taken).toBe(1);
    expect(rest('.b{padding:0}.a{color:red}', ['.a']).taken).toBe(1);
    expect(rest('.b{color:blue!important}.a{color:red}', ['.a']).taken).toBe(1);
  });

  it('keeps what a rule that had to stay would now override', () => {
    // .x keeps .a in the rest; .a would then come after .c, which stood behind it.
    expect(rest('.x{color:blue}.a{color:red}.c{color:green}', ['.a', '.c']).taken).toBe(0);
  });

  it.each([
    ['kept in part', '.a,.z{color:red}'],
    ['in a layer', '@layer x{.a{color:red}}'],
    ['nested', '.p{.a{color:red}}'],
    ['of everything', '.b{all:unset}.a{color:red}'],
  ])('keeps a rule that is %s', (_what, css) => {
    expect(rest(css, ['.a', ':is(.p) .a']).taken).toBe(0);
  });

  it('sets aside what nothing uses, when it is told what is used', () => {
    expect(rest('.a{color:red}.b{top:0}.c{left:0}@media all{.c{left:1px}}', ['.a'], ['.a', '.b'])).toEqual({
      css: '.b{top:0}',
      taken: 1,
      unused: 2,
    });
  });
});
