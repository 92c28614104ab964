import { describe, expect, it } from 'vitest';
import { outlineOf, outlineText } from './outline.ts';
import { printSheet } from './print-sheet.ts';
import { parseSheet } from './parse-sheet.ts';

const print = (css: string) => printSheet(parseSheet(css, 'https://quay.test/a.css'));

describe('parseSheet recovers where CSS Syntax 3 says', () => {
  it.each([
    ['a stray closing bracket spoils the next rule', 'a{b:c} } d{e:f} g{h:i}', 'a{b:c}g{h:i}'],
    ['an open block ends with the file', 'a{b:c', 'a{b:c}'],
    ['so does a block in a block', '@media x{a{b:c}', '@media x{a{b:c}}'],
    ['so does a string', 'a{content:"x', 'a{content:"x"}'],
    ['so does a function', 'a{color:rgb(1,2', 'a{color:rgb(1,2)}'],
    ['so does an address', 'a{background:url(x.png', 'a{background:url(x.png)}'],
    ['so does a comment', 'a{b:c}/* ', 'a{b:c}'],
    ['a declaration that is none ends at its semicolon', 'a{b c d; e:f}', 'a{e:f}'],
    ['a string ends with its line, and its declaration is dropped', 'a{b:"c\n;d:e}', 'a{d:e}'],
    ['an address with a blank in it is dropped', 'a{b:url(c d);e:f}', 'a{e:f}'],
    ['brackets that do not match swallow what follows', 'a{b:(c;d:e} f{g:h}', 'a{}'],
    ['a closing bracket without its opening drops the declaration', 'a{b:c];d:e}', 'a{d:e}'],
    ['a declaration at the top is part of the next selector', 'a:b; c{d:e} f{g:h}', 'a:b; c{d:e}f{g:h}'],
    ['what looks like a custom property at the top is passed over', '--x:hover{a:b} c{d:e}', 'c{d:e}'],
    ['HTML comments are passed over', '<!-- a{b:c} -->', 'a{b:c}'],
    ['an at-rule without a block ends at its semicolon', '@odd x; a{b:c}', '@odd x;a{b:c}'],
  ])('%s', (_what, css, expected) => {
    expect(print(css)).toBe(expected);
  });

  it('reads nesting in every allowed form', () => {
    expect(print('a{b{c:d} e:f; &:hover{g:h} > i{j:k} @media (x){l:m; n{o:p}}}')).toBe(
      'a{b{c:d}e:f;&:hover{g:h}> i{j:k}@media (x){l:m;n{o:p}}}',
    );
  });

  it('keeps custom properties as they are, blocks and blanks included', () => {
    expect(print('a{--x: ;--y:{ a : b };--z:  1  2}')).toBe('a{--x: ;--y:{ a : b };--z:1  2}');
  });

  it('takes comments out without joining what they kept apart', () => {
    expect(print('/* 1 */a/* 2 */b , c{/* 3 */d/**/: /* 4 */e /**/}')).toBe('a/**/b,c{d:e}');
  });

  it('tells importance from the value', () => {
    const [rule] = parseSheet('a{b:c ! IMPORTANT;d:important}', 'x').nodes;
    expect(rule?.type === 'rule' && rule.nodes).toMatchObject([
      { prop: 'b', value: 'c', important: true },
      { prop: 'd', value: 'important' },
    ]);
  });

  it('keeps the line of every rule', () => {
    const root = parseSheet('a{b:c}\n\n@media x{\n d{e:f}}', 'x');
    const lines: (number | undefined)[] = [];
    root.walkRules((rule) => void lines.push(rule.source?.start?.line));
    expect(lines).toEqual([1, 4]);
  });
});

it('an outline lists style and grouping rules without what the browser rejects', () => {
  const root = parseSheet('a{b:c;d{e:f}} @media x{g{h:i}} :odd{j:k} @font-face{l:m} @layer n{}', 'x');
  expect(outlineText(outlineOf(root), new Set([':odd']))).toBe('r{r;}@media{r;}@layer;');
});
