import { saying, type CorpusPage } from './page.ts';

const log = 'window.log = window.log || [];';

/** Moments that scripts wait for, or ask about. */
export const MOMENTS: CorpusPage[] = [
  {
    name: 'waits for DOMContentLoaded',
    html: saying('heard', '<script src="a.js"></script>', '<p class="x">Quay</p>'),
    files: {
      'a.js':
        'var heard = "never"; document.addEventListener("DOMContentLoaded", function () { heard = document.querySelector(".x").textContent; });',
    },
    says: 'Quay',
    strongest: { 'a.js': 'defer' },
  },
  {
    name: 'waits for load',
    html: saying('heard', '<script src="a.js"></script>', '<p>Quay</p>'),
    files: { 'a.js': 'var heard = "never"; window.onload = function () { heard = "loaded"; };' },
    says: 'loaded',
    strongest: { 'a.js': 'defer' },
  },
  {
    name: 'a third party that waits for DOMContentLoaded',
    html: saying(
      'heard',
      '<script async src="https://chart.test/a.js"></script>',
      '<p>Quay</p><script>var heard = window.heard || "never";</script>',
    ),
    files: {
      'https://chart.test/a.js':
        'document.addEventListener("DOMContentLoaded", function () { heard = "drawn"; }); if (document.readyState !== "loading") heard = "drawn";',
    },
    says: 'drawn',
  },
  {
    name: 'a third party that waits for load',
    html: saying('window.heard || "never"', '<script src="https://chart.test/a.js"></script>', '<p>Quay</p>'),
    files: {
      'https://chart.test/a.js': 'addEventListener("load", function () { window.heard = "drawn"; });',
    },
    says: 'drawn',
    strongest: { 'https://chart.test/a.js': 'defer' },
  },
  {
    name: 'asks whether the page is parsed, and waits otherwise',
    html: saying('window.heard || "never"', '<script src="https://chart.test/a.js"></script>', '<p>Quay</p>'),
    files: {
      'https://chart.test/a.js':
        'function go() { window.heard = "drawn"; } if (document.readyState === "loading") document.addEventListener("DOMContentLoaded", go); else go();',
    },
    says: 'drawn',
    strongest: { 'https://chart.test/a.js': 'delay' },
  },
  {
    name: 'asks for complete, and waits for DOMContentLoaded otherwise',
    html: saying('window.heard || "never"', '<script src="https://chart.test/a.js"></script>', '<p>Quay</p>'),
    files: {
      'https://chart.test/a.js':
        'function go() { window.heard = "drawn"; } if (document.readyState === "complete") go(); else document.addEventListener("DOMContentLoaded", go);',
    },
    says: 'drawn',
  },
  {
    name: 'waits until the page is interactive',
    html: saying('heard', '<script src="a.js"></script>', '<p>Quay</p>'),
    files: {
      'a.js':
        'var heard = "never"; document.addEventListener("readystatechange", function () { if (document.readyState === "interactive") heard = "interactive"; });',
    },
    says: 'interactive',
    strongest: { 'a.js': 'inline' },
  },
  {
    name: 'goes by how far the page is',
    html: saying('heard', '<script src="a.js"></script>', '<p>Quay</p>'),
    files: { 'a.js': 'var heard = document.readyState === "loading" ? "early" : "late";' },
    says: 'early',
    strongest: { 'a.js': 'inline' },
  },
  {
    name: 'goes by how far the page is, by another name',
    html: saying('heard', '<script src="a.js"></script>', '<p>Quay</p>'),
    files: {
      'a.js':
        'var d = document, k = "readyState"; var heard = d["ready" + "State"] === "loading" ? "early" : "late";',
    },
    says: 'early',
    strongest: { 'a.js': 'inline' },
  },
  {
    name: 'listeners are called in their order',
    html: saying(
      'log.join()',
      `<script>${log}</script><script src="a.js"></script><script>document.addEventListener("DOMContentLoaded", function () { log.push("b"); });</script>`,
      '<p>Quay</p>',
    ),
    files: { 'a.js': 'document.addEventListener("DOMContentLoaded", function () { log.push("a"); });' },
    says: 'a,b',
  },
  {
    name: 'deferred by its author, and reads what is deferred with it',
    html: saying(
      'heard',
      '<script defer src="own.js"></script><script src="lib.js"></script>',
      '<p>Quay</p>',
    ),
    files: { 'own.js': 'var heard = lib;', 'lib.js': 'window.lib = "lib";' },
    says: 'lib',
    strongest: { 'lib.js': 'inline' },
  },
  {
    name: 'a module that reads a library',
    html: saying(
      'heard',
      '<script src="lib.js"></script><script type="module" src="m.js"></script>',
      '<p>Quay</p>',
    ),
    files: { 'm.js': 'window.heard = lib + "!";', 'lib.js': 'window.lib = "lib";' },
    says: 'lib!',
    strongest: { 'lib.js': 'defer' },
  },
  {
    name: 'a module that stands before the library it reads',
    html: saying(
      'heard',
      '<script type="module">window.heard = lib + "!";</script><script src="lib.js"></script>',
      '<p>Quay</p>',
    ),
    files: { 'lib.js': 'window.lib = "lib";' },
    says: 'lib!',
    strongest: { 'lib.js': 'inline' },
  },
  {
    name: 'the body calls a function when it has loaded',
    html: saying('heard', '<script src="lib.js"></script>', '<p>Quay</p>').replace(
      '<body',
      '<body onload="start()"',
    ),
    files: { 'lib.js': 'var heard = "never"; function start() { heard = "started"; }' },
    says: 'started',
    strongest: { 'lib.js': 'defer' },
  },
  {
    name: 'a picture calls a function when it has come',
    html: saying(
      'heard',
      '<script>var heard = "never";</script><script src="lib.js"></script>',
      '<img src="data:image/gif;base64,R0lGODlhAQABAAAAACH5BAEKAAEALAAAAAABAAEAAAICTAEAOw==" onload="came()"><p>Quay</p>',
    ),
    files: { 'lib.js': 'function came() { heard = "came"; }' },
    says: 'came',
    strongest: { 'lib.js': 'inline' },
  },
  {
    name: 'a picture that does not come calls a function',
    html: saying(
      'heard',
      '<script>var heard = "never";</script><script src="lib.js"></script>',
      '<img src="data:image/gif;base64,xx" onerror="missing()"><p>Quay</p>',
    ),
    files: { 'lib.js': 'function missing() { heard = "missing"; }' },
    says: 'missing',
    strongest: { 'lib.js': 'inline' },
  },
  {
    name: 'a promise that is kept soon',
    html: saying(
      'heard',
      '<script src="lib.js"></script>',
      '<script>var heard = "never"; Promise.resolve().then(function () { heard = window.lib || "too early"; });</script><p>Quay</p>',
    ),
    files: { 'lib.js': 'window.lib = "lib";' },
    says: 'lib',
  },
  {
    name: 'a button that a third party answers',
    html: saying(
      'document.querySelector("nav").className',
      '',
      '<button data-tap>Menu</button><nav class="shut">Quay</nav><script src="https://menu.test/menu.js"></script>',
    ),
    files: {
      'https://menu.test/menu.js':
        'document.querySelector("button").addEventListener("click", function () { document.querySelector("nav").className = "open"; });',
    },
    says: 'open',
    strongest: { 'https://menu.test/menu.js': 'defer' },
  },
  {
    name: 'a button whose attribute calls a function',
    html: saying(
      'document.querySelector("nav").className',
      '',
      '<button data-tap onclick="openMenu()">Menu</button><nav class="shut">Quay</nav><script src="https://menu.test/menu.js"></script>',
    ),
    files: {
      'https://menu.test/menu.js':
        'window.openMenu = function () { document.querySelector("nav").className = "open"; };',
    },
    says: 'open',
    strongest: { 'https://menu.test/menu.js': 'defer' },
  },
  {
    name: 'a link with an address of script',
    html: saying(
      'document.querySelector("nav").className',
      '',
      '<a data-tap href="javascript:openMenu()">Menu</a><nav class="shut">Quay</nav><script src="https://menu.test/menu.js"></script>',
    ),
    files: {
      'https://menu.test/menu.js':
        'window.openMenu = function () { document.querySelector("nav").className = "open"; };',
    },
    says: 'open',
    strongest: { 'https://menu.test/menu.js': 'defer' },
  },
  {
    name: 'a third party that counts visits',
    html: saying('String(window.visits)', '<script src="https://count.test/c.js"></script>', '<p>Quay</p>'),
    files: { 'https://count.test/c.js': 'window.visits = (window.visits || 0) + 1;' },
    says: '1',
    strongest: { 'https://count.test/c.js': 'delay' },
  },
  {
    name: 'two third parties, one after the other',
    html: saying(
      'window.order',
      '<script src="https://count.test/a.js"></script><script src="https://count.test/b.js"></script>',
      '<p>Quay</p>',
    ),
    files: {
      'https://count.test/a.js': 'window.order = "a";',
      'https://count.test/b.js': 'window.order = window.order + "b";',
    },
    says: 'ab',
    strongest: { 'https://count.test/a.js': 'delay', 'https://count.test/b.js': 'delay' },
  },
  {
    name: 'a third party of which one’s own script reads',
    html: saying(
      'heard',
      '<script src="https://lib.test/l.js"></script>',
      '<p>Quay</p><script src="own.js"></script>',
    ),
    files: {
      'https://lib.test/l.js': 'window.lib = function () { return "lib"; };',
      'own.js': 'var heard = lib();',
    },
    says: 'lib',
    strongest: { 'https://lib.test/l.js': 'defer', 'own.js': 'defer' },
  },
  {
    name: 'asks for consent',
    html: saying(
      'document.querySelectorAll(".cookie-notice").length + ""',
      '<script src="https://ask.test/consent.js"></script>',
      '<p>Quay</p>',
    ),
    files: {
      'https://ask.test/consent.js':
        'document.addEventListener("DOMContentLoaded", function () { var e = document.createElement("div"); e.className = "cookie-notice"; e.textContent = "May we?"; document.body.appendChild(e); });',
    },
    says: '1',
    strongest: { 'https://ask.test/consent.js': 'defer' },
  },
  {
    name: 'waits for a ready function of a library',
    html: saying(
      'heard',
      '<script src="q.js"></script>',
      '<script>var heard = "never"; q(function () { heard = document.querySelector(".x").textContent; });</script><p class="x">Quay</p>',
    ),
    files: {
      'q.js':
        'var q = function (f) { if (document.readyState !== "loading") f(); else document.addEventListener("DOMContentLoaded", f); };',
    },
    says: 'Quay',
    strongest: { 'q.js': 'defer' },
  },
  {
    name: 'works with elements that are in view or hidden, waiting until they come near',
    html: saying(
      '["#map", ".dialog"].map((one) => document.querySelector(one).textContent).join(" ")',
      '',
      '<p id="map">Map</p><p class="dialog" hidden>Dialog</p><script src="map.js"></script><script src="dialog.js"></script>',
    ),
    files: {
      'map.js': 'document.getElementById("map").textContent = "drawn";',
      'dialog.js': 'document.querySelector(".dialog").textContent = "ready";',
    },
    says: 'drawn ready',
    chosen: {
      'map.js': { treatment: 'near-view', together: [] },
      'dialog.js': { treatment: 'near-view', together: [] },
    },
  },
  {
    name: 'works with elements that another script puts in, waiting until they come near',
    html: saying(
      '[...document.querySelectorAll(".berth")].map((one) => one.textContent).join(" ")',
      '',
      '<ul id="berths"></ul><script src="berths.js"></script><script src="ships.js"></script>',
    ),
    files: {
      'berths.js':
        'document.getElementById("berths").innerHTML = "<li class=berth></li><li class=berth></li>";',
      'ships.js':
        'document.querySelectorAll("#berths, .berth").forEach(function (one, n) { if (n) one.textContent = "ship " + n; });',
    },
    says: 'ship 1 ship 2',
    chosen: {
      'berths.js': { treatment: 'near-view', together: [] },
      'ships.js': { treatment: 'near-view', together: [] },
    },
  },
];
