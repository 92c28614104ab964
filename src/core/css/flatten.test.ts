import { describe, expect, it } from 'vitest';
import { flattenSheet, readImport } from './flatten.ts';
import { printSheet } from './print-sheet.ts';
import { mapUrls, rebase, urlsIn } from './urls.ts';

const PAGE = 'https://quay.test/deep/page';

function flat(sheets: Record<string, string>, url: string) {
  const sheet = flattenSheet(url, (one) => sheets[one] ?? null, PAGE);
  return sheet && { css: printSheet(sheet.root).replace(/\s+/g, ' ').trim(), sheet };
}

describe('flattenSheet', () => {
  it('writes imports out in place with their media, supports and layer', () => {
    const result = flat(
      {
        'https://quay.test/a.css':
          '@import "b.css" layer(base) supports(display: grid) screen and (min-width: 600px);\np{color:red}',
        'https://quay.test/b.css': 'i{color:blue}',
      },
      'https://quay.test/a.css',
    );
    expect(result?.css).toMatch(
      /^@media screen and \(min-width:600px\) ?\{ ?@supports \(display:grid\) ?\{ ?@layer base ?\{ ?i\{color:blue\} ?\} ?\} ?\} ?p\{color:red\}$/,
    );
    expect(result?.sheet.parts.map((p) => p.url)).toEqual([
      'https://quay.test/a.css',
      'https://quay.test/b.css',
    ]);
  });

  it('rebases every url() against its own sheet', () => {
    const result = flat(
      {
        'https://quay.test/css/a.css': '@import url(sub/b.css); p{background:url("../img/p.png")}',
        'https://quay.test/css/sub/b.css': "i{background:url(i.png),url('https://other.test/x.png')}",
      },
      'https://quay.test/css/a.css',
    );
    expect(result?.css).toContain('url(/css/sub/i.png),url("https://other.test/x.png")');
    expect(result?.css).toContain('url("/img/p.png")');
  });

  it('ends an import circle and says what was missing', () => {
    const result = flat(
      { 'https://quay.test/a.css': '@import "a.css"; @import "gone.css"; p{color:red}' },
      'https://quay.test/a.css',
    );
    expect(result?.css).toBe('p{color:red}');
    expect(result?.sheet.problems[0]).toContain('gone.css');
  });

  it('ignores an import after a rule, as browsers do', () => {
    const result = flat(
      { 'https://quay.test/a.css': 'p{color:red} @import "b.css";', 'https://quay.test/b.css': 'i{}' },
      'https://quay.test/a.css',
    );
    expect(result?.css).toBe('p{color:red}');
  });

  it('gives null for a sheet that is not there', () => {
    expect(flat({}, 'https://quay.test/a.css')).toBeNull();
  });
});

describe('readImport', () => {
  it('reads plain strings, url() and an anonymous layer', () => {
    expect(readImport('"a.css"')).toEqual({ url: 'a.css', layer: null, supports: null, media: null });
    expect(readImport('url(a.css) layer')).toMatchObject({ url: 'a.css', layer: '' });
  });
});

describe('urls', () => {
  it('finds addresses in tokens, functions and image-set strings only', () => {
    expect(urlsIn('a: url( "x.png" "no.png")')).toEqual(['x.png']);
    expect(urlsIn('a: url(x.png) "no.png" url("y z.png") image-set("w.png" 1x)')).toEqual([
      'x.png',
      'y z.png',
      'w.png',
    ]);
  });
  it('leaves data: and fragment addresses alone', () => {
    expect(rebase('data:image/png;base64,AA', PAGE, PAGE)).toBe('data:image/png;base64,AA');
    expect(rebase('#clip', 'https://quay.test/a.css', PAGE)).toBe('#clip');
    expect(rebase('../..//x.png', 'https://quay.test/a.css', PAGE)).toBe('https://quay.test//x.png');
    expect(mapUrls('url()', (u) => u)).toBe('url()');
  });
});
