import { string } from 'css-tree';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { Browser } from 'puppeteer-core';
import { InPage } from '../../src/engine/chromium/in-page.ts';
import { flattenSheet, type FlatSheet } from '../../src/core/css/flatten.ts';
import { outlineText } from '../../src/core/css/outline.ts';
import type { Concern } from '../../src/core/fold/declarations.ts';
import { makeFoldCss } from '../../src/core/fold/fold-css.ts';
import { questionsOf } from '../../src/core/fold/sheet-index.ts';
import { launchChromium } from '../../src/engine/chromium/launch.ts';
import { chance } from '../hostile/chance.ts';
import { ODDITIES } from './css-oddities.ts';

const SHEETS = 10_000;
const AT_ONCE = 500;
const PAGE = 'https://odd.test/';
const ADDRESS = `${PAGE}a.css`;

const SOURCES = ODDITIES.flatMap((oddity) => Object.values(oddity.css)).filter(
  (css): css is string => typeof css === 'string',
);
const BITS =
  '{ } ( ) [ ] ; : , " \' \\ /* */ @media @layer @supports & > .a #i !important url( ) -- <!-- \n ::before *'.split(
    ' ',
  );

/** Sheets put together from odd ones, with parts taken out, doubled, put in and cut off. */
function mutated(random: () => number): string {
  const pick = <T>(list: readonly T[]) => list[Math.floor(random() * list.length)]!;
  let css = pick(SOURCES) + (random() < 0.4 ? pick(SOURCES) : '');
  for (let count = 1 + Math.floor(random() * 4); count > 0; count--) {
    const at = Math.floor(random() * css.length);
    const length = Math.floor(random() * 12);
    const kind = random();
    if (kind < 0.3) css = css.slice(0, at) + css.slice(at + length);
    else if (kind < 0.5) css = css.slice(0, at) + css.slice(at, at + length) + css.slice(at);
    else if (kind < 0.9) css = css.slice(0, at) + pick(BITS) + css.slice(at);
    else css = css.slice(0, at);
  }
  return css;
}

let browser: Browser;
let inPage: InPage;
let close: () => Promise<void>;
beforeAll(async () => {
  ({ browser, close } = await launchChromium());
  const page = await browser.newPage();
  inPage = new InPage(await page.createCDPSession());
});
afterAll(() => close?.());

/**
 * Settings with their addresses resolved. What the browser tells as it was written may be spaced otherwise,
 * and lack what the end of the file closes by itself.
 */
const resolved = (settings: [string, string][]) =>
  new Set(
    settings.map(([key, value]) => {
      const absolute = value.replace(
        /(?<![\w-])url\(\s*(?:"((?:[^"\\]|\\.)*)"|([^"'()\s]+))\s*\)?/g,
        (_all, quoted: string | undefined, bare: string | undefined) => {
          const url = quoted === undefined ? (bare ?? '') : string.decode(`"${quoted}"`);
          return URL.canParse(url, PAGE) ? `url(${new URL(url, PAGE).href})` : `url(${url})`;
        },
      );
      const spaced = `${key}\n${absolute}`
        .replace(/\/\*.*?\*\//gs, '')
        .replace(/\s+/g, ' ')
        .replace(/ ?([,:()]) ?/g, '$1');
      return spaced.replace(/(\*\/|["')}\]\s])+$/, '');
    }),
  );

it('10,000 mutated sheets: no crash, no hang, and nothing in the fold CSS that the browser does not find in the source', async () => {
  const seed = Number(process.env['WISTREL_FUZZ_SEED'] ?? 20_261_125);
  const random = chance(seed);
  let readOtherwise = 0;
  let kept = 0;
  for (let done = 0; done < SHEETS; done += AT_ONCE) {
    const texts = Array.from({ length: AT_ONCE }, () => mutated(random));
    const sheets = texts.map((css) => flattenSheet(ADDRESS, (url) => (url === ADDRESS ? css : null), PAGE)!);
    const questions = sheets.map((sheet) => questionsOf([sheet]));
    const lists = [...new Set(questions.flatMap((one) => one.lists))];
    const nestedLists = [...new Set(questions.flatMap((one) => one.nestedLists))];
    const read = await inPage.call('readAsBrowser', { texts, lists, nestedLists, namespaces: ['s'] });
    const rejected = new Set(read.rejected);
    const chosen: { sheet: FlatSheet; css: string; source: string }[] = [];
    sheets.forEach((sheet, index) => {
      if (outlineText(sheet.parts[0]!.outline, rejected) !== read.outlines[index]) {
        readOtherwise++;
        return;
      }
      const concerns = new Map<string, Concern>();
      for (const key of questions[index]!.matchKeys) {
        const die = random();
        if (die < 0.6) concerns.set(key, die < 0.4 ? 'painted' : die < 0.5 ? 'shaping' : 'hidden');
      }
      const set = makeFoldCss({
        sheets: [sheet],
        unsure: new Set(),
        answers: {
          concerns,
          neededBy: new Map(),
          rejected,
          liveMedia: new Set(questions[index]!.media.filter(() => random() < 0.8)),
        },
        elementsOf: null,
        outside: { css: 'x{color:var(--x)}', faces: [] },
        decisions: [],
        documentUrl: PAGE,
      });
      chosen.push({ sheet, css: set.sheets[0]!.css, source: texts[index]! });
    });
    const settings = await inPage.call('settingsOf', [
      ...chosen.map((one) => one.css),
      ...chosen.map((one) => one.source),
    ]);
    chosen.forEach((one, index) => {
      const [output, source] = [resolved(settings[index]!), resolved(settings[chosen.length + index]!)];
      kept += output.size;
      const strange = [...output].filter((setting) => !source.has(setting));
      expect(strange, `seed ${seed}\n${one.source}\n---\n${one.css}`).toEqual([]);
    });
  }
  expect(kept).toBeGreaterThan(SHEETS);
  // What is kept whole is safe, and no answer: it has to be rare even here.
  expect(readOtherwise).toBeLessThan(SHEETS * 0.1);
});
