import { describe, expect, it } from 'vitest';
import { encodingOf } from './encoding.ts';
import { attributeValue, cssIn, markupIn, styleElement } from './markup.ts';

const latin = (text: string) => Uint8Array.from(text, (letter) => letter.charCodeAt(0));
const utf8 = (text: string) => new TextEncoder().encode(text);

describe('the encoding of a page', () => {
  it.each([
    [
      'a mark at its head, whatever else is said',
      latin('\xef\xbb\xbf<p>'),
      'text/html; charset=iso-8859-1',
      'utf-8',
    ],
    ['a mark of two bytes', latin('\xff\xfe<\0'), '', 'utf-16le'],
    [
      'the header, before the page itself',
      latin('<meta charset="utf-8">'),
      'text/html; charset="ISO-8859-2"',
      'iso-8859-2',
    ],
    ['a meta of its own', latin('<head><meta charset=shift_jis>'), 'text/html', 'shift_jis'],
    [
      'a meta of the longer sort',
      latin('<meta http-equiv="content-type" content="text/html; charset=koi8-r">'),
      '',
      'koi8-r',
    ],
    [
      'a meta, where the header says nonsense',
      latin('<meta charset="windows-1251">'),
      'text/html; charset=nonsense',
      'windows-1251',
    ],
    ['nothing, being UTF-8', utf8('<p>Übersicht'), '', 'utf-8'],
    ['nothing, being something else', latin('<p>\xdcbersicht'), '', 'windows-1252'],
    ['a meta too late to be seen', latin(`<!--${'x'.repeat(1_024)}--><meta charset="koi8-r">`), '', 'utf-8'],
  ])('is told by %s', (_how, bytes, header, encoding) => {
    expect(encodingOf(bytes, header)).toBe(encoding);
  });
});

describe('what is written into a page', () => {
  it('is as it is in UTF-8, and only plain letters in any other', () => {
    expect(markupIn('utf-8', '<a title="Fähre">')).toBe('<a title="Fähre">');
    expect(markupIn('windows-1252', '<a title="Fähre 😀">')).toBe('<a title="F&#xe4;hre &#x1f600;">');
  });

  it('says the same as CSS: an escape ends with a space, so that no digit after it is taken for its own', () => {
    expect(cssIn('windows-1252', '.\u00e4b::before{content:"→1"}')).toBe(
      '.\\e4 b::before{content:"\\2192 1"}',
    );
    expect(cssIn('utf-8', '.ä{}')).toBe('.ä{}');
  });

  it('never ends a style element before its end, and keeps its media', () => {
    expect(styleElement('utf-8', 'a::after{content:"</style>"}', '(min-width: 1px)')).toBe(
      '<style media="(min-width: 1px)">a::after{content:"<\\/style>"}</style>',
    );
    expect(styleElement('utf-8', 'p{}', 'all')).toBe('<style>p{}</style>');
    expect(attributeValue('a "b" & c')).toBe('a &quot;b&quot; &amp; c');
  });
});
