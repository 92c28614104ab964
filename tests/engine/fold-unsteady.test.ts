import { expect, it } from 'vitest';
import sharp from 'sharp';
import { generateFold } from '../../src/engine/fold/generate-fold.ts';
import { madeCapture, type MadeFile } from './made-capture.ts';

const CSS = `body{margin:0;font:16px/1.4 sans-serif}h1{background:#246;color:#fff;padding:12px}
.chart{width:300px;height:120px;display:block;border:3px solid #a64}.row{display:flex}.row b{flex:1;background:#cde}
.wave{width:120px;height:60px}.big{height:520px;background:#cde}.never-here{color:red;padding:3px}`;

/** A page with the sheet; what stands below the fold is the same in all. */
async function fold(body: string, files: Record<string, MadeFile> = {}, css = CSS) {
  const html = `<!DOCTYPE html><meta name="viewport" content="width=device-width"><title>x</title><link rel="stylesheet" href="a.css"><h1>Sailings</h1>${body}<p style="margin-top:1200px">below</p>`;
  const made = madeCapture({
    'https://odd.test/': { body: html, type: 'text/html', kind: 'document' },
    'https://odd.test/a.css': { body: css, type: 'text/css', kind: 'stylesheet' },
    ...files,
  });
  return generateFold({ ...made, state: null, viewports: [{ width: 390, height: 700 }] });
}

async function movingGif(): Promise<MadeFile> {
  const colours = ['#f00', '#0f0', '#00f', '#ff0'];
  const raw = await Promise.all(
    colours.map((background) =>
      sharp({ create: { width: 120, height: 60, channels: 4, background } })
        .raw()
        .toBuffer(),
    ),
  );
  const body = await sharp(Buffer.concat(raw), {
    raw: { width: 120, height: 240, channels: 4, pageHeight: 60 },
  })
    .gif({ delay: [90, 110, 130, 170], loop: 0 })
    .toBuffer();
  return { body, type: 'image/gif', kind: 'image' };
}

/** Draws for ever, by the time since it began. */
const CHART = `<canvas class="chart" width="300" height="120"></canvas><script>
const pen = document.querySelector('canvas').getContext('2d');
(function draw() { const t = performance.now(); pen.clearRect(0, 0, 300, 120);
pen.fillRect(t % 250, (t * 7) % 90, 40, 30); requestAnimationFrame(draw); })()</script>`;

it.concurrent('holds a canvas that animates, and a picture that moves, to their boxes', async () => {
  for (const made of [
    await fold(CHART),
    await fold('<img class="wave" src="wave.gif" alt="">', {
      'https://odd.test/wave.gif': await movingGif(),
    }),
  ]) {
    expect(made.remarks).toEqual([]);
    expect(made.proved, made.remarks.join()).toBe(true);
    expect(made.css).not.toContain('never-here');
    expect(made.viewports[0]).toMatchObject({ unsteady: null, undecided: false });
  }
});

it.concurrent('still finds out when a canvas would stand otherwise', async () => {
  // Its size comes from a rule that nothing in the page’s text tells: it is found by its box.
  const made = await fold(CHART, {}, CSS.replace('.chart{', 'h1 + canvas:not(.x){'));
  expect(made.proved, made.remarks.join()).toBe(true);
  expect(made.css).toContain('canvas');
});

/** Seconds since the test began, in the page: no two loads of it have the same. (Its Date is the capture’s.) */
const since = () => `((performance.timeOrigin + performance.now() - ${Date.now()}) / 1000)`;

it.concurrent('masks what scripts compute differently each time, says so, and holds the rest', async () => {
  const body = `<div class="row"><b class="late">Next</b><b>Then</b></div><script>
const late = document.querySelector('.late');
setTimeout(() => { late.style.flex = '0 0 ' + Math.round(60 + 8 * ${since()}) + 'px'; }, 60)</script><p>Text</p>`;
  const made = await fold(body);
  expect(made.proved, made.remarks.join()).toBe(true);
  expect(made.css).toContain('.row');
  const [proof] = made.viewports;
  expect(proof!.unsteady?.elements.join()).toMatch(/b/);
  expect(proof!.unsteady!.share).toBeLessThan(0.1);
  expect(made.remarks.join()).toMatch(/not the same twice \(.*\): up to .* was not compared/);
});

it.concurrent(
  'is undecided where more than a tenth is not the same twice, and names the element',
  async () => {
    // Within twenty seconds no quarter of a second has a colour that could be taken for that of another.
    const body = `<div class="big"></div><script>
const n = Math.floor(4 * ${since()});
document.querySelector('.big').style.background = 'rgb(' + [253, 57, 215].map((by) => n * by % 256) + ')';</script>`;
    const made = await fold(body);
    expect(made.proved).toBe(false);
    expect(made.viewports[0]).toMatchObject({ undecided: true, holds: false });
    expect(made.remarks.join()).toMatch(
      /not the same twice: .* \(div\.big\)\. More than a tenth: undecided\./,
    );
  },
);

it.concurrent('waits until a slide show that ends has come to rest', async () => {
  const body = `<div class="row"><b class="slide">1</b></div><script>let n = 1;
const timer = setInterval(() => { document.querySelector('.slide').textContent = ++n; if (n > 6) clearInterval(timer); }, 150);</script>`;
  const made = await fold(body);
  expect(made.proved, made.remarks.join()).toBe(true);
});

it.concurrent(
  'waits for what counts up to its last figure, before and after the rest has arrived',
  async () => {
    const made = await fold(`<p class="row"><b class="count">0</b></p><script>
let figure = 0;
const counts = setInterval(() => { document.querySelector('.count').textContent = 'Sailings '.repeat(++figure % 9);
if (figure === 110) clearInterval(counts); }, 40)</script>`);

    expect(made.proved, made.remarks.join()).toBe(true);
  },
);
