import { median } from '../src/core/measure/metrics.ts';
import { slowCpu } from '../src/engine/chromium/emulate.ts';
import { launchChromium } from '../src/engine/chromium/launch.ts';
import type { Finding } from './report.ts';

const RATES = [1, 2, 3, 4, 5, 6, 8];
const ROUNDS = 9;
const WANTED = 5;

/** In the page: each a piece of work of some milliseconds; gives how long it took. */
const WORK = `globalThis.work = (() => {
  const timed = (act) => { const start = performance.now(); act(); return performance.now() - start; };
  const style = document.createElement('style');
  let css = '.grid{display:flex;flex-wrap:wrap}';
  for (let i = 0; i < 400; i++) css += \`.g\${i % 60} .i\${i}{padding:\${i % 5}px}.g\${i % 60}>.i\${i}:nth-child(odd) b{color:#\${100 + i}}.on .i\${i} b{color:#\${200 + i}}\`;
  style.textContent = css;
  document.head.append(style);
  let html = '';
  for (let g = 0; g < 60; g++) { html += \`<section class="g\${g}">\`; for (let n = 0; n < 16; n++) html += \`<div class="i\${(g * 16 + n) % 400}"><b>\${g}</b> sailing <i>\${n}</i></div>\`; html += '</section>'; }
  const grid = document.createElement('div');
  grid.className = 'grid';
  grid.innerHTML = html;
  document.body.append(grid);
  let source = '', kept = 0, round = 0;
  for (let at = 0; at < 400; at++) source += \`function f\${at}(a,b){var c={id:a,name:"n\${at}",list:[a,b,\${at}]};if(a>b){return c.list.map(function(x){return x*2+\${at};});}for(var i=0;i<b;i++){c.id+=i%3?i:-i;}return c.id;}\\n\`;
  const worker = new Worker(URL.createObjectURL(new Blob(['onmessage=()=>{const s=performance.now();let k=0;for(let i=0;i<4e6;i++)k=(k*31+i)%1000003;postMessage(performance.now()-s+(k<0?1:0))}'])));
  return {
    'hot script': () => timed(() => { for (let i = 0; i < 4e6; i++) kept = (kept * 31 + i) % 1000003; }),
    'objects and text': () => timed(() => { for (let i = 0; i < 40000; i++) { const r = { id: i, tags: [i, kept & 7] }; kept = (kept * 31 + (r.id + '-' + r.tags.length).length) % 1000003; } }),
    'parsing a script': () => timed(() => { kept += new Function('/*' + round++ + '*/' + source + 'return 1')(); }),
    'parsing HTML': () => timed(() => { const t = document.createElement('div'); t.innerHTML = html; kept += t.childElementCount; }),
    style: () => timed(() => { grid.classList.toggle('on'); kept += getComputedStyle(grid.lastElementChild.lastElementChild.firstElementChild).color.length; }),
    layout: () => { getComputedStyle(grid).color; return timed(() => { for (let i = 0; i < 6; i++) { grid.style.width = (700 + (round++ % 3) * 60) + 'px'; kept += grid.offsetHeight; } }); },
    'a worker': () => new Promise((done) => { worker.onmessage = (e) => done(e.data); worker.postMessage(0); }),
  };
})();`;

/** What each is slowed by when Chromium is asked for a rate, and what has to be asked for. */
export async function slowdownBench(): Promise<Finding> {
  const chromium = await launchChromium();
  try {
    const page = await chromium.browser.newPage();
    const session = await page.createCDPSession();
    await page.evaluate(WORK);
    const kinds = (await page.evaluate('Object.keys(work)')) as string[];
    const took = new Map(kinds.map((kind) => [kind, new Map<number, number[]>()]));
    // Two rounds to warm up, then all rates in turn, so that a slow minute falls on all of them.
    for (let round = -2; round < ROUNDS; round++)
      for (const rate of RATES) {
        await slowCpu(session, rate);
        for (const kind of kinds) {
          const ms = Number(await page.evaluate(`work[${JSON.stringify(kind)}]()`));
          if (round < 0) continue;
          const own = took.get(kind)!;
          own.set(rate, [...(own.get(rate) ?? []), ms]);
        }
      }
    const slowed = (kind: string, rate: number) =>
      median(took.get(kind)!.get(rate)!)! / median(took.get(kind)!.get(1)!)!;
    const onMain = kinds.filter((kind) => kind !== 'a worker');
    const all = (rate: number) =>
      Math.exp(onMain.reduce((sum, kind) => sum + Math.log(slowed(kind, rate)), 0) / onMain.length);
    const row = (name: string, by: (rate: number) => number) => [
      name,
      ...RATES.map((rate) => by(rate).toFixed(1)),
      askFor(by)?.toFixed(1) ?? '–',
    ];
    return {
      title: 'Chromium’s slowdown',
      about: `How many times longer each kind of work takes when Chromium is asked to slow the main thread by a rate (medians of ${ROUNDS} rounds, all rates in turn, over its time at 1), and the rate that has to be asked for so that ${WANTED} means ${WANTED}. Workers, decoding and drawing are spared: they run on other threads.`,
      columns: ['work', ...RATES.map((rate) => `at ${rate}`), `asked for ${WANTED}`],
      rows: [
        ...onMain.map((kind) => row(kind, (rate) => slowed(kind, rate))),
        row('all on the main thread (geometric mean)', all),
        row('a worker', (rate) => slowed('a worker', rate)),
      ],
    };
  } finally {
    await chromium.close();
  }
}

/** The rate at which the slowdown is the wanted one, between two measured ones; null where none gets there. */
function askFor(by: (rate: number) => number): number | null {
  for (const [index, rate] of RATES.slice(1).entries()) {
    const before = RATES[index]!;
    if (by(rate) < WANTED) continue;
    const share = (WANTED - by(before)) / Math.max(1e-6, by(rate) - by(before));
    return before + Math.max(0, share) * (rate - before);
  }
  return null;
}
