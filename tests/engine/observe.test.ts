import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { usesOfFont } from '../../src/core/fonts/uses.ts';
import { BUILT_IN_CONDITIONS } from '../../src/core/measure/conditions.ts';
import { Observer } from '../../src/engine/capture/observe.ts';
import { launchChromium } from '../../src/engine/chromium/launch.ts';
import { goTo, LOAD_LIMITS, openVisit } from '../../src/engine/chromium/visit.ts';
import { madeImage } from './made-capture.ts';
import { serve } from './odd-servers.ts';

const font = (name: string, weight = 400) =>
  readFileSync(`node_modules/@fontsource/${name}-latin-${weight}-normal.woff2`);
const FILES: Record<string, [type: string, body: string | Buffer]> = {
  '/signs.woff2': ['font/woff2', font('karla/files/karla')],
  '/idle.woff2': ['font/woff2', font('bitter/files/bitter')],
  '/bold.woff2': ['font/woff2', font('karla/files/karla', 700)],
  '/a.js': [
    'text/javascript',
    'function early() { return 1; }\nfunction late() { return [1, 2, 3].map((one) => one * 2).join(); }\nearly();\nsetTimeout(late, 900);',
  ],
  '/': [
    'text/html',
    `<!DOCTYPE html><style>
@font-face { font-family: Signs; src: url(signs.woff2) }
@font-face { font-family: Signs; font-weight: bold; src: url(bold.woff2) }
@font-face { font-family: Idle; src: url(idle.woff2) }
i::before { content: "abc"; font-family: Signs }
</style><script src="a.js"></script><p>Text</p><i></i><script>document.fonts.load('1em Idle'); document.fonts.load('bold 1em Signs')</script>`,
  ],
};

it('tells which fonts paint nothing, signs before empty elements too, and what of a script ran before first paint', async () => {
  const server = await serve((request, response) => {
    const [type, body] = FILES[request.url ?? ''] ?? ['text/plain', ''];
    response.writeHead(200, { 'content-type': type });
    response.end(body);
  });
  const chromium = await launchChromium();
  try {
    const visit = await openVisit(chromium.browser, BUILT_IN_CONDITIONS[0]!, { clock: null, state: null });
    const observer = await Observer.start(visit.session);
    await goTo(visit, server.url, { ...LOAD_LIMITS, quietMs: 1_200 });
    const observations = await observer.finish(visit);
    const file = (name: string) => new URL(name, server.url).href;
    expect(observations.fontFiles?.map((one) => one.url).sort()).toEqual([
      file('bold.woff2'),
      file('idle.woff2'),
      file('signs.woff2'),
    ]);
    expect(usesOfFont(file('signs.woff2'), observations).map((use) => use.sample)).toEqual(['::before of i']);
    // Of the same family, and asked for, but no text is bold.
    expect(usesOfFont(file('bold.woff2'), observations)).toEqual([]);
    expect(usesOfFont(file('idle.woff2'), observations)).toEqual([]);
    const usage = observations.scriptUsage.find((one) => one.url === file('a.js'))!;
    expect(usage.usedByPaintBytes).toBeGreaterThan(0);
    expect(usage.usedBytes).toBeGreaterThan(usage.usedByPaintBytes!);
    expect(usage.usedBytes).toBeLessThanOrEqual(usage.bytes);
  } finally {
    await chromium.close();
    await server.close();
  }
});

it('tells which images and embeds stand below the first screen, and nothing of those that are shown nowhere', async () => {
  const { body, type } = await madeImage(40, 30);
  const server = await serve((request, response) => {
    response.writeHead(200, { 'content-type': request.url === '/' ? 'text/html' : type });
    response.end(
      request.url === '/'
        ? `<!DOCTYPE html><img src="top.png"><div style="display:none"><img src="slide.png"></div>
<div style="height:5000px"></div><img src="low.png"><img src="top.png"><img loading="lazy" src="lazy.png" width="40" height="30"><img src="data:,">
<iframe src="low.html"></iframe><iframe style="display:none" src="none.html"></iframe>`
        : body,
    );
  });
  const chromium = await launchChromium();
  try {
    const visit = await openVisit(chromium.browser, BUILT_IN_CONDITIONS[0]!, { clock: null, state: null });
    const observer = await Observer.start(visit.session);
    await goTo(visit, server.url, { ...LOAD_LIMITS, quietMs: 300 });
    const { imagesBelow, embedsBelow, boxes } = await observer.finish(visit);
    const file = (name: string) => new URL(name, server.url).href;
    expect(boxes.filter((one) => one.tag === 'img').map((one) => one.url)).toEqual([file('top.png')]);
    expect(embedsBelow).toEqual([file('low.html')]);
    expect([...imagesBelow].sort()).toEqual([file('lazy.png'), file('low.png')]);
  } finally {
    await chromium.close();
    await server.close();
  }
});

it('takes for the largest paint the picture that fills most of the first screen, whatever the browser has told of it', async () => {
  const { body, type } = await madeImage(600, 500);
  const behind = (file: string, style: string) => `<div style="background:url(${file});${style}"></div>`;
  const server = await serve((request, response) => {
    response.writeHead(200, { 'content-type': request.url === '/' ? 'text/html' : type });
    response.end(
      request.url === '/'
        ? `<!DOCTYPE html><meta name="viewport" content="width=device-width"><style>body{margin:0;background:url(whole.png) 0 0/cover;min-height:100vh}</style>
          <h1>Tide</h1><img src="small.png" width="100" height="80"><img src="up.png" width="389" height="700" style="position:absolute;top:0">
          ${behind('hero.png', 'height:300px;background-size:cover')}
          ${behind('pattern.png', 'height:400px')}${behind('drawn.svg', 'height:400px;margin-top:-400px;background-size:cover')}
          ${behind('unseen.png', 'height:500px;margin-top:-500px;background-size:cover;opacity:0')}`
        : body,
    );
  });
  const chromium = await launchChromium();
  try {
    const visit = await openVisit(chromium.browser, BUILT_IN_CONDITIONS[0]!, { clock: null, state: null });
    await goTo(visit, server.url, LOAD_LIMITS);
    const largest = await visit.inPage.call('largestPicture');
    expect(largest).toMatchObject({ element: 'div', url: new URL('hero.png', server.url).href });
    expect(largest!.area).toBe(390 * 300);
  } finally {
    await chromium.close();
    await server.close();
  }
});
