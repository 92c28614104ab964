import { saying, type CorpusPage } from './page.ts';

const TIDE = 'window.tide = function (n) { return "tide " + n; };';

/** What scripts read and write by name. */
export const NAMES: CorpusPage[] = [
  {
    name: 'inline script reads a library',
    html: saying(
      'heard',
      '<script src="lib.js"></script>',
      '<p>Quay</p><script>var heard = tide(3);</script>',
    ),
    files: { 'lib.js': TIDE },
    says: 'tide 3',
    strongest: { 'lib.js': 'defer' },
  },
  {
    name: 'asks with typeof',
    html: saying(
      'heard',
      '<script src="lib.js"></script>',
      '<script>var heard = typeof tide === "function" ? "there" : "not there";</script><p>Quay</p>',
    ),
    files: { 'lib.js': TIDE },
    says: 'there',
    strongest: { 'lib.js': 'defer' },
  },
  {
    name: 'asks with in',
    html: saying(
      'heard',
      '<script src="lib.js"></script>',
      '<script>var heard = "tide" in window ? "there" : "not there";</script><p>Quay</p>',
    ),
    files: { 'lib.js': TIDE },
    says: 'there',
  },
  {
    name: 'members of an application, from two files',
    html: saying(
      'App.utils.fmt(4)',
      '<script src="app.js"></script><script src="utils.js"></script>',
      '<p>Quay</p><script>document.title = App.utils.fmt(2);</script>',
    ),
    files: {
      'app.js': 'window.App = { utils: {} };',
      'utils.js': 'App.utils.fmt = function (n) { return "fmt " + n; };',
    },
    says: 'fmt 4',
    strongest: { 'app.js': 'defer', 'utils.js': 'defer' },
  },
  {
    name: 'the global object by another name',
    html: saying(
      'heard',
      '<script src="lib.js"></script>',
      '<script>var heard = pier + "!";</script><p>Quay</p>',
    ),
    files: { 'lib.js': '(function (w) { var g = w; g.pier = "pier"; })(this);' },
    says: 'pier!',
    strongest: { 'lib.js': 'defer' },
  },
  {
    name: 'many names at once by Object.assign',
    html: saying(
      'heard',
      '<script src="lib.js"></script>',
      '<script>var heard = mast + sail;</script><p>Quay</p>',
    ),
    files: { 'lib.js': 'Object.assign(window, { mast: "m", sail: "s" });' },
    says: 'ms',
    strongest: { 'lib.js': 'defer' },
  },
  {
    name: 'names made in a loop',
    html: saying(
      'heard',
      '<script src="lib.js"></script>',
      '<p>Quay</p><script>var heard = mast() + sail();</script>',
    ),
    files: {
      'lib.js':
        'var api = { mast: function () { return "m"; }, sail: function () { return "s"; } }; for (var k in api) window[k] = api[k];',
    },
    says: 'ms',
  },
  {
    name: 'a name by defineProperty',
    html: saying(
      'heard',
      '<script src="lib.js"></script>',
      '<script>var heard = "k" + knots;</script><p>Quay</p>',
    ),
    files: { 'lib.js': 'Object.defineProperty(window, "knots", { get: function () { return 7; } });' },
    says: 'k7',
    strongest: { 'lib.js': 'defer' },
  },
  {
    name: 'the global object by a function made of text',
    html: saying(
      'heard',
      '<script src="lib.js"></script>',
      '<script>var heard = "b" + buoy;</script><p>Quay</p>',
    ),
    files: { 'lib.js': 'var root = Function("return this")(); root.buoy = 4;' },
    says: 'b4',
    strongest: { 'lib.js': 'defer' },
  },
  {
    name: 'a name that only eval knows',
    html: saying(
      'heard',
      '<script src="lib.js"></script>',
      '<script>var heard = "e" + hidden;</script><p>Quay</p>',
    ),
    files: { 'lib.js': 'var code = ["window", "hidden=5"].join("."); (0, eval)(code);' },
    says: 'e5',
  },
  {
    name: 'settings that come after the library has read them',
    html: saying(
      'state',
      '<script src="lib.js"></script><script>window.settings = { mode: "late" };</script>',
      '<p>Quay</p>',
    ),
    files: { 'lib.js': 'var state = window.settings ? settings.mode : "default";' },
    says: 'default',
  },
  {
    name: 'settings that come before',
    html: saying(
      'state',
      '<script>window.settings = { mode: "early" };</script><script src="lib.js"></script>',
      '<p>Quay</p>',
    ),
    files: { 'lib.js': 'var state = window.settings ? settings.mode : "default";' },
    says: 'early',
    strongest: { 'lib.js': 'defer' },
  },
  {
    name: 'two that set the same name',
    html: saying(
      'captain',
      '<script src="lib.js"></script><script>window.captain = "Ines";</script>',
      '<p>Quay</p>',
    ),
    files: { 'lib.js': 'window.captain = "Olav";' },
    says: 'Ines',
  },
  {
    name: 'registering in order',
    html: saying(
      'App.list.join()',
      '<script>window.App = { list: [], add: function (x) { this.list.push(x); } };</script><script src="a.js"></script><script>App.add("b");</script><script src="c.js"></script>',
      '<p>Quay</p>',
    ),
    files: { 'a.js': 'App.add("a");', 'c.js': 'App.add("c");' },
    says: 'a,b,c',
  },
  {
    name: 'a counter that two scripts raise',
    html: saying(
      'String(count)',
      '<script>var count = 1;</script><script src="twice.js"></script><script>count = count + 3;</script>',
      '<p>Quay</p>',
    ),
    files: { 'twice.js': 'count = count * 2;' },
    says: '5',
  },
  {
    name: 'a library, its plugin, and a page that uses it',
    html: saying(
      'document.querySelector(".hull").textContent',
      '<script src="q.js"></script><script src="slide.js"></script>',
      '<p class="hull">Quay</p><script>q(".hull").slide("in");</script>',
    ),
    files: {
      'q.js':
        'window.q = function (s) { return new q.fn.init(s); }; q.fn = { init: function (s) { this.all = document.querySelectorAll(s); } }; q.fn.init.prototype = q.fn;',
      'slide.js':
        'q.fn.slide = function (x) { this.all.forEach(function (e) { e.textContent = "slid " + x; }); };',
    },
    says: 'slid in',
    strongest: { 'q.js': 'defer', 'slide.js': 'defer' },
  },
  {
    name: 'what is stored by a key',
    html: saying(
      'heard',
      '<script src="store.js"></script>',
      '<script>var heard = localStorage.getItem("berth");</script><p>Quay</p>',
    ),
    files: { 'store.js': 'localStorage.setItem("berth", "12");' },
    says: '12',
    strongest: { 'store.js': 'defer' },
  },
  {
    name: 'a cookie',
    html: saying(
      'heard',
      '<script src="store.js"></script>',
      '<script>var heard = /berth=7/.test(document.cookie) ? "berth 7" : "none";</script><p>Quay</p>',
    ),
    files: { 'store.js': 'document.cookie = "berth=7";' },
    says: 'berth 7',
    strongest: { 'store.js': 'defer' },
  },
  {
    name: 'a method put on all texts',
    html: saying(
      'heard',
      '<script src="shout.js"></script>',
      '<script>var heard = "ahoy".shout();</script><p>Quay</p>',
    ),
    files: { 'shout.js': 'String.prototype.shout = function () { return this.toUpperCase(); };' },
    says: 'AHOY',
    strongest: { 'shout.js': 'defer' },
  },
  {
    name: 'fetch by another function',
    html: saying(
      'heard',
      '<script src="wrap.js"></script>',
      '<script>var heard = String(fetch.wrapped);</script><p>Quay</p>',
    ),
    files: {
      'wrap.js':
        'var own = window.fetch; window.fetch = function () { return own.apply(window, arguments); }; window.fetch.wrapped = "yes";',
    },
    says: 'yes',
    strongest: { 'wrap.js': 'defer' },
  },
  {
    name: 'an event that is announced once',
    html: saying(
      'heard',
      '<script>var heard = "nothing"; document.addEventListener("quay:open", function () { heard = "open"; });</script><script src="open.js"></script>',
      '<p>Quay</p>',
    ),
    files: { 'open.js': 'document.dispatchEvent(new CustomEvent("quay:open"));' },
    says: 'open',
    strongest: { 'open.js': 'defer' },
  },
  {
    name: 'a listener that comes too late as authored',
    html: saying(
      'heard',
      '<script src="open.js"></script><script>var heard = "nothing"; document.addEventListener("quay:open", function () { heard = "open"; });</script>',
      '<p>Quay</p>',
    ),
    files: { 'open.js': 'document.dispatchEvent(new CustomEvent("quay:open"));' },
    says: 'nothing',
  },
  {
    name: 'a queue that a late script empties',
    html: saying(
      'seen.join()',
      '<script>window.seen = []; window.calls = window.calls || []; function call() { calls.push([].slice.call(arguments)); } call("start");</script><script async src="https://count.test/drain.js"></script>',
      '<script>call("page");</script><p>Quay</p>',
    ),
    files: {
      'https://count.test/drain.js':
        '(function (q) { q.forEach(function (c) { seen.push(c[0]); }); q.push = function (c) { seen.push(c[0]); }; })(window.calls = window.calls || []);',
    },
    says: 'start,page',
    strongest: { 'https://count.test/drain.js': 'delay' },
  },
  {
    name: 'a function that calls another file when it is called',
    html: saying(
      'heard',
      '<script src="boot.js"></script><script src="lib.js"></script>',
      '<script>var heard = boot();</script><p>Quay</p>',
    ),
    files: {
      'boot.js': 'window.boot = function () { return typeof tide === "function" ? tide(9) : "too early"; };',
      'lib.js': TIDE,
    },
    says: 'tide 9',
  },
  {
    name: 'a class declared at the top',
    html: saying(
      'heard',
      '<script src="hull.js"></script>',
      '<script>var heard = new Hull(3).name;</script><p>Quay</p>',
    ),
    files: { 'hull.js': 'class Hull { constructor(n) { this.name = "hull " + n; } }' },
    says: 'hull 3',
    strongest: { 'hull.js': 'defer' },
  },
  {
    name: 'a name read in a timer',
    html: saying(
      'heard',
      '<script src="lib.js"></script>',
      '<script>var heard = "none"; setTimeout(function () { heard = typeof tide === "function" ? tide(1) : "too early"; }, 0);</script><p>Quay</p>',
    ),
    files: { 'lib.js': TIDE },
    says: 'tide 1',
  },
  {
    name: 'noConflict gives a name back',
    html: saying(
      'heard',
      '<script src="one.js"></script><script src="two.js"></script><script>var dollar = lib2.noConflict(); var heard = lib.v + dollar.v;</script>',
      '<p>Quay</p>',
    ),
    files: {
      'one.js': 'window.lib = { v: "one" };',
      'two.js':
        'var before = window.lib; window.lib = window.lib2 = { v: "two", noConflict: function () { window.lib = before; return lib2; } };',
    },
    says: 'onetwo',
    strongest: { 'one.js': 'defer', 'two.js': 'defer' },
  },
  {
    name: 'one file twice',
    html: saying(
      'String(n)',
      '<script>var n = 0;</script><script src="up.js"></script><script src="up.js"></script>',
      '<p>Quay</p>',
    ),
    files: { 'up.js': 'n = n + 1;' },
    says: '2',
    strongest: { 'up.js': 'defer' },
  },
  {
    name: 'a script that only speaks for itself',
    html: saying('own', '<script src="own.js"></script>', '<p>Quay</p>'),
    files: { 'own.js': 'var own = "alone";' },
    says: 'alone',
    strongest: { 'own.js': 'defer' },
  },
];
