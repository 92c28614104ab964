import { saying, type CorpusPage } from './page.ts';

/** What is left where the stronger treatments are not legal. */
export const WEAKER: CorpusPage[] = [
  {
    name: 'an inline script with a token of the visit, after a library',
    html: saying(
      'window.signed',
      '<script src="lib.js"></script><script>var csrfToken = "a81f0c"; lib.sign(csrfToken);</script>',
      '<p>Quay</p>',
    ),
    files: { 'lib.js': 'var lib = { sign: function (t) { window.signed = "signed " + t; } };' },
    says: 'signed a81f0c',
    strongest: { 'lib.js': 'defer', 'inline: var csrfToken': 'waits' },
  },
  {
    name: 'two inline scripts of one visit that rely on each other',
    html: saying(
      'window.told + " " + document.querySelectorAll("script[type]").length',
      '<script src="lib.js"></script><script>var sessionToken = "s7"; lib.set("berth", sessionToken);</script>',
      '<p>Quay</p><script id="second" data-berth="3">window.told = lib.get("berth") + sessionToken + document.getElementById("second").dataset.berth;</script>',
    ),
    files: {
      'lib.js':
        'var lib = { all: {}, set: function (k, v) { this.all[k] = v; }, get: function (k) { return this.all[k]; } };',
    },
    says: 's7s73 0',
    strongest: { 'lib.js': 'defer', 'inline: var sessionToken': 'waits' },
  },
  {
    name: 'an inline script of one visit under a policy with a nonce',
    html: saying(
      'window.signed',
      '<script nonce="n0" src="lib.js"></script><script nonce="n0">var userName = "Runa"; lib.greet(userName);</script>',
      '<p>Quay</p>',
    ),
    files: { 'lib.js': 'var lib = { greet: function (n) { window.signed = "for " + n; } };' },
    policies: ["script-src 'nonce-n0' 'unsafe-eval'"],
    says: 'for Runa',
    strongest: { 'lib.js': 'defer', 'inline: var userName': 'waits' },
  },
  {
    name: 'an inline script of one visit under a policy that lets in other hosts only',
    html: saying(
      'window.signed',
      '<script src="https://lib.test/lib.js"></script><script>var csrfToken = "a81f0c"; lib.sign(csrfToken);</script>',
      '<p>Quay</p>',
    ),
    files: {
      'https://lib.test/lib.js': 'var lib = { sign: function (t) { window.signed = "signed " + t; } };',
    },
    policies: ["script-src https://lib.test 'unsafe-inline' 'unsafe-eval'"],
    says: 'signed a81f0c',
  },
  {
    name: 'a small script that asks for a module beside it',
    html: saying('window.tide', '', '<p>Quay</p><script src="js/ask.js"></script>'),
    files: {
      'js/ask.js': 'document.write("<b></b>"); import("./tide.js");',
      'js/tide.js': 'window.tide = "six";',
    },
    says: 'six',
    strongest: { 'js/ask.js': 'as-authored' },
  },
  {
    name: 'a small script that another one finds by its address',
    html: saying(
      'window.base',
      '',
      '<p>Quay</p><script src="js/own.js"></script><script>window.base = document.querySelector(\'script[src*="own"]\').getAttribute("src");</script>',
    ),
    files: { 'js/own.js': 'document.write("<b></b>");' },
    says: 'js/own.js',
    strongest: { 'js/own.js': 'as-authored' },
  },
  {
    name: 'a token of the visit that a button of the page hands on',
    html: saying(
      'document.querySelector("b").textContent',
      '<script src="lib.js"></script>',
      '<button data-tap onclick="lib.pay()">Pay</button><b></b><script>var visitorToken = "v9"; lib.token = visitorToken;</script>',
    ),
    files: {
      'lib.js': 'var lib = { pay: function () { document.querySelector("b").textContent = this.token; } };',
    },
    says: 'v9',
  },
  {
    name: 'a small script that writes at its place',
    html: saying(
      'document.querySelector("i").previousElementSibling.id',
      '',
      '<p>Quay</p><script src="w.js"></script><i>after</i>',
    ),
    files: { 'w.js': 'document.write("<b id=w>written</b>");' },
    says: 'w',
    strongest: { 'w.js': 'inline' },
  },
  {
    name: 'a small script that asks how far the page is',
    html: saying('window.far', '<script src="far.js" charset="utf-8"></script>', '<p>Quay</p>'),
    files: { 'far.js': 'window.far = document.readyState + " – $& $1 \\u2028";' },
    says: 'loading – $& $1 \u2028',
    strongest: { 'far.js': 'inline' },
  },
  {
    name: 'a small script that counts what stands before it',
    html: saying(
      'document.documentElement.className',
      '',
      '<p>1</p><p>2</p><script src="seen.js"></script><p>3</p>',
    ),
    files: {
      'seen.js': 'document.documentElement.className = "seen-" + document.querySelectorAll("p").length;',
    },
    says: 'seen-2',
    strongest: { 'seen.js': 'inline' },
  },
  {
    name: 'a small script that speaks of the end of scripts',
    html: saying(
      'document.getElementById("w").textContent + window.two',
      '',
      '<p>Quay</p><script src="w.js"></script><i>after</i>',
    ),
    files: {
      'w.js': 'document.write("<b id=w>written</b><script>window.two = 2</scr" + "ipt>"); // </script>',
    },
    says: 'written2',
    strongest: { 'w.js': 'as-authored' },
  },
  {
    name: 'a small script in a page that is not UTF-8',
    html: saying(
      'document.querySelector("b").textContent',
      '',
      '<p>Quay</p><script src="w.js"></script>',
    ).replace('utf-8', 'windows-1252'),
    type: 'text/html; charset=windows-1252',
    files: { 'w.js': 'document.write("<b>f\\u00e6ringen</b>");' },
    says: 'færingen',
    strongest: { 'w.js': 'inline' },
  },
  {
    name: 'another’s script that answers the first click',
    html: saying(
      'document.querySelector("b").textContent',
      '',
      '<button data-tap>Ask</button><b></b><script async src="https://ask.test/ask.js"></script>',
    ),
    files: {
      'https://ask.test/ask.js':
        'document.querySelector("button").addEventListener("click", function () { document.querySelector("b").textContent = "asked"; });',
    },
    says: 'asked',
    strongest: { 'https://ask.test/ask.js': 'after-paint' },
  },
  {
    name: 'another’s deferred script that opens what is tapped',
    html: saying(
      'String(document.querySelector("details").open)',
      '',
      '<p data-tap>More</p><details><summary>Tides</summary>High at six</details><script defer src="https://ask.test/open.js" data-of="details"></script>',
    ),
    files: {
      'https://ask.test/open.js':
        'var of = document.currentScript.dataset.of; document.querySelector("p").addEventListener("click", function () { document.querySelector(of).open = true; });',
    },
    says: 'true',
    strongest: { 'https://ask.test/open.js': 'after-paint' },
  },
  {
    name: 'a snippet that puts in another’s script, which answers clicks',
    html: saying(
      'document.querySelector("b").textContent',
      '',
      '<button data-tap>Ask</button><b></b><script async src="https://ask.test/a.js"></script><script async src="https://ask.test/b.js"></script>',
    ),
    files: {
      'https://ask.test/a.js':
        'document.querySelector("button").addEventListener("click", function () { document.querySelector("b").textContent += "a"; });',
      'https://ask.test/b.js': 'window.asks = 2;',
    },
    says: 'a',
    strongest: { 'https://ask.test/a.js': 'after-paint', 'https://ask.test/b.js': 'delay' },
  },
  ...['(min-width: 60em)', 'screen and (min-width: 900px)', 'print and (orientation: landscape)'].map(
    (media): CorpusPage => ({
      name: `a sheet that is all under ${media}`,
      html: saying(
        'getComputedStyle(document.querySelector("p")).color + " " + document.styleSheets.length',
        '<meta name="viewport" content="width=device-width"><link rel="stylesheet" href="wide.css">',
        '<p>Quay</p>',
      ),
      files: {
        'wide.css': `@charset "utf-8";\n/* wide */\n@media ${media} { p { color: rgb(1, 2, 3) } }\n@media ${media}{p{margin:0}}`,
      },
      noFold: true,
      says: 'rgb(0, 0, 0) 1',
      strongest: { 'wide.css': 'own-media' },
    }),
  ),
  {
    name: 'a sheet that is under two media',
    html: saying(
      'getComputedStyle(document.querySelector("p")).color',
      '<meta name="viewport" content="width=device-width"><link rel="stylesheet" href="both.css">',
      '<p>Quay</p>',
    ),
    files: {
      'both.css':
        '@media (min-width: 60em) { p { color: rgb(1, 2, 3) } } @media (max-width: 59.99em) { p { color: rgb(4, 5, 6) } }',
    },
    noFold: true,
    says: 'rgb(4, 5, 6)',
    strongest: { 'both.css': 'own-media' },
  },
  {
    name: 'a small sheet with pictures of its own folder',
    html: saying(
      'getComputedStyle(document.querySelector("p")).backgroundImage',
      '<link rel="stylesheet" href="css/small.css">',
      '<p>Quay</p>',
    ),
    files: { 'css/small.css': 'p { background: url(../quay.png); color: red }' },
    noFold: true,
    says: 'url("https://quay.test/quay.png")',
    strongest: { 'css/small.css': 'inline' },
  },
  {
    name: 'a small sheet between two others',
    html: saying(
      'getComputedStyle(document.querySelector("p")).color',
      '<style>p { color: red }</style><link rel="stylesheet" href="small.css" media="screen"><style>p { margin: 0 }</style>',
      '<p>Quay</p>',
    ),
    files: { 'small.css': 'p { color: rgb(4, 5, 6); content: "</style>" }' },
    noFold: true,
    says: 'rgb(4, 5, 6)',
    strongest: { 'small.css': 'inline' },
  },
  {
    name: 'a small sheet with a layer and an import',
    html: saying(
      'getComputedStyle(document.querySelector("p")).color',
      '<link rel="stylesheet" href="small.css">',
      '<p>Quay</p>',
    ),
    files: {
      'small.css':
        '@layer low, high; @import url("low.css") layer(low); @layer high { p { color: rgb(4, 5, 6) } }',
      'low.css': 'p { color: rgb(1, 2, 3) }',
    },
    noFold: true,
    says: 'rgb(4, 5, 6)',
    strongest: { 'small.css': 'inline' },
  },
  {
    name: 'a small sheet that a script looks for',
    html: saying(
      'document.getElementById("theme").sheet.cssRules.length + ""',
      '<link rel="stylesheet" id="theme" href="small.css">',
      '<p>Quay</p>',
    ),
    files: { 'small.css': 'p { color: rgb(4, 5, 6) }' },
    noFold: true,
    says: '1',
    strongest: { 'small.css': 'as-authored' },
  },
  ...[
    ['one sheet', '@import "deep.css";', 'p { color: rgb(4, 5, 6) }'],
    ['a sheet for its media', '@import url(deep.css) screen;', 'p { color: rgb(4, 5, 6) }'],
    ['a sheet into a layer', '@import "deep.css" layer(base);', 'p { color: rgb(4, 5, 6) }'],
  ].map(([what, first, deep]): CorpusPage => ({
    name: `a large sheet that imports ${what}`,
    html: saying(
      'getComputedStyle(document.querySelector("p")).color',
      '<link rel="stylesheet" href="css/large.css">',
      '<p>Quay</p>',
    ),
    files: {
      'css/large.css': `${first}\n${Array.from({ length: 400 }, (_one, index) => `.berth-${index} { margin: 0 }`).join('\n')}`,
      'css/deep.css': deep!,
    },
    noFold: true,
    says: 'rgb(4, 5, 6)',
    strongest: { 'css/large.css': 'imports-early' },
  })),
  {
    name: 'a module that imports one that imports another',
    html: saying('window.told', '<script type="module" src="app/start.js"></script>', '<p>Quay</p>'),
    files: {
      'app/start.js': 'import { berth } from "./berth.js"; window.told = "berth " + berth;',
      'app/berth.js': 'import { tide } from "./tide.js"; export const berth = tide + 1;',
      'app/tide.js': 'export const tide = 2;',
    },
    says: 'berth 3',
    strongest: { 'app/start.js': 'modules-early' },
  },
  {
    name: 'modules whose order of running counts',
    html: saying(
      'window.order.join(" ")',
      '<script>window.order = [];</script><script type="module" src="first.js"></script>',
      '<p>Quay</p><script type="module" src="second.js"></script>',
    ),
    files: {
      'first.js': 'import "./b.js"; import "./a.js"; order.push("first");',
      'second.js': 'import "./a.js"; export * from "./c.js"; order.push("second");',
      'a.js': 'import "./c.js"; order.push("a");',
      'b.js': 'order.push("b");',
      'c.js': 'order.push("c");',
    },
    says: 'b c a first second',
    strongest: { 'first.js': 'modules-early', 'second.js': 'modules-early' },
  },
  {
    name: 'an inline module with an import map beside it',
    html: saying(
      'window.told',
      '<script type="importmap">{"imports":{"tide":"./lib/tide.js"}}</script><script type="module">import { tide } from "tide"; import { berth } from "./lib/berth.js"; window.told = tide + berth;</script>',
      '<p>Quay</p>',
    ),
    files: {
      'lib/tide.js': 'export const tide = "tide ";',
      'lib/berth.js': 'import { tide } from "tide"; export const berth = "at " + tide.trim();',
    },
    says: 'tide at tide',
    strongest: { 'inline: import { tide }': 'modules-early' },
  },
  {
    name: 'a module that imports none of the capture',
    html: saying('window.told', '<script type="module" src="start.js"></script>', '<p>Quay</p>'),
    files: { 'start.js': 'window.told = "alone"; import("./gone.js").catch(() => undefined);' },
    says: 'alone',
    strongest: { 'start.js': 'as-authored' },
  },
];
