import { describe, expect, it } from 'vitest';
import { madeCapture, madePage } from '../../../tests/engine/made-capture.ts';
import { CapturedPage, NoHtml } from './captured-page.ts';

const PAGE = 'https://quay.test/';

describe('a captured page', () => {
  const page = madePage(
    '<base href="/v2/"><link rel="stylesheet" href="a.css"><script src="lib.js"></script><script>tide()</script>',
    { '/v2/a.css': '@import "b.css"; p{color:red}', '/v2/b.css': 'i{top:0}', '/v2/lib.js': 'window.tide=1' },
  );

  it('gives the same object to whoever asks again', () => {
    expect(page.document).toBe(page.document);
    expect(page.scripts).toBe(page.scripts);
    expect(page.sheet(`${PAGE}v2/a.css`)).toBe(page.sheet(`${PAGE}v2/a.css`));
    const [lib] = page.scripts;
    expect(page.factsOf(lib!)).toBe(page.factsOf(lib!));
  });

  it('resolves what it names by its base, and reads sheets with their imports', () => {
    expect(page.styles.map((one) => one.url)).toEqual([`${PAGE}v2/a.css`]);
    expect(page.sheet(`${PAGE}v2/a.css`)!.root.toString()).toContain('i {');
    expect(page.scripts.map((one) => page.factsOf(one).defines)).toEqual([['tide'], []]);
  });

  it('finds an address whatever fragment it is asked with, and nothing for one that it does not hold', () => {
    expect(page.text(`${PAGE}v2/b.css#top`)).toBe('i{top:0}');
    expect([
      page.text(`${PAGE}gone.css`),
      page.sheet(`${PAGE}gone.css`),
      page.body(`${PAGE}gone.css`),
    ]).toEqual([null, null, null]);
  });

  it('is the same capture seen from another page that it holds, and says so where it holds no HTML of it', () => {
    const { capture, bodies } = madeCapture({
      [PAGE]: { body: '<title>Quay</title>', type: 'text/html', kind: 'document' },
      [`${PAGE}crew`]: { body: '<title>Crew</title>', type: 'text/html', kind: 'document' },
    });
    const home = new CapturedPage(capture, bodies);
    expect(home.at(`${PAGE}crew`).document.title).toBe('Crew');
    expect(() => home.at(`${PAGE}gone`).document).toThrow(NoHtml);
    expect(home.at(`${PAGE}gone`).hasDocument).toBe(false);
  });
});

describe('the text of a file', () => {
  const bytes = Buffer.from('p::before{content:"Fähre"}', 'latin1');
  const textOf = (body: Buffer, type: string, pageType = 'text/html; charset=windows-1252') => {
    const { capture, bodies } = madeCapture({
      [PAGE]: { body: '<p>x', type: pageType, kind: 'document' },
      [`${PAGE}a.css`]: { body, type, kind: 'stylesheet' },
    });
    return new CapturedPage(capture, bodies).text(`${PAGE}a.css`);
  };

  it.each([
    ['its header', bytes, 'text/css; charset=iso-8859-1', 'text/html; charset=utf-8'],
    ['the page’s encoding', bytes, 'text/css', 'text/html; charset=windows-1252'],
    [
      'its first rule',
      Buffer.concat([Buffer.from('@charset "windows-1252";'), bytes]),
      'text/css',
      'text/html; charset=utf-8',
    ],
    [
      'its byte-order mark, whatever else is said',
      Buffer.concat([Buffer.from([0xef, 0xbb, 0xbf]), Buffer.from('p::before{content:"Fähre"}')]),
      'text/css; charset=iso-8859-1',
      'text/html; charset=windows-1252',
    ],
  ])('is decoded by %s', (_by, body, type, pageType) => {
    expect(textOf(body, type, pageType)).toContain('content:"Fähre"');
  });

  it('is read as UTF-8 where what it says names no encoding', () => {
    expect(textOf(Buffer.from('i{content:"ä"}'), 'text/css; charset=nothing-such')).toBe('i{content:"ä"}');
  });
});
