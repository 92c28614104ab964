import { expect, it } from 'vitest';
import { madePage } from '../../../tests/engine/made-capture.ts';
import { idealPage } from './ideal-page.ts';

it('keeps the page’s own words with the fold CSS inline, and asks for nothing', () => {
  const page = madePage(
    `<!DOCTYPE html><meta charset="utf-8"><title>Quay</title><link rel="stylesheet" href="a.css"><script src="b.js"></script>
    <h1>Tide</h1><picture><source srcset="c.avif"><img src="c.jpg"></picture><noscript><img src="d.gif"></noscript><iframe src="e.html"></iframe><p style="background:url(g.png)">Pier</p><p>At noon</p>`,
  );
  const css = '@font-face{font-family:K;src:url(k.woff2)}h1{color:teal;background:url("f.png")}';
  const html = new TextDecoder().decode(idealPage(page, css));
  // What asks by an attribute stays, and is not let.
  expect(html).toContain(
    `<meta charset="utf-8"><meta http-equiv="content-security-policy" content="default-src 'none'; style-src 'unsafe-inline'"><style>h1{color:teal;background:none}</style><title>Quay</title>`,
  );
  expect(html.replace('url(g.png)', '')).not.toMatch(/\.(css|js|avif|jpg|gif|html|woff2|png)\b/);
  expect(html).toMatch(/<h1>Tide<\/h1>[\s\S]*<p>At noon<\/p>/);
});
