import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { houseFramework } from './framework.ts';
import type { HostRole, Names } from './names.ts';
import type { Origin } from './pages.ts';

/** One answer of the demo's servers. */
export interface DemoAnswer {
  type: string;
  body: Buffer;
  /** How long the server thinks before it answers, ms. */
  waitMs: number;
  cacheSeconds: number;
  /** What the server says its time went to. */
  serverTiming?: string;
}

const PACKAGES = join(process.cwd(), 'node_modules');
const PICTURES = join(process.cwd(), 'src', 'demo', 'assets');

const fromPackage = (path: string) => readFileSync(join(PACKAGES, path));

/** Makes every file that the demo's hosts serve besides HTML, by host and path. */
export function demoAssets(names: Names, origin: Origin): Map<string, DemoAnswer> {
  const { files, hosts, globals } = names;
  const p = names.classPrefix;
  const all = new Map<string, DemoAnswer>();
  const put = (
    host: HostRole,
    path: string,
    type: string,
    body: string | Buffer,
    waitMs: number,
    cacheSeconds = 3_600,
  ) => all.set(hosts[host] + path, { type, body: Buffer.from(body), waitMs, cacheSeconds });
  const css = (role: keyof Names['files'], text: string | Buffer) =>
    put('www', `/assets/${files[role]}.css`, 'text/css', text, 60);
  const js = (role: keyof Names['files'], text: string | Buffer) =>
    put('www', `/assets/${files[role]}.js`, 'text/javascript', text, 60);

  css(
    'framework',
    houseFramework(fromPackage('bootstrap/dist/css/bootstrap.min.css').toString(), names.framePrefix),
  );
  css('site', siteSheet(names));
  css('palette', `@import "${files.type}.css";\n${palette()}`);
  css('type', ownFaces(names));
  css(
    'signs',
    `@import "${files.signsFace}.css";\n.${p}-sign { display: inline-block; font-style: normal; }\n`,
  );
  css('signsFace', signsFace(names));
  js('library', library(globals.library));
  put('www', '/assets/licences.txt', 'text/plain', licences(), 20);
  js('carousel', carousel(names));
  js('board', board(globals.library));
  js('cart', cart(names));
  put('www', '/api/sea-state.json', 'application/json', '{"words":"slight, wind south-west 4"}', 240, 0);
  for (const name of ['hero', 'news-1', 'news-2', 'news-3']) {
    put('www', `/assets/${name}.jpg`, 'image/jpeg', readFileSync(join(PICTURES, `${name}.jpg`)), 40);
  }
  for (const { package: family, cut, file } of FONT_FILES) {
    const [host, path]: [HostRole, string] =
      family === 'bitter' ? ['fonts', `/cuts/${file}`] : ['www', `/assets/${file}`];
    const body = fromPackage(`@fontsource/${family}/files/${family}-latin-${cut}.woff2`);
    put(host, path, 'font/woff2', body, 70, 86_400);
  }
  put('fonts', `/${files.faces}.css`, 'text/css', letterFaces(names, origin('fonts')), 150, 600);
  put('consent', `/${files.consent}.js`, 'text/javascript', consent(p), 140);
  put('tester', `/${files.tester}.js`, 'text/javascript', tester(names), 320, 0);
  put('counter', `/${files.counter}.js`, 'text/javascript', counter(globals.counter, origin('counter')), 180);
  put('counter', '/seen', 'text/plain', 'ok', 60, 0);
  put('chat', `/${files.chat}.js`, 'text/javascript', chat(p), 200);
  put('video', '/film/crossing', 'text/html', filmEmbed(), 260, 0);
  put('map', '/chart', 'text/html', chartEmbed(files.chart), 220, 0);
  put('map', `/${files.chart}.js`, 'text/javascript', chart(), 120);
  return all;
}

/** The five font files: three of the type host's face, two of the site's own, under neutral names. */
const FONT_FILES: readonly { package: 'bitter' | 'karla'; cut: string; file: string }[] = [
  { package: 'bitter', cut: '400-normal', file: 'quay-regular.woff2' },
  { package: 'bitter', cut: '700-normal', file: 'quay-strong.woff2' },
  { package: 'bitter', cut: '400-italic', file: 'quay-leaning.woff2' },
  { package: 'karla', cut: '400-normal', file: 'pier-regular.woff2' },
  { package: 'karla', cut: '700-normal', file: 'pier-strong.woff2' },
];

function ownFaces({ families }: Names): string {
  return FONT_FILES.filter((one) => one.package === 'karla')
    .map(
      ({ cut, file }) =>
        `@font-face { font-family: "${families.text}"; font-weight: ${cut.split('-')[0]}; src: url("${file}") format("woff2"); }`,
    )
    .join('\n');
}

/** As the type host makes it: the file first, one face a line. */
function letterFaces({ families }: Names, at: string): string {
  return FONT_FILES.filter((one) => one.package === 'bitter')
    .map(({ cut, file }) => {
      const [weight, style] = cut.split('-');
      return `@font-face {src: url("${at}/cuts/${file}"); font-display: swap; font-weight: ${weight}; font-style: ${style}; font-family: "${families.titles}"}`;
    })
    .join('\n');
}

/** A general library under a global name of the demo's own; its licence stands beside it. */
function library(name: string): string {
  const text = fromPackage('jquery/dist/jquery.min.js')
    .toString()
    .replace(/^\/\*![^*]*\*\/\s*/, '');
  return `/* licences: /assets/licences.txt */\n${text}\nvar ${name} = jQuery.noConflict(true);\n`;
}

function licences(): string {
  return [
    'bootstrap/LICENSE',
    'jquery/LICENSE.txt',
    '@fontsource/bitter/LICENSE',
    '@fontsource/karla/LICENSE',
  ]
    .map((path) => fromPackage(path).toString())
    .join('\n\n');
}

function palette(): string {
  return ':root { --sea: #20485a; --sand: #e9dfc8; --rock: #4a5459; --foam: #bfe0e4; --rust: #b4552d; --moss: #6c7f3e; --dusk: #2f4f66; --rope: #c9a66b; }\n';
}

function siteSheet({ classPrefix: p, framePrefix: f, families, files }: Names): string {
  return `@import url("${files.palette}.css");
/* Skerravane Ferries, house style */
body { font-family: "${families.text}", system-ui, sans-serif; color: #22333b; background: #fbfaf6; }
h1, h2, h3, .${p}-brand { font-family: "${families.titles}", Georgia, serif; font-weight: 700; letter-spacing: -0.01em; }
.${p}-top { background: var(--sea); }
.${p}-top .${f}-nav-link, .${p}-brand, .${p}-brand:hover { color: #fff; }
.${p}-brand span { color: var(--foam); }
.${p}-menu-button { color: #fff; border-color: rgba(255, 255, 255, .5); font-size: 1rem; }
.${p}-hero { position: relative; overflow: hidden; background: var(--dusk); color: #fff; padding: 2.5rem 0 0; }
.${p}-hero h1 { font-size: calc(1.6rem + 2vw); max-width: 16ch; }
.${p}-hero .${f}-lead { max-width: 34ch; }
.${p}-top .${f}-container { padding-left: 12px; padding-right: 12px; }
.${p}-hero img { display: block; width: 100%; height: auto; margin-top: 1.5rem; }
.${p}-next { padding-top: 2rem; }
.${p}-sailings td:first-child { font-variant-numeric: tabular-nums; font-weight: 700; }
.${p}-sea-state { padding: .5rem .75rem; border-left: 4px solid var(--moss); background: #fff; }
.${p}-film iframe { max-width: 100%; border: 0; background: #1b2a30; }
.${p}-news .${f}-card { margin-bottom: 1.5rem; }
.${p}-news .${f}-card h3 { font-size: 1.15rem; }
.${p}-slides.${p}-ready article:nth-child(2) .${f}-card { border-color: var(--rust); }
.${p}-page { padding-top: 2rem; padding-bottom: 3rem; }
.${p}-article p { max-width: 66ch; line-height: 1.7; }
.${p}-article img { max-width: 100%; height: auto; margin-bottom: 1rem; }
.${p}-route iframe { display: block; max-width: 100%; border: 0; margin-bottom: 1rem; background: var(--foam); }
.${p}-cart { margin-top: 2rem; }
.${p}-foot { background: #22333b; color: #d9dedf; padding: 2rem 0; margin-top: 3rem; }
.${p}-consent { position: fixed; left: 12px; right: 12px; bottom: 12px; padding: 12px 16px; background: #fff; border: 1px solid #22333b; font-size: .9rem; z-index: 50; }
.${p}-chat { position: fixed; right: 14px; top: 60%; width: 44px; height: 44px; border-radius: 22px; border: 0; background: var(--rust); color: #fff; z-index: 40; }
@media print { .${p}-top, .${p}-foot { display: none; } }
`;
}

/** A sign face: hundreds of rules for pictures of which the site shows one. */
function signsFace({ classPrefix: p, families }: Names): string {
  const things = [
    'pier',
    'buoy',
    'gull',
    'rope',
    'mast',
    'keel',
    'tide',
    'crane',
    'deck',
    'lamp',
    'oar',
    'sail',
    'helm',
    'net',
    'crab',
    'dock',
  ];
  const ways = [
    'left',
    'right',
    'up',
    'down',
    'small',
    'large',
    'round',
    'open',
    'shut',
    'calm',
    'rough',
    'day',
    'night',
    'in',
    'out',
    'slow',
    'fast',
    'old',
    'new',
    'wet',
  ];
  const rules: string[] = [
    `.${p}-sign::before { font-family: "${families.text}", sans-serif; font-weight: 700; line-height: 1; speak: never; }`,
    `.${p}-sign-step-free::before { content: "\\25B2"; color: var(--moss); border-bottom: 2px solid currentColor; }`,
  ];
  let code = 0xe000;
  for (const thing of things) {
    for (const way of ways) {
      for (let size = 1; size <= 5; size++) {
        rules.push(
          `.${p}-sign-${thing}-${way}-${size}::before { content: "\\${(code++).toString(16)}"; font-size: ${size}em; }`,
        );
      }
    }
  }
  return rules.join('\n');
}

function carousel({ classPrefix: p, globals }: Names): string {
  return `(function ($) {
  var at = 0;
  function turn() {
    var slides = $('.${p}-slides article');
    if (!slides.length) return;
    at = (at + 1) % slides.length;
    slides.attr('aria-current', null).eq(at).attr('aria-current', 'true');
  }
  $('.${p}-slides').addClass('${p}-ready').on('click', turn);
  ${busy(9)}
})(${globals.library});
`;
}

function board(library: string): string {
  return `${library}(function ($) {
  $.getJSON('/api/sea-state.json', function (answer) {
    $('[data-sea-state]').text('Sea state: ' + answer.words);
  });
});
`;
}

function cart({ globals: { site, library }, framePrefix: f }: Names): string {
  return `${library}(function ($) {
  var total = 0;
  $('[data-add]').on('click', function () {
    var people = Number($('#people').val());
    total += people * ${site}.pricePerHead;
    $('[data-cart]').append($('<li class="${f}-list-group-item">').text($('#from').val() + ' to ' + $('#to').val() + ', ' + people));
    $('[data-total]').text('Together ' + total + ' ' + ${site}.currency);
  });
});
`;
}

function consent(p: string): string {
  return `(function () {
  var kept = null;
  try { kept = localStorage.getItem('counting'); } catch (e) {}
  if (kept) return;
  document.addEventListener('DOMContentLoaded', function () {
    var bar = document.createElement('div');
    bar.className = '${p}-consent';
    bar.setAttribute('role', 'region');
    bar.setAttribute('aria-label', 'Cookie notice');
    bar.innerHTML = 'We count visits only if you agree. <button type="button">Agree</button> <button type="button">No</button>';
    bar.addEventListener('click', function (event) {
      if (event.target.tagName !== 'BUTTON') return;
      try { localStorage.setItem('counting', event.target.textContent); } catch (e) {}
      bar.remove();
    });
    document.body.appendChild(bar);
  });
})();
`;
}

function tester(names: Names): string {
  const own = names.globals.tester;
  return `(function () {
  var heading = document.querySelector('h1');
  if (heading) heading.setAttribute('data-variant', 'a');
  ${busy(6)}
  ${own}.show();
})();
`;
}

function counter(queue: string, at: string): string {
  return `(function () {
  ${busy(12)}
  var seen = new Image();
  seen.src = '${at}/seen?notes=' + ${queue}.notes.length;
})();
`;
}

function chat(p: string): string {
  return `(function () {
  ${busy(25)}
  var button = document.createElement('button');
  button.className = '${p}-chat';
  button.type = 'button';
  button.textContent = '?';
  button.setAttribute('aria-label', 'Ask the harbour');
  button.addEventListener('click', function () {
    var open = button.getAttribute('aria-expanded') === 'true';
    button.setAttribute('aria-expanded', String(!open));
  });
  document.body.appendChild(button);
})();
/* ${'phrases of the harbour desk, kept ready for the chat; '.repeat(900)} */
`;
}

/** Work for the main thread, as third-party scripts bring it: counting, not waiting. */
function busy(thousands: number): string {
  return `for (var sum = 0, i = 0; i < ${thousands * 40_000}; i++) sum = (sum * 31 + i) % 65521;`;
}

function filmEmbed(): string {
  return `<!DOCTYPE html><html><head><meta charset="utf-8"><title>Film</title><style>body{margin:0;background:#1b2a30;color:#d9dedf;font:16px sans-serif;display:grid;place-items:center;height:100vh}</style></head>
<body><p>▶ The crossing, 2:04</p><script>${busy(10)}</script></body></html>`;
}

function chartEmbed(file: string): string {
  return `<!DOCTYPE html><html><head><meta charset="utf-8"><title>Chart</title><style>body{margin:0;background:#bfe0e4}canvas{display:block;width:100%;height:100vh}</style></head>
<body><canvas width="720" height="320"></canvas><script src="/${file}.js"></script></body></html>`;
}

/** Draws islands, once. */
function chart(): string {
  return `(function () {
  ${busy(14)}
  var pen = document.querySelector('canvas').getContext('2d');
  pen.fillStyle = '#6c7f3e';
  [[120, 90, 60], [400, 200, 80], [610, 110, 50]].forEach(function (isle) {
    pen.beginPath(); pen.ellipse(isle[0], isle[1], isle[2], isle[2] * 0.6, 0.4, 0, 7); pen.fill();
  });
  pen.setLineDash([8, 6]); pen.strokeStyle = '#20485a'; pen.lineWidth = 3;
  pen.beginPath(); pen.moveTo(120, 90); pen.quadraticCurveTo(260, 260, 400, 200); pen.lineTo(610, 110); pen.stroke();
})();
`;
}
