import { saying, type CorpusPage } from './page.ts';

/** As much of a comment as makes a file worth minifying. */
const TALE = `/*${' tide after tide\n'.repeat(300)}*/`;

/** Files that are written anew: shorter, or several as one. */
export const ONE_FILE: CorpusPage[] = [
  {
    name: 'a long file that writes into the page, and relies on where its lines end',
    html: saying('document.querySelector("b").title', '', '<p>Quay</p><script src="w.js"></script>'),
    files: {
      'w.js': `${TALE}
var tide = 6
var text = \`high
  at \${tide}\`
/* a line */ ;[1].forEach(function () {
  document.write('<b title="' + text.replace(/\\s+/g, ' ') + '"></b>')
})
`,
    },
    says: 'high at 6',
    strongest: { 'w.js': 'minified' },
  },
  {
    name: 'a long file whose functions are asked for their text',
    html: saying('window.asked', '', '<p>Quay</p><script src="w.js"></script>'),
    files: {
      'w.js': `${TALE}
function berth( $tides , /* of the harbour */ $ships ) { return $tides + $ships; }
document.write('<b></b>');
window.asked = berth.toString().match(/\\$\\w+/g).slice(0, 2).join(" ") + " " + berth.name + " " + berth.length;
`,
    },
    says: '$tides $ships berth 2',
    strongest: { 'w.js': 'minified' },
  },
  {
    name: 'a long file that keeps a text in a comment',
    html: saying('window.text', '', '<p>Quay</p><script src="w.js"></script>'),
    files: {
      'w.js': `${TALE}
document.write('<b></b>');
window.text = (function () {/*
high water
*/}).toString().split("\\n")[1];
`,
    },
    says: 'high water',
    strongest: { 'w.js': 'as-authored' },
  },
  {
    name: 'a long sheet whose comments hide rules, and whose last block is open',
    html: saying(
      'getComputedStyle(document.querySelector("p")).color + getComputedStyle(document.querySelector("i")).color',
      '<link rel="stylesheet" href="a.css">',
      '<p>Quay</p><i>Tide</i>',
    ),
    files: {
      'a.css': `${TALE}
p { color: rgb(0, 128, 128) /* p { color: red } */ }
/* i { color: red } */
@media all { i { color: rgb(0, 0, 128)`,
    },
    noFold: true,
    says: 'rgb(0, 128, 128)rgb(0, 0, 128)',
    strongest: { 'a.css': 'minified' },
  },
  {
    name: 'a library, what adds to it, and what uses both, one after the other',
    html: saying(
      'window.log.join(" ")',
      '<script src="lib.js"></script>\n<script src="add.js"></script>\n<script src="use.js"></script>',
      '<p>Quay</p>',
    ),
    files: {
      'lib.js': 'window.log = []; var lib = { n: 1 } // no end',
      'add.js': '(function (l) { l.add = function () { log.push("n" + this.n++); return this; } })(lib)',
      'use.js': '[1, 2].forEach(function () { lib.add() })',
    },
    says: 'n1 n2',
    chosen: { 'lib.js': { treatment: 'merged', together: ['add.js', 'use.js'] } },
  },
  {
    name: 'the same three merged and deferred, one of which waits for the page',
    html: saying(
      'window.log.join(" ")',
      '<script src="lib.js"></script>\n<script src="add.js"></script>\n<script src="use.js"></script>',
      '<p>Quay</p>',
    ),
    files: {
      'lib.js': 'window.log = []; var lib = { n: 1 } // no end',
      'add.js': '(function (l) { l.add = function () { log.push("n" + this.n++); return this; } })(lib)',
      'use.js':
        'lib.add(); document.addEventListener("DOMContentLoaded", function () { log.push("p" + document.querySelectorAll("p").length); });',
    },
    says: 'n1 p1',
    chosen: { 'lib.js': { treatment: 'merged-defer', together: ['add.js', 'use.js'] } },
  },
  {
    name: 'deferred scripts with something between them, and one that waits for the page',
    html: saying(
      'window.log.join(" ")',
      '<script defer src="a.js"></script>',
      '<p>Quay</p><script>window.log = ["parsed"];</script><script defer src="b.js"></script><i>Tide</i>',
    ),
    files: {
      'a.js':
        'log.push("a" + document.querySelectorAll("i").length); document.addEventListener("DOMContentLoaded", function () { log.push("ready"); });',
      'b.js': 'log.push("b");',
    },
    says: 'parsed a1 b ready',
    chosen: { 'a.js': { treatment: 'merged', together: ['b.js'] } },
  },
  {
    name: 'sheets that override each other, one in a folder, one with layers',
    html: saying(
      '["p", "i"].map((one) => getComputedStyle(document.querySelector(one)).color).join(" ") + " " + getComputedStyle(document.querySelector("i")).backgroundImage.replace(/.*test/, "")',
      '<link rel="stylesheet" href="a.css"><link rel="stylesheet" href="css/b.css"><link rel="stylesheet" href="c.css">',
      '<p>Quay</p><i>Tide</i>',
    ),
    files: {
      'a.css': '@layer low, high; @layer high { p { color: rgb(1, 1, 1) } } i { color: rgb(9, 9, 9) }',
      'css/b.css':
        '@layer low { p { color: rgb(2, 2, 2) } } i { color: rgb(3, 3, 3); background: url(sea.svg) }',
      'c.css': 'i { color: rgb(4, 4, 4) }',
    },
    noFold: true,
    says: 'rgb(1, 1, 1) rgb(4, 4, 4) /css/sea.svg")',
    chosen: { 'a.css': { treatment: 'merged', together: ['css/b.css', 'c.css'] } },
  },
];
