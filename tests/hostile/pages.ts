import { readEmbeds } from '../../src/core/embeds/page-embeds.ts';
import { readFonts } from '../../src/core/fonts/page-fonts.ts';
import { liveRequests } from '../../src/core/har/har-requests.ts';
import { readImages } from '../../src/core/images/page-images.ts';
import type { Header } from '../../src/core/measure/exchange.ts';
import { CapturedPage, NoHtml } from '../../src/core/page/captured-page.ts';
import { linkedSheets } from '../../src/core/page/linked-sheets.ts';
import { readPageAssets } from '../../src/core/page/page-assets.ts';
import { mapRun } from '../../src/core/path/map.ts';
import { applyPlan } from '../../src/core/treat/apply.ts';
import { recommendPlan } from '../../src/core/treat/recommend.ts';
import { sceneOf } from '../../src/core/treat/scene.ts';
import { madeCapture, type MadeFile } from '../engine/made-capture.ts';
import type { Draw } from './chance.ts';
import { mutatedText } from './mutate.ts';

const ORIGIN = 'https://quay.test/';

const HTML = `<!DOCTYPE html><html lang=en><head><meta charset=utf-8><title>Quay</title><base href="/">
<meta http-equiv=Content-Security-Policy content="script-src 'self' 'nonce-a'"><link rel=preload as=font href=f.woff2 crossorigin>
<link rel=stylesheet href=a.css media="(min-width: 20em)"><style>@import url(b.css) layer(x); .a{color:red}</style>
<script src=a.js></script><script>window.q = window.q || []; q.push(1)</script></head>
<body onload="go()"><h1 class=a>Ferries</h1><picture><source srcset="i.png 1x, j.png 2x" type=image/png><img src=i.png sizes="100vw" loading=lazy width=20></picture>
<iframe src="https://map.test/frame.html" title=Map></iframe><svg><style>.s{fill:red}</style><use href="#x"></use></svg>
<template><p>Later</p></template><table><tr><td><a href="/next?x=1">Next</a></table>
<script type=module>import './m.js'; document.querySelector('h1').onclick = () => fetch('/x')</script><script src=b.js defer integrity=sha256-x></script></body></html>`;
const HTML_BITS = [
  '<div>',
  '</div>',
  '<script>',
  '</script>',
  '<style>',
  '</style>',
  '<!--',
  '-->',
  '<![CDATA[',
  '<svg>',
  '<math>',
  '<template>',
  '<table>',
  '<select>',
  '<noscript>',
  '<base href="https://[">',
  '<meta charset=utf-7>',
  '<meta charset=utf-16le>',
  '<link rel=stylesheet href=a.css>',
  '<link rel=stylesheet href="data:text/css,.x{">',
  '<link rel=stylesheet media="((((" href=b.css>',
  '<img srcset=",,1x 2w,," src="https://[">',
  '<iframe srcdoc="<p>">',
  '<script src="//" async>',
  '<script type="text/plain">',
  '<script nomodule src=a.js>',
  '<a href="javascript:x">',
  ' onclick="',
  ' style="',
  ' class="',
  '<body',
  '</body></html>',
  '&#x110000;',
  '&bogus;',
  '<link rel="preload modulepreload dns-prefetch" as=script href=a.js imagesrcset=",">',
  '<form action="https://[">',
  '<object>',
  '<plaintext>',
];
const CSS = `@charset "utf-8"; @import "b.css" supports(display: grid) screen; @layer a, b; :root{--x:1px}
.a{color:red;background:url(i.png)} @media (min-width:30em) and (not (hover)){.b:hover>.c::before{content:"x"}}
@font-face{font-family:F;src:url(f.woff2) format("woff2");unicode-range:U+0-FF} @supports (display:grid){@layer a{.d{margin:0!important}}}
@keyframes k{from{top:0}to{top:1px}} .e{&:is(.f,.g){color:var(--x, calc(1px + (2px)))}} @container (width>1px){.h{top:0}}`;
const CSS_BITS = [
  '{',
  '}',
  '(',
  ')',
  '[',
  ']',
  ';',
  ':',
  '/*',
  '*/',
  '@media ',
  '@import url(a.css);',
  '@import url(b.css);',
  '@layer ',
  '@supports (',
  '@font-face{',
  ':is(',
  ':not(',
  ':has(',
  '&',
  '>',
  '!important',
  'url(',
  '"',
  '\\',
  '--x:{',
  '.a{',
  'calc(',
  'var(--x,',
  '@container ',
  '@property --x{',
  'U+?????',
  '<!--',
];
const SCRIPT = `(function(w, d){ 'use strict'; var x = w.App = w.App || {}; x.list = [1, 2]; function go(a, {b, ...c} = {}) { try { return a?.b ?? c } catch { d.write('<script src=m.js><\\/script>') } }
class M extends HTMLElement { #p = 1; static s = 2; get v() { return this.#p } connectedCallback(){ this.innerHTML = \`<b>\${go(1)}</b>\` } }
customElements.define('m-m', M); for (const k of Object.keys(x)) w[k] = x[k]; label: while (true) { if (d.readyState === 'complete') break label; else break }
d.addEventListener('DOMContentLoaded', async () => { const r = await import('./m.js'); w.dispatchEvent(new Event('x')) }); setTimeout('go()', 10);
new Function('return this')().y = /a(?<n>b)\\k<n>/u; Object.assign(w, {z: 1n}); eval('var q = 1'); with (x) { } })(window, document)`;
const SCRIPT_BITS = [
  '(',
  ')',
  '[',
  ']',
  '{',
  '}',
  '`',
  '${',
  '/',
  '/*',
  '=>',
  'async ',
  'await ',
  'yield ',
  'class {',
  'function*',
  'import(',
  'import "./m.js";',
  'export default ',
  '#',
  '?.',
  '...',
  'new.target',
  '1e999',
  '0b',
  '\\u{',
  'document.write(',
  'window[',
  'with(x)',
  'label:',
  'debugger;',
  '-',
  '!',
  'x=x||',
  ';',
  '\n',
];
const HEADERS: readonly Header[] = [
  [
    'content-security-policy',
    "default-src 'none'; script-src 'nonce-a' 'strict-dynamic' 'sha256-%' https://*:*; ;;;",
  ],
  ['content-security-policy', ''],
  ['link', '<a.css>; rel=preload; as=style, <https://[>; rel=preconnect, <>;;;,'],
  ['cache-control', 'max-age=99999999999999999999, ,=,no-store="'],
  ['content-type', 'text/html; charset="'],
  ['content-type', ';'],
  ['content-encoding', 'br, gzip, x'],
  ['server-timing', 'a;dur=1e999;desc="\\", ;;, b'],
  ['set-cookie', '=;;;=; Domain=..; Expires=never'],
  ['refresh', '0;url=https://['],
  ['location', 'https://['],
  ['date', 'x'],
  ['expires', '-1'],
  ['age', '-'],
  ['priority', 'u=9, i=?2, ((('],
  ['vary', '*'],
  ['strict-transport-security', 'max-age'],
];

/** A captured page whose every byte is somebody's who means harm, or cannot write. */
function hostilePage(draw: Draw): CapturedPage {
  const maybe = (text: string, bits: readonly string[], often: number) =>
    draw.share() < often ? mutatedText(text, bits, draw) : text;
  const file = (kind: MadeFile['kind'], type: string, body: string | Buffer): MadeFile => ({
    kind,
    type,
    body,
    headers: Array.from({ length: draw.below(3) }, () => draw.of(HEADERS)),
  });
  const noise = () => Buffer.from(Array.from({ length: draw.below(400) }, () => draw.below(256)));
  const html = maybe(HTML, HTML_BITS, 0.8);
  const files: Record<string, MadeFile> = {
    [ORIGIN]: file('document', 'text/html', draw.share() < 0.05 ? noise() : html),
    [`${ORIGIN}a.css`]: file('stylesheet', 'text/css', maybe(CSS, CSS_BITS, 0.6)),
    [`${ORIGIN}b.css`]: file('stylesheet', 'text/css', maybe('@import "a.css"; .z{top:0}', CSS_BITS, 0.4)),
    [`${ORIGIN}a.js`]: file('script', 'text/javascript', maybe(SCRIPT, SCRIPT_BITS, 0.6)),
    [`${ORIGIN}b.js`]: file('script', 'text/javascript', draw.share() < 0.1 ? noise() : 'App.list.push(3)'),
    [`${ORIGIN}m.js`]: file('script', 'text/javascript', maybe('export const m = 1', SCRIPT_BITS, 0.3)),
    [`${ORIGIN}i.png`]: file('image', 'image/png', noise()),
    [`${ORIGIN}f.woff2`]: file('font', 'font/woff2', noise()),
    'https://map.test/frame.html': file('document', 'text/html', maybe(HTML, HTML_BITS, 0.3)),
  };
  const { capture, bodies } = madeCapture(files);
  const exchanges = capture.exchanges.map((one, index) =>
    index > 0 && draw.share() < 0.1 ? { ...one, status: draw.of([0, 99, 204, 304, 404, 700]) } : one,
  );
  return new CapturedPage({ ...capture, exchanges }, bodies);
}

/** Reads a hostile page as the stages do, down to the treated page. @throws what no reader may throw */
export function readHostilePage(draw: Draw): void {
  const page = hostilePage(draw);
  const requests = liveRequests(page.capture);
  mapRun({
    documentUrl: page.capture.documentUrl,
    requests,
    work: [],
    headline: null,
    ruleUsage: [],
    hidingEndedBy: [],
  });
  try {
    linkedSheets(page);
    const scene = sceneOf(readPageAssets(page, requests), null);
    readImages(page);
    readFonts(page, []);
    readEmbeds(page);
    applyPlan(scene, recommendPlan(scene, 'high'));
  } catch (error) {
    // What is no page is said to be none.
    if (!(error instanceof NoHtml)) throw error;
  }
}
