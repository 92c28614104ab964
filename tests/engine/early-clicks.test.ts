import { afterAll, beforeAll, expect, it } from 'vitest';
import { EARLY_CLICKS } from '../../src/core/treat/early-clicks.ts';
import { launchChromium, type LaunchedBrowser } from '../../src/engine/chromium/launch.ts';

let chromium: LaunchedBrowser;
beforeAll(async () => {
  chromium = await launchChromium({ hostRules: [] });
});
afterAll(() => chromium.close());

/** What each page's script does once it comes, after the clicks: everything that answers counts. */
const COUNT = 'window.answers = (window.answers || 0) + 1;';
const onButton = (code = COUNT) =>
  `document.querySelector('#menu').addEventListener('click', function (event) { ${code} });`;
const BUTTON = '<button id="menu">Menu</button>';

interface EarlyPage {
  body: string;
  /** Runs before the clicks. */
  early?: string;
  /** Runs after them. */
  late: string;
  /** What is clicked; twice where it is named twice. */
  clicks?: string[];
}

/** How often a page has answered once its scripts are there and nothing more comes. */
async function answers({ body, early = '', late, clicks = ['#menu'] }: EarlyPage): Promise<number> {
  const page = await chromium.browser.newPage();
  const html = `<!DOCTYPE html><meta charset="utf-8"><script>${EARLY_CLICKS}</script><body>${body}<script>${early}</script>`;
  await page.goto(`data:text/html,${encodeURIComponent(html)}`);
  for (const one of clicks) await page.click(one);
  await page.evaluate(late);
  const count = await page.evaluate(`new Promise(function (told) {
    setTimeout(function () { told(window.answers || 0); }, 300);
  })`);
  await page.close();
  return Number(count);
}

it.each<[string, EarlyPage, number]>([
  ['a listener on it', { body: BUTTON, late: onButton() }, 1],
  [
    'a property of it',
    { body: BUTTON, late: `document.querySelector('#menu').onclick = () => { ${COUNT} }` },
    1,
  ],
  [
    'a listener above it',
    { body: BUTTON, late: `document.addEventListener('click', () => { ${COUNT} })` },
    1,
  ],
  ['a listener of the window', { body: BUTTON, late: `addEventListener('click', () => { ${COUNT} })` }, 1],
  ['several listeners, each once', { body: BUTTON, late: onButton() + onButton() }, 2],
  [
    'impatience: twice clicked is once meant',
    { body: BUTTON, late: onButton(), clicks: ['#menu', '#menu'] },
    1,
  ],
  [
    'a link within the page',
    { body: '<a id="menu" href="#">Menu</a>', late: onButton('event.preventDefault();' + COUNT) },
    1,
  ],
  [
    'a button of a form that sends nothing',
    { body: '<form><button id="menu" type="button">Menu</button></form>', late: onButton() },
    1,
  ],
])('a click before scripts is done again for %s', async (_what, page, times) => {
  expect(await answers(page)).toBe(times);
});

it.each<[string, EarlyPage, number]>([
  ['a listener has heard it', { body: BUTTON, early: onButton(), late: onButton('') }, 1],
  [
    'an attribute has heard it',
    { body: `<button id="menu" onclick="${COUNT}">Menu</button>`, late: onButton('') },
    1,
  ],
  [
    'the browser has answered it: a field',
    { body: '<input id="menu" type="checkbox">', late: onButton() },
    0,
  ],
  [
    'the browser has answered it: a label',
    { body: '<label id="menu">On <input type="checkbox"></label>', late: onButton() },
    0,
  ],
  [
    'the browser has answered it: a summary',
    { body: '<details><summary id="menu">More</summary>Quay</details>', late: onButton() },
    0,
  ],
  [
    'it would send a form',
    { body: '<form onsubmit="return false"><button id="menu">Book</button></form>', late: onButton() },
    0,
  ],
  ['it leads away', { body: '<a id="menu" href="javascript:void 0">Away</a>', late: onButton() }, 0],
  [
    'something else was clicked since',
    { body: `${BUTTON}<p id="other">Quay</p>`, late: onButton(), clicks: ['#menu', '#other'] },
    0,
  ],
  [
    'it is gone',
    { body: BUTTON, late: `const gone = document.querySelector('#menu'); ${onButton()} gone.remove();` },
    0,
  ],
])('a click is not done again where %s', async (_what, page, times) => {
  expect(await answers(page)).toBe(times);
});
