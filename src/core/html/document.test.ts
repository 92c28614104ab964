import { describe, expect, it } from 'vitest';
import { picturesOf, scriptsOf, stylesOf } from './assets.ts';
import { lineAt, readHtml, rewrite } from './document.ts';

const bytes = (text: string) => new TextEncoder().encode(text);
const text = (value: Uint8Array) => new TextDecoder().decode(value);
const PAGE = 'https://quay.test/deep/';

describe('readHtml', () => {
  it('gives byte positions, also after characters of several bytes', () => {
    const source = '<!DOCTYPE html><head><title>Fähre – Übersicht</title><script src="a.js"></script></head>';
    const document = readHtml(bytes(source));
    const [script] = scriptsOf(document, PAGE);
    expect(text(document.bytes.subarray(script!.element.start, script!.element.end))).toBe(
      '<script src="a.js"></script>',
    );
    expect(document.title).toBe('Fähre – Übersicht');
  });

  it('keeps positions right after carriage returns', () => {
    const source = '<head>\r\n<meta charset="utf-8">\r\n<script>let a = "é";</script>\r\n</head>';
    const document = readHtml(bytes(source));
    const [script] = scriptsOf(document, PAGE);
    expect(script!.element.text).toBe('let a = "é";');
    expect(script!.element.line).toBe(3);
    expect(lineAt(document.bytes, script!.element.start)).toBe(3);
  });

  it('reads a page in another encoding by its own meta', () => {
    const latin = Uint8Array.from('<meta charset="windows-1252"><title>F\xe4hre</title>', (c) =>
      c.charCodeAt(0),
    );
    expect(readHtml(latin).title).toBe('Fähre');
  });

  it('takes of a drawing’s style and script the text right in them: what else stands there is no sheet of the page', () => {
    const deep = '<style>.s{top:0}'.repeat(3_000);
    const document = readHtml(
      bytes(
        `<svg><link rel=stylesheet href=b.css><style>.a&gt;b{fill:red}<link rel=stylesheet href=a.css></style><script>1 &lt; 2</script>${deep}</svg>`,
      ),
    );
    const [style, script] = document.elements.filter(({ inert }) => !inert);
    expect([style!.text, style!.isVerbatim]).toEqual(['.a>b{fill:red}', false]);
    expect([script!.text, script!.isVerbatim]).toEqual(['1 < 2', false]);
    const [plain] = readHtml(bytes('<svg><style>.s{top:0}</style></svg>')).elements;
    expect([plain!.text, plain!.isVerbatim]).toEqual(['.s{top:0}', true]);
    expect(stylesOf(document, PAGE).map(({ url }) => url)).toEqual([null, null]);
    // Each within the one before it: of all their texts together there is no more than of the page.
    expect(document.elements.map((one) => one.text).join('').length).toBeLessThan(document.bytes.length);
  });

  it('does not choke on malformed HTML', () => {
    const document = readHtml(bytes('<p><b>x</p><script src=a.js><style>p{'));
    expect(scriptsOf(document, PAGE)[0]?.url).toBe('https://quay.test/deep/a.js');
  });
});

describe('rewrite', () => {
  it('leaves every byte outside its edits as it was, valid text or not', () => {
    const source = Uint8Array.from([0x61, 0xff, 0xfe, 0x62, 0x63, 0x00, 0x64]);
    const result = rewrite(source, [{ start: 3, end: 4, text: 'é' }]);
    expect([...result]).toEqual([0x61, 0xff, 0xfe, 0xc3, 0xa9, 0x63, 0x00, 0x64]);
    expect(rewrite(source, [])).toEqual(source);
  });

  it('keeps the order of insertions at one place and refuses overlaps', () => {
    const source = bytes('abcd');
    expect(
      text(
        rewrite(source, [
          { start: 2, end: 2, text: '1' },
          { start: 2, end: 2, text: '2' },
        ]),
      ),
    ).toBe('ab12cd');
    expect(() =>
      rewrite(source, [
        { start: 0, end: 3, text: '' },
        { start: 2, end: 4, text: '' },
      ]),
    ).toThrow(/overlap/);
  });
});

describe('assets of a page', () => {
  it('lists scripts that run, and not data blocks, templates or noscript', () => {
    const document = readHtml(
      bytes(
        '<base href="/x/"><script type="application/json">{}</script><script type="module" src="m.js"></script><script async src="a.js"></script><template><script>t</script></template><noscript><link rel="stylesheet" href="n.css"></noscript>',
      ),
    );
    expect(scriptsOf(document, PAGE).map((s) => [s.url, s.module, s.async])).toEqual([
      ['https://quay.test/x/m.js', true, false],
      ['https://quay.test/x/a.js', false, true],
    ]);
    expect(stylesOf(document, PAGE)).toEqual([]);
    const typed = ['text/css', 'TEXT/CSS', '', 'text/less'].map(
      (type) => `<style type="${type}">p{}</style>`,
    );
    expect(stylesOf(readHtml(bytes(typed.join(''))), PAGE)).toHaveLength(3);
  });

  it('lists stylesheets in order, less alternates, and knows those for print', () => {
    const document = readHtml(
      bytes(
        '<link rel="stylesheet" href="a.css"><style>p{}</style><link rel="alternate stylesheet" href="b.css"><link rel="stylesheet" media="print" href="c.css">',
      ),
    );
    expect(stylesOf(document, PAGE).map((s) => [s.url, s.printOnly])).toEqual([
      ['https://quay.test/deep/a.css', false],
      [null, false],
      ['https://quay.test/deep/c.css', true],
    ]);
  });
});

it('knows on which line the content of the body begins', () => {
  const line = (source: string) => readHtml(bytes(source)).contentLine;
  expect(line('<title>t</title>\n<body>\n<script>let a</script>\n<div>\n  <p>Words')).toBe(5);
  expect(line('<head></head>\n<body><img src=a.png>')).toBe(2);
  expect(line('<body><noscript>Words</noscript><style>p{}</style></body>')).toBeNull();
});

describe('picturesOf', () => {
  const urls = (source: string) => picturesOf(readHtml(bytes(source)), PAGE).map((one) => one.urls);

  it('gives of each picture all files that it may show, its own first', () => {
    expect(
      urls(
        '<picture><source srcset="w.avif 800w,n.avif 400w"><source srcset="w.webp"><img src="w.jpg" srcset="n.jpg 1x, w.jpg 2x"></picture><img src="last.png">',
      ),
    ).toEqual([
      ['w.jpg', 'n.jpg', 'w.avif', 'n.avif', 'w.webp'].map((name) => PAGE + name),
      [`${PAGE}last.png`],
    ]);
  });

  it('reads addresses with commas in them, white space of all kinds, and the base of the page', () => {
    expect(urls('<base href="/files/"><img srcset="  a,b.png 1x,\n c.png?d=1,2 2x , d.png ,e.png">')).toEqual(
      [['a,b.png', 'c.png?d=1,2', 'd.png', 'e.png'].map((name) => `https://quay.test/files/${name}`)],
    );
  });

  it('tells the files that are chosen by their width or density alone, and none where anything else says which', () => {
    const setsIn = (source: string) => picturesOf(readHtml(bytes(source)), PAGE).map((one) => one.set);
    expect(setsIn('<img src="a.png" srcset="n.png 400w, w,1.png  1200w,">')).toEqual([
      {
        by: 'width',
        files: [
          { url: `${PAGE}n.png`, says: 400 },
          { url: `${PAGE}w,1.png`, says: 1_200 },
        ],
      },
    ]);
    // Without one for a single pixel, that is the file of `src`.
    const densities = (source: string) =>
      setsIn(source)[0]!.files.map(({ url, says }) => [url.slice(-5), says]);
    expect(densities('<img src="a.png" srcset="b.png 1.5x, c.png 2x">')).toEqual([
      ['a.png', 1],
      ['b.png', 1.5],
      ['c.png', 2],
    ]);
    expect(densities('<img src="a.png" srcset="b.png, c.png 2x">')).toEqual([
      ['b.png', 1],
      ['c.png', 2],
    ]);
    for (const other of [
      '<img src="a.png">',
      '<img srcset="a.png 400w, b.png">',
      '<img srcset="a.png 1x, b.png 400w">',
      '<img srcset="a.png 1x, b.png 2y">',
      '<img srcset="a.png 400w 300h">',
      '<picture><source srcset="b.png"><img srcset="a.png 400w"></picture>',
    ])
      expect(setsIn(other)).toEqual([null]);
  });

  it('leaves out what shows nothing: no address, or inside noscript', () => {
    expect(urls('<img alt="none"><noscript><img src="a.png"></noscript><img src="http://[">')).toEqual([]);
  });
});
