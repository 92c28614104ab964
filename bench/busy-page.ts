import { madePage } from '../tests/engine/made-capture.ts';
import type { BenchPage } from './pages.ts';

const HTML = `<!DOCTYPE html><html lang="en"><head><title>Crossings</title>
<link rel="stylesheet" href="base.css"><link rel="stylesheet" href="site.css"></head><body>
<header><button class="menu" aria-expanded="false" aria-controls="stops">Stops</button>
<nav id="stops" hidden><a href="#times">Times</a></nav></header>
<h1>Crossings</h1><p>Three harbours, six crossings a day, in every weather.</p>
<div role="tablist"><button role="tab" class="day" aria-selected="true">Weekdays</button><button role="tab" class="end" aria-selected="false">Weekend</button></div>
<p class="times" id="times">Every two hours from six in the morning.</p>
<form class="book" novalidate><label>Name <input class="name" required></label><label>Pier <select class="pier"><option>Orrask</option><option>Morvane</option></select></label><p class="message"></p><button>Book</button></form>
<div style="height:2400px"></div><section class="news"><h2>News</h2><p>More comes here.</p></section><img src="pier.svg" alt="The pier" width="80" height="40">
<script src="page.js"></script></body></html>`;

const SCRIPT = `
var by = function (name) { return document.querySelector(name); };
by('.menu').addEventListener('click', function () {
  var stops = by('#stops');
  stops.hidden = !stops.hidden;
  this.setAttribute('aria-expanded', String(!stops.hidden));
});
[['.day', 'Every two hours from six in the morning.'], ['.end', 'Every three hours from eight.']].forEach(function (tab) {
  by(tab[0]).addEventListener('click', function () {
    by('.times').textContent = tab[1];
    by('[aria-selected="true"]').setAttribute('aria-selected', 'false');
    this.setAttribute('aria-selected', 'true');
  });
});
by('.book').addEventListener('submit', function (event) {
  event.preventDefault();
  by('.message').textContent = by('.name').value ? 'Sent.' : 'Say who comes along.';
});
by('.name').addEventListener('change', function () { by('.message').textContent = this.value.length < 3 ? 'That is short for a name.' : ''; });
by('.pier').addEventListener('change', function () { by('.message').textContent = 'From ' + this.value + '.'; });
new IntersectionObserver(function (seen) {
  if (seen[0].isIntersecting) by('.news p').textContent = 'The harbour is open again.';
}).observe(by('.news'));
navigator.sendBeacon('/count', 'seen=1');
`;

/** A page that does a little of all that pages do for visitors. */
export function busyPage(): BenchPage {
  const page = madePage(HTML, {
    'base.css': 'body { font-family: sans-serif; margin: 16px } p { color: #223 } button { padding: 8px }',
    'site.css': 'p { color: #842 } h1 { font-size: 30px } .message { min-height: 20px }',
    'page.js': SCRIPT,
    'pier.svg':
      '<svg xmlns="http://www.w3.org/2000/svg" width="80" height="40"><rect width="80" height="40" fill="#268"/></svg>',
  });
  const { capture } = page;
  const bodies = new Map(capture.exchanges.map((one) => [one.bodyHash!, page.body(one.url)!]));
  return { name: 'made page', capture, bodies, requests: [] };
}
