import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { generateOnStage } from '../../src/engine/fold/generate-fold.ts';
import { FoldStage } from '../../src/engine/fold/fold-stage.ts';
import { ODDITIES, ODD_VIEWPORTS, type Oddity } from './css-oddities.ts';
import { madeCapture, type MadeFile } from './made-capture.ts';

const ORIGIN = 'https://odd.test';
/** A rule for nothing: what keeps it has not chosen. */
const NEVER = '.never-here{color:red;padding:3px}';
const addressOf = (index: number) => `${ORIGIN}/${index}/`;

/** At the end, unless the sheet's own end swallows it; before it, where that changes nothing. */
function withNever(css: string): string {
  return /^\s*@(import|layer|namespace|charset)/.test(css) ? `${css}${NEVER}` : `${NEVER}${css}`;
}

function filesOf(oddity: Oddity, index: number): Record<string, MadeFile> {
  const at = addressOf(index);
  const head =
    oddity.head ??
    Object.keys(oddity.css)
      .map((name) => `<link rel="stylesheet" href="${name}">`)
      .join('');
  const charset = oddity.latin ? 'windows-1252' : 'utf-8';
  const html = `<!DOCTYPE html><html class="no-js"><head><meta charset="${charset}"><title>x</title>${head}</head><body><p>Harbour of Fähre</p>${oddity.body}<p style="height:1500px">below</p><p>end</p></body></html>`;
  const files: Record<string, MadeFile> = {
    [at]: {
      body: Buffer.from(html, oddity.latin ? 'latin1' : 'utf8'),
      type: `text/html; charset=${charset}`,
      kind: 'document',
    },
    [`${at}dot.svg`]: {
      body: '<svg xmlns="http://www.w3.org/2000/svg" width="20" height="20"><circle cx="9" cy="9" r="8" fill="teal"/></svg>',
      type: 'image/svg+xml',
      kind: 'image',
    },
  };
  for (const [name, css] of Object.entries(oddity.css)) {
    const latin = oddity.head?.includes('iso-8859-1') ? '; charset=iso-8859-1' : '';
    files[at + name] = {
      body: typeof css === 'string' ? withNever(css) : css,
      type: `text/css${latin}`,
      kind: 'stylesheet',
    };
  }
  for (const [name, weight] of [
    ['karla', 400],
    ['other', 700],
  ])
    files[`${at}${name}.woff2`] = {
      body: readFileSync(`node_modules/@fontsource/karla/files/karla-latin-${weight}-normal.woff2`),
      type: 'font/woff2',
      kind: 'font',
    };
  return files;
}

describe('a page with an oddity of CSS gets fold CSS that is proved:', () => {
  const stages: FoldStage[] = [];
  /** Stages that nobody is on. Most of a page's time is waiting: three go on at once. */
  const free: Promise<FoldStage>[] = [];
  beforeAll(async () => {
    const { capture, bodies } = madeCapture(Object.assign({}, ...ODDITIES.map(filesOf)));
    for (let count = 0; count < 3; count++) stages.push(await FoldStage.open(capture, bodies, null));
    free.push(...stages.map((stage) => Promise.resolve(stage)));
  });
  afterAll(() => Promise.all(stages.map((stage) => stage.close())));

  /** Takes a stage, and gives it back when the work on it is done, whatever came of it. */
  async function onStage<T>(act: (stage: FoldStage) => Promise<T>): Promise<T> {
    const stage = free.shift()!;
    const work = stage.then(act);
    free.push(
      work.then(
        () => stage,
        () => stage,
      ),
    );
    return work;
  }

  it('there are at least sixty', () => expect(ODDITIES.length).toBeGreaterThanOrEqual(60));

  it.concurrent.each(ODDITIES.map((oddity, index) => [oddity.name, oddity, index] as const))(
    '%s',
    async (_name, oddity, index) => {
      const fold = await onStage((stage) =>
        generateOnStage(stage.onPage(addressOf(index)), { viewports: oddity.viewports ?? ODD_VIEWPORTS }),
      );
      const told = [...fold.remarks, ...fold.viewports.flatMap((one) => one.differences)];
      expect(fold.proved, JSON.stringify([told, fold.css, fold.late?.proofs])).toBe(true);
      for (const proof of fold.viewports) {
        expect(proof.differingPixelShare).toBeLessThanOrEqual(0.0005);
        expect(proof.largestRegionPixels).toBeLessThanOrEqual(16);
        expect(proof.blank).toBe(false);
      }
      for (const text of oddity.keeps ?? []) expect(fold.css).toContain(text);
      for (const text of oddity.drops ?? []) expect(fold.css).not.toContain(text);
      expect(fold.sheets.some((sheet) => sheet.whole)).toBe(oddity.whole ?? false);
      if (!oddity.whole) expect(fold.css).not.toContain('never-here');
    },
  );
});
