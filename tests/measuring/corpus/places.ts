import { saying, type CorpusPage } from './page.ts';

/** What scripts do to the document at their place. */
export const PLACES: CorpusPage[] = [
  ['plainly', 'document.write("<b id=w>written</b>");'],
  ['by another name of the document', 'var d = document; d.write("<b id=w>written</b>");'],
  ['by a method put together', 'document["wri" + "te"]("<b id=w>written</b>");'],
  ['by a method in a variable', 'var m = ["w", "rite"].join(""); document[m]("<b id=w>written</b>");'],
  ['by a bound function', 'var put = document.write.bind(document); put("<b id=w>written</b>");'],
  ['in a function given the document', '(function (d) { d.writeln("<b id=w>written</b>"); })(document);'],
].map(([how, code]): CorpusPage => ({
  name: `document.write ${how}`,
  html: saying(
    'document.getElementById("w").nextElementSibling.className',
    '',
    '<p>Quay</p><script src="w.js"></script><i class="after">after</i>',
  ),
  files: { 'w.js': code! },
  says: 'after',
  strongest: { 'w.js': 'inline' },
}));

PLACES.push(
  {
    name: 'the last script is itself',
    html: saying(
      'document.querySelector("b").parentNode.id',
      '',
      '<div id="berth"><script src="me.js"></script></div><p>Quay</p><script>1</script>',
    ),
    files: {
      'me.js':
        'var all = document.getElementsByTagName("script"), me = all[all.length - 1]; me.parentNode.appendChild(document.createElement("b"));',
    },
    says: 'berth',
    strongest: { 'me.js': 'as-authored' },
  },
  {
    name: 'the last of document.scripts',
    html: saying(
      'document.querySelector("b").parentNode.id',
      '',
      '<div id="berth"><script src="me.js"></script></div><p>Quay</p><script>1</script>',
    ),
    files: {
      'me.js':
        'var me = document.scripts[document.scripts.length - 1]; me.parentNode.appendChild(document.createElement("b"));',
    },
    says: 'berth',
    strongest: { 'me.js': 'as-authored' },
  },
  {
    name: 'what the body ends with',
    html: saying(
      'document.querySelector("b").parentNode.id',
      '',
      '<div id="berth"><script src="me.js"></script></div><p>Quay</p>',
    ),
    files: { 'me.js': 'document.body.lastChild.appendChild(document.createElement("b"));' },
    says: 'berth',
    strongest: { 'me.js': 'as-authored' },
  },
  {
    name: 'currentScript of a file',
    html: saying('pier', '<script src="me.js" data-pier="nine"></script>', '<p>Quay</p>'),
    files: { 'me.js': 'var pier = document.currentScript.dataset.pier;' },
    says: 'nine',
    strongest: { 'me.js': 'defer' },
  },
  {
    name: 'currentScript of an inline script that reads a library',
    html: saying(
      'document.querySelector("b").parentNode.id',
      '<script src="lib.js"></script>',
      '<div id="berth"><script>make(document.currentScript.parentNode);</script></div><p>Quay</p>',
    ),
    files: { 'lib.js': 'function make(where) { where.appendChild(document.createElement("b")); }' },
    says: 'berth',
  },
  {
    name: 'counts what stands before it',
    html: saying(
      'String(cards)',
      '',
      '<p class="card">1</p><p class="card">2</p><script src="count.js"></script><p class="card">3</p>',
    ),
    files: { 'count.js': 'var cards = document.querySelectorAll(".card").length;' },
    says: '2',
    strongest: { 'count.js': 'inline' },
  },
  {
    name: 'counts by a selector that is computed',
    html: saying(
      'String(cards)',
      '',
      '<p class="card">1</p><script src="count.js"></script><p class="card">2</p>',
    ),
    files: { 'count.js': 'var s = [".ca", "rd"].join(""); var cards = document.querySelectorAll(s).length;' },
    says: '1',
    strongest: { 'count.js': 'inline' },
  },
  {
    name: 'counts all there is before it, at the end',
    html: saying(
      'String(cards)',
      '',
      '<p class="card">1</p><p class="card">2</p><script src="count.js"></script>',
    ),
    files: { 'count.js': 'var cards = document.querySelectorAll(".card").length;' },
    says: '2',
    strongest: { 'count.js': 'defer' },
  },
  {
    name: 'puts something at the end of what is there',
    html: saying(
      'document.querySelector(".stamp").nextElementSibling.className',
      '',
      '<p>Quay</p><script src="stamp.js"></script><p class="below">below</p>',
    ),
    files: {
      'stamp.js': 'var e = document.createElement("b"); e.className = "stamp"; document.body.appendChild(e);',
    },
    says: 'below',
    strongest: { 'stamp.js': 'inline' },
  },
  {
    name: 'a style of a script before a later sheet',
    html: saying(
      'getComputedStyle(document.querySelector("p")).color',
      '<script src="paint.js"></script><link rel="stylesheet" href="own.css">',
      '<p>Quay</p>',
    ),
    files: {
      'paint.js':
        'var s = document.createElement("style"); s.textContent = "p { color: rgb(1, 2, 3) }"; document.head.appendChild(s);',
      'own.css': 'p { color: rgb(4, 5, 6) }',
    },
    says: 'rgb(4, 5, 6)',
  },
  {
    name: 'a style put before the first one',
    html: saying(
      'getComputedStyle(document.querySelector("p")).color',
      '<script src="paint.js"></script><link rel="stylesheet" href="own.css">',
      '<p>Quay</p>',
    ),
    files: {
      'paint.js':
        'var s = document.createElement("style"); s.textContent = "p { color: rgb(1, 2, 3) }"; document.head.insertBefore(s, document.head.firstChild);',
      'own.css': 'p { color: rgb(4, 5, 6) }',
    },
    says: 'rgb(4, 5, 6)',
    strongest: { 'paint.js': 'defer' },
  },
  {
    name: 'a custom element that looks at its children',
    html: saying(
      'document.querySelector("quay-list").title',
      '<script src="list.js"></script>',
      '<quay-list><i>1</i><i>2</i></quay-list>',
    ),
    files: {
      'list.js':
        'customElements.define("quay-list", class extends HTMLElement { connectedCallback() { this.title = "children " + this.children.length; } });',
    },
    says: 'children 0',
    strongest: { 'list.js': 'inline' },
  },
  {
    name: 'a mark on the root that another script asks for',
    html: saying(
      'mode',
      '<script src="mark.js"></script>',
      '<script>var mode = document.documentElement.classList.contains("dusk") ? "dusk" : "day";</script><p>Quay</p>',
    ),
    files: { 'mark.js': 'document.documentElement.classList.add("dusk");' },
    says: 'dusk',
    strongest: { 'mark.js': 'defer' },
  },
  {
    name: 'an element that one makes and another finds',
    html: saying(
      'heard',
      '',
      '<div id="hold"></div><script src="make.js"></script><script>var heard = document.getElementById("crate").textContent;</script>',
    ),
    files: { 'make.js': 'document.getElementById("hold").innerHTML = "<b id=crate>apples</b>";' },
    says: 'apples',
    strongest: { 'make.js': 'defer' },
  },
  {
    name: 'a list that one fills and another counts',
    html: saying(
      'String(n)',
      '',
      '<ul class="stops"></ul><script src="fill.js"></script><script>var n = document.querySelectorAll(".stops li").length;</script>',
    ),
    files: {
      'fill.js':
        'var ul = document.querySelector(".stops"); ["a", "b"].forEach(function (x) { var li = document.createElement("li"); li.textContent = x; ul.appendChild(li); });',
    },
    says: '2',
    strongest: { 'fill.js': 'defer' },
  },
  {
    name: 'the title, set by two',
    html: saying(
      'document.title',
      '<script src="title.js"></script><script>document.title = document.title + "!";</script>',
      '<p>Quay</p>',
    ),
    files: { 'title.js': 'document.title = "Harbour";' },
    says: 'Harbour!',
    strongest: { 'title.js': 'defer' },
  },
  {
    name: 'a class that is taken off as soon as it is seen',
    html: saying(
      'document.querySelector("p").className',
      '',
      '<p class="wait">Quay</p><script src="off.js"></script><script>document.querySelector("p").className += " then";</script>',
    ),
    files: { 'off.js': 'document.querySelector("p").className = "ready";' },
    says: 'ready then',
    strongest: { 'off.js': 'defer' },
  },
  {
    name: 'it ends itself where an element is missing',
    html: saying('state', '<script src="app.js"></script>', '<main class="app">Quay</main>'),
    files: { 'app.js': 'var state = document.querySelector(".app") ? "mounted" : "no place";' },
    says: 'no place',
    strongest: { 'app.js': 'inline' },
  },
  {
    name: 'a form that is filled in',
    html: saying(
      'document.forms[0].elements[0].value',
      '',
      '<form><input name="a"></form><script src="fill.js"></script>',
    ),
    files: { 'fill.js': 'document.forms[0].elements[0].value = "forms " + document.forms.length;' },
    says: 'forms 1',
    strongest: { 'fill.js': 'defer' },
  },
  {
    name: 'forms counted before the second',
    html: saying('String(forms)', '', '<form></form><script src="n.js"></script><form></form>'),
    files: { 'n.js': 'var forms = document.forms.length;' },
    says: '1',
    strongest: { 'n.js': 'inline' },
  },
);
