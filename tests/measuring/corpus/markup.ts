import { saying, type CorpusPage } from './page.ts';

const LIB = 'window.tide = function (n) { return "tide " + n; };';
const POLICY = "script-src 'self' 'nonce-abc123'; style-src 'self'";

/** Markup, policies, encodings, and what stands around scripts. */
export const MARKUP: CorpusPage[] = [
  {
    name: 'a policy with a nonce',
    html: saying(
      'heard',
      '<script nonce="abc123" src="lib.js"></script>',
      '<p>Quay</p><script nonce="abc123">var heard = tide(1);</script>',
    ),
    files: { 'lib.js': LIB },
    policies: [POLICY + " 'unsafe-eval'"],
    says: 'tide 1',
  },
  {
    name: 'a policy that refuses inline scripts',
    html: saying('heard', '<script src="lib.js"></script>', '<p>Quay</p><script src="own.js"></script>'),
    files: { 'lib.js': LIB, 'own.js': 'var heard = tide(1);' },
    policies: ["script-src 'self' 'unsafe-eval'"],
    says: 'tide 1',
    strongest: { 'lib.js': 'defer', 'own.js': 'defer' },
  },
  {
    name: 'a policy that names hosts, and a third party',
    html: saying('String(window.visits)', '<script src="https://count.test/c.js"></script>', '<p>Quay</p>'),
    files: { 'https://count.test/c.js': 'window.visits = 1;' },
    policies: ["script-src 'self' https://count.test 'unsafe-eval'"],
    says: '1',
    strongest: { 'https://count.test/c.js': 'defer' },
  },
  {
    name: 'a base that points elsewhere',
    html: saying(
      'heard',
      '<base href="/deep/down/"><script src="lib.js"></script>',
      '<p>Quay</p><script>var heard = tide(2);</script>',
    ),
    files: { 'deep/down/lib.js': LIB },
    says: 'tide 2',
    strongest: { 'deep/down/lib.js': 'defer' },
  },
  {
    name: 'entities in an address',
    html: saying(
      'heard',
      '<script src="lib.js?a=1&amp;b=2"></script>',
      '<p>Quay</p><script>var heard = tide(2);</script>',
    ),
    files: { 'lib.js?a=1&b=2': LIB },
    says: 'tide 2',
    strongest: { 'lib.js?a=1&b=2': 'defer' },
  },
  {
    name: 'attributes without quotes, in capitals',
    html: saying(
      'heard',
      '<SCRIPT SRC=lib.js TYPE=text/javascript></SCRIPT>',
      '<p>Quay</p><SCRIPT>var heard = tide(2);</SCRIPT>',
    ),
    files: { 'lib.js': LIB },
    says: 'tide 2',
    strongest: { 'lib.js': 'defer' },
  },
  {
    name: 'an old type, and a language',
    html: saying(
      'heard',
      '<script type="text/ecmascript" language="javascript" src="lib.js"></script>',
      '<p>Quay</p><script language="JavaScript">var heard = tide(2);</script>',
    ),
    files: { 'lib.js': LIB },
    says: 'tide 2',
  },
  {
    name: 'a comment that holds a script',
    html: saying(
      'heard',
      '<!-- <script src="gone.js"></script> --><script src="lib.js"></script>',
      '<p>Quay</p><script>var heard = tide(2);</script>',
    ),
    files: { 'lib.js': LIB },
    says: 'tide 2',
    strongest: { 'lib.js': 'defer' },
  },
  {
    name: 'the author’s own onload',
    html: saying(
      'heard',
      '<script>var heard = "never";</script><script src="lib.js" onload="heard = tide(5)"></script>',
      '<p>Quay</p>',
    ),
    files: { 'lib.js': LIB },
    says: 'tide 5',
  },
  {
    name: 'a pair for old and new browsers',
    html: saying(
      'heard',
      '<script nomodule src="old.js"></script><script type="module" src="new.js"></script>',
      '<p>Quay</p>',
    ),
    files: { 'old.js': 'window.heard = "old";', 'new.js': 'window.heard = "new";' },
    says: 'new',
  },
  {
    name: 'an inline script with markup in a text',
    html: saying(
      'heard',
      '<script src="lib.js"></script>',
      '<p>Quay</p><script>var heard = tide("<\\/script><!-- " + 1);</script>',
    ),
    files: { 'lib.js': LIB },
    says: 'tide </script><!-- 1',
    strongest: { 'lib.js': 'defer' },
  },
  {
    name: 'letters beyond ASCII become a file',
    html: saying(
      'heard',
      '<script src="lib.js"></script>',
      '<p>Quay</p><script>var heard = tide("Łódź Ø ü");</script>',
    ),
    files: { 'lib.js': LIB },
    says: 'tide Łódź Ø ü',
    strongest: { 'lib.js': 'defer' },
  },
  {
    name: 'a token of one visit beside a library',
    html: saying(
      'heard',
      '<script src="lib.js"></script>',
      '<p>Quay</p><script>var csrfToken = "a81f03bc55de1290aa17"; var heard = tide(csrfToken.length);</script>',
    ),
    files: { 'lib.js': LIB },
    says: 'tide 20',
  },
  {
    name: 'two inline scripts with one text',
    html: saying(
      'String(n)',
      '<script>var n = 0;</script><script src="lib.js"></script>',
      '<p>Quay</p><script>n = n + tide(1).length;</script><script>n = n + tide(1).length;</script>',
    ),
    files: { 'lib.js': LIB },
    says: '12',
  },
  {
    name: 'scripts that are data, templates or for no scripts',
    html: saying(
      'heard',
      '<script src="lib.js"></script>',
      '<script type="application/json" id="d">{"n":4}</script><template><script>heard = "wrong"</script></template><noscript><script>heard = "wrong"</script></noscript><script>var heard = tide(JSON.parse(document.getElementById("d").textContent).n);</script>',
    ),
    files: { 'lib.js': LIB },
    says: 'tide 4',
  },
  {
    name: 'a preload of the same script',
    html: saying(
      'heard',
      '<link rel="preload" as="script" href="lib.js"><script src="lib.js"></script>',
      '<p>Quay</p><script>var heard = tide(2);</script>',
    ),
    files: { 'lib.js': LIB },
    says: 'tide 2',
    strongest: { 'lib.js': 'defer' },
  },
  {
    name: 'a strict inline script, and one that is not',
    html: saying(
      'heard',
      '<script src="lib.js"></script>',
      '<p>Quay</p><script>"use strict"; var a = (function () { return this === undefined; })();</script><script>var b = (function () { return this === window; })(); var heard = tide(a + " " + b);</script>',
    ),
    files: { 'lib.js': LIB },
    says: 'tide true true',
    strongest: { 'lib.js': 'defer' },
  },
  {
    name: 'let at the top, read by the next',
    html: saying(
      'heard',
      '<script src="lib.js"></script>',
      '<p>Quay</p><script>let level = tide(1);</script><script>var heard = level + "!";</script>',
    ),
    files: { 'lib.js': LIB },
    says: 'tide 1!',
    strongest: { 'lib.js': 'defer' },
  },
  {
    name: 'a sheet that a script reads while it is parsed',
    html: saying(
      'heard',
      '<link rel="stylesheet" href="own.css">',
      '<p class="far">Quay</p><script>var heard = getComputedStyle(document.querySelector(".far")).paddingTop;</script>',
    ),
    files: { 'own.css': '.far { padding-top: 7px }' },
    says: '7px',
  },
  {
    name: 'a sheet with an onload of its author',
    html: saying(
      'heard',
      '<script>var heard = "never";</script><link rel="stylesheet" href="own.css" onload="heard = \'came for \' + (this.media || \'all\')">',
      '<p>Quay</p>',
    ),
    files: { 'own.css': 'p { color: red }' },
    says: 'came for all',
  },
  {
    name: 'sheets that are switched',
    html: saying(
      'getComputedStyle(document.querySelector("p")).color',
      '<link rel="stylesheet" title="Day" href="day.css"><link rel="alternate stylesheet" title="Dusk" href="dusk.css">',
      '<p>Quay</p>',
    ),
    files: { 'day.css': 'p { color: rgb(9, 9, 9) }', 'dusk.css': 'p { color: rgb(8, 8, 8) }' },
    says: 'rgb(9, 9, 9)',
  },
  {
    name: 'a sheet for wide screens',
    html: saying(
      'getComputedStyle(document.querySelector("p")).color',
      '<link rel="stylesheet" href="own.css"><link rel="stylesheet" media="(min-width: 5000px)" href="wide.css">',
      '<p>Quay</p>',
    ),
    files: { 'own.css': 'p { color: rgb(1, 1, 1) }', 'wide.css': 'p { color: rgb(2, 2, 2) }' },
    says: 'rgb(1, 1, 1)',
  },
  {
    name: 'two sheets whose order counts',
    html: saying(
      'getComputedStyle(document.querySelector("p")).color',
      '<link rel="stylesheet" href="a.css"><style>p { color: rgb(5, 5, 5) }</style><link rel="stylesheet" href="b.css">',
      '<p>Quay</p>',
    ),
    files: { 'a.css': 'p { color: rgb(1, 1, 1) }', 'b.css': 'p { color: rgb(2, 2, 2) }' },
    says: 'rgb(2, 2, 2)',
  },
  {
    name: 'an inline script that is made to wait and sets what an attribute reads',
    html: saying(
      'document.querySelector("nav").className',
      '<script src="lib.js"></script>',
      '<button data-tap onclick="toggle()">Menu</button><nav class="shut">Quay</nav><script>var word = tide(0); function toggle() { document.querySelector("nav").className = word; }</script>',
    ),
    files: { 'lib.js': LIB },
    says: 'tide 0',
    strongest: { 'lib.js': 'defer' },
  },
];
