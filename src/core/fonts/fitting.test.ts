import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { madeCapture, type MadeFile } from '../../../tests/engine/made-capture.ts';
import { CapturedPage } from '../page/captured-page.ts';
import { readFonts } from './page-fonts.ts';

const FONT = readFileSync('node_modules/@fontsource/karla/files/karla-latin-400-normal.woff2');
const TEXT = '<p>The ferry to the outer islands leaves from the west quay at seven in the morning.</p>';
const FACE = '@font-face{font-family:"Keel Sans";src:url(/k.woff2)}';
const LIST = 'p{font-family:"Keel Sans",Georgia,serif}';

/** What stands in for the font of a page: the names, or null. */
function standsIn({
  css = FACE + LIST,
  html = TEXT,
  font = FONT,
  elsewhere = '',
}: {
  css?: string;
  html?: string;
  font?: Buffer;
  elsewhere?: string;
}): string[] | null {
  const sheet = (body: string): MadeFile => ({ body, type: 'text/css', kind: 'stylesheet' });
  const { capture, bodies } = madeCapture({
    'https://quay.test/': {
      body: `<!DOCTYPE html><link rel="stylesheet" href="/s.css"><link rel="stylesheet" href="https://elsewhere.test/e.css">${html}`,
      type: 'text/html',
      kind: 'document',
    },
    'https://quay.test/s.css': sheet(css),
    'https://elsewhere.test/e.css': sheet(elsewhere),
    'https://quay.test/k.woff2': { body: font, type: 'font/woff2', kind: 'font' },
  });
  const [found] = readFonts(new CapturedPage(capture, bodies), []);
  return found!.fit && found!.fit.fallbacks.map((one) => one.name);
}

it('finds what stands in for a font, by what its lists end in', () => {
  expect(standsIn({})).toEqual(['Times New Roman fitted to Keel Sans', 'DejaVu Serif fitted to Keel Sans']);
  expect(standsIn({ css: `${FACE}p{font:1rem/1.5 Keel Sans,sans-serif}` })![0]).toBe(
    'Arial fitted to Keel Sans',
  );
  expect(standsIn({ css: '', html: `<style>${FACE}${LIST}</style>${TEXT}` })![0]).toBe(
    'Times New Roman fitted to Keel Sans',
  );
  expect(standsIn({ css: `${FACE}:root{--code:"Keel Sans",monospace}` })![0]).toBe(
    'Courier New fitted to Keel Sans',
  );
});

it.each([
  ['no sheet lists it', { css: FACE }],
  ['only a sheet of others does', { css: FACE, elsewhere: LIST }],
  ['its rule has measures of its own', { css: FACE.replace('}', ';ascent-override:90%}') + LIST }],
  ['the text is written by scripts', { html: `<script>document.body.innerHTML = "${TEXT}"</script>` }],
  ['the text is in a comment, and that is not closed', { html: `<!-- ${TEXT}` }],
  ['its file is none', { font: Buffer.from('<html>not found</html>') }],
  ['it draws icons', { css: `${FACE.replace('Keel Sans', 'Keel Icons')}i{font-family:"Keel Icons",serif}` }],
])('finds nothing where %s', (_, page) => {
  expect(standsIn(page)).toBeNull();
});
