import { describe, expect, it } from 'vitest';
import { madePage } from '../../../tests/engine/made-capture.ts';
import { readPageAssets } from '../page/page-assets.ts';
import { minifiedScript } from '../scripts/minify.ts';
import { applyPlan } from './apply.ts';
import { scriptOffers, styleOffers } from './offers.ts';
import { recommendPlan } from './recommend.ts';
import type { Match, PlanRule } from './plan.ts';
import { sceneOf } from './scene.ts';

const PAGE = 'https://quay.test/';

const scene = (html: string, files: Record<string, string>, policies: string[] = []) =>
  sceneOf(readPageAssets(madePage(html, files, { policies }), []), null);
type TestScene = ReturnType<typeof scene>;

function rule(
  kind: 'script' | 'stylesheet',
  file: string,
  treatment: string,
  together: string[] = [],
): PlanRule {
  const match = (name: string): Match => ({ url: PAGE + name });
  return {
    id: `${treatment} ${file}`,
    on: true,
    kind,
    match: match(file),
    scope: 'page',
    treatment,
    reason: '',
    risk: 'low',
    ...(together.length ? { together: together.map(match) } : {}),
  };
}

function treated(of: TestScene, ...rules: PlanRule[]) {
  const result = applyPlan(of, { wistrelPlan: 1, page: PAGE, rules });
  return { ...result, text: new TextDecoder().decode(result.html) };
}

const scriptOffer = (of: TestScene, treatment: string, index = 0) =>
  scriptOffers(of, of.page.scripts[index]!).find((one) => one.treatment === treatment);
const styleOffer = (of: TestScene, treatment: string, index = 0) =>
  styleOffers(of, of.page.styles[index]!).find((one) => one.treatment === treatment);

/** As much of a comment as makes a file worth minifying. */
const LONG = `/*${' tide after tide\n'.repeat(100)}*/`;

describe('a minified script', () => {
  it('loses comments and white space, and keeps names, licences and statements', () => {
    expect(
      minifiedScript(
        '/*! Licence: quay */\n// tides\nfunction  high( tide ) {\n  return tide  +  1\n}\nhigh ( 2 )\n',
      ),
    ).toBe('/*! Licence: quay */\nfunction high(tide){return tide+1}high(2);');
    expect(minifiedScript('"use strict";\nvar a = `x\n  y`;')).toBe('"use strict";var a=`x\\n  y`;');
  });

  it('is none where it cannot be read, is minified, or holds a text in a comment', () => {
    expect(minifiedScript('var = 1;\n')).toBeNull();
    expect(minifiedScript(`var a=1;${'a++;'.repeat(200)}`)).toBeNull();
    expect(minifiedScript('var text = function () { /*\n<p>Tides</p>\n*/ };\n')).toBeNull();
    expect(minifiedScript('try { tide(); } catch (e) { /* none */ }\n')).not.toBeNull();
  });

  it('stands on one’s own host under a name of its own, and is offered with what it saves', () => {
    const of = scene('<script src="a.js" integrity="sha256-x" crossorigin></script>', {
      'a.js': `${LONG}\nvar a = 1;`,
    });
    expect(scriptOffer(of, 'minified')).toMatchObject({
      refused: null,
      note: '1.7 KB of its 1.7 KB are comments and white space; names stay as they are',
    });
    const { text, files, takenOut } = treated(of, rule('script', 'a.js', 'minified'));
    expect(files.map((file) => file.content)).toEqual(['var a=1;']);
    expect(text).toBe(`<script src="${new URL(files[0]!.url).pathname}" charset="utf-8"></script>`);
    expect(takenOut).toEqual([`${PAGE}a.js`]);
  });

  it('is recommended where a script has to run where it stands, and for a sheet without fold CSS', () => {
    const of = scene('<head><link rel="stylesheet" href="a.css"><script src="a.js"></script></head>', {
      'a.js': `${LONG}${LONG}${LONG}\ndocument.write('${'tide '.repeat(900)}');`,
      'a.css': `${LONG}${LONG}${LONG}\n${'p { color: teal }\n'.repeat(500)}`,
    });
    const { rules } = recommendPlan(of);
    expect(rules.map(({ kind, treatment, on }) => [kind, treatment, on])).toEqual([
      ['stylesheet', 'minified', true],
      ['script', 'minified', true],
    ]);
    expect(rules[1]!.reason).toMatch(
      /^Not deferred: it writes into the page while it is parsed: .* is there sooner\.$/,
    );
  });

  it('is not offered of short files, of others’, or of modules', () => {
    expect(
      scriptOffer(scene('<script src="a.js"></script>', { 'a.js': '// a\nvar a = 1;' }), 'minified'),
    ).toBeUndefined();
    const other = 'https://o.test/a.js';
    expect(
      scriptOffer(scene(`<script src="${other}"></script>`, { [other]: `${LONG} 1` }), 'minified'),
    ).toBeUndefined();
    expect(
      scriptOffer(scene('<script type="module" src="a.js"></script>', { 'a.js': `${LONG} 1` }), 'minified'),
    ).toBeUndefined();
  });
});

describe('a minified stylesheet', () => {
  it('loses comments and white space, and has its imports written out', () => {
    const of = scene('<link rel="stylesheet" href="css/a.css" media="screen">', {
      'css/a.css': `@import "b.css";\n/*! Licence: quay */\n${LONG}\np {\n  background: url(p.png);\n}\n`,
      'css/b.css': 'i { color : teal }',
    });
    expect(styleOffer(of, 'minified')!.note).toMatch(
      /^1\.\d KB of its 1\.\d KB .*; what it imports is written out in it$/,
    );
    const { text, files } = treated(of, rule('stylesheet', 'css/a.css', 'minified'));
    expect(files.map((file) => file.content)).toEqual([
      '/*! Licence: quay */i{color:teal}p{background:url(/css/p.png)}',
    ]);
    expect(text).toBe(`<link rel="stylesheet" href="${new URL(files[0]!.url).pathname}" media="screen">`);
  });
});

describe('scripts merged into one file', () => {
  const tags = (...names: string[]) => names.map((name) => `<script src="${name}"></script>`).join('\n');

  it('stand where the first one stood, in their order, and the others are gone', () => {
    const of = scene(`<p></p>${tags('a.js', 'b.js', 'c.js')}<p></p>`, {
      'a.js': 'var a = 1 // one',
      'b.js': '(function () { a++ })()',
      'c.js': 'a += 2',
    });
    expect(scriptOffer(of, 'merged')).toMatchObject({
      refused: null,
      note: expect.stringMatching(/^a\.js, b\.js, c\.js in one request; where one of them throws/),
      together: [{ url: `${PAGE}b.js` }, { url: `${PAGE}c.js` }],
    });
    const { text, files, takenOut } = treated(of, rule('script', 'a.js', 'merged', ['b.js', 'c.js']));
    expect(files.map((file) => file.content)).toEqual([
      'var a = 1 // one\n;\n(function () { a++ })()\n;\na += 2',
    ]);
    expect(text).toBe(
      `<p></p><script src="${new URL(files[0]!.url).pathname}" charset="utf-8"></script>\n\n<p></p>`,
    );
    expect(takenOut.toSorted()).toEqual(['a.js', 'b.js', 'c.js'].map((name) => PAGE + name));
  });

  it('go together or not at all, in whichever order a plan names them', () => {
    const of = scene(tags('a.js', 'b.js'), { 'a.js': '1', 'b.js': '2' });
    expect(treated(of, rule('script', 'a.js', 'merged')).notApplied).toEqual([
      { ruleId: 'merged a.js', why: 'B.js would have to go with it.', illegal: true },
    ]);
    expect(treated(of, rule('script', 'b.js', 'merged', ['a.js'])).files[0]!.content).toBe('1\n;\n2');
    const two = treated(of, rule('script', 'a.js', 'merged', ['b.js']), rule('script', 'b.js', 'defer'));
    expect(two.notApplied.map(({ ruleId }) => ruleId)).toEqual(['defer b.js']);
    const chosen = scriptOffers(of, of.page.scripts[0]!, new Map([[of.page.scripts[1]!, 'defer']]));
    expect(chosen.find((one) => one.treatment === 'merged')!.refused).toBe('b.js would have to go with it');
  });

  it.each([
    ['something stands between them', `${tags('a.js')}<p></p>${tags('b.js')}`],
    ['an inline script stands between them', `${tags('a.js')}<script>1</script>${tags('b.js')}`],
    ['one of them says more', `${tags('a.js')}<script src="b.js" id="b"></script>`],
    ['one of them is deferred', `${tags('a.js')}<script src="b.js" defer></script>`],
    ['there is only one', tags('a.js')],
  ])('are not offered where %s', (_what, html) => {
    expect(scriptOffer(scene(html, { 'a.js': '1', 'b.js': '2' }), 'merged')).toBeUndefined();
  });

  it('may be deferred ones, whatever stands between them', () => {
    const of = scene(
      '<script src="a.js" defer></script><p></p><script>1</script><script src="b.js" defer></script>',
      {
        'a.js': '1',
        'b.js': '2',
      },
    );
    expect(treated(of, rule('script', 'a.js', 'merged', ['b.js'])).text).toMatch(
      /^<script src="\/wistrel\/merged-[0-9a-f]+\.js" defer charset="utf-8"><\/script><p><\/p><script>1<\/script>$/,
    );
  });

  it('may be deferred as well: inline scripts that read them follow', () => {
    const files = { 'a.js': 'var level = 1', 'b.js': 'function go() {}' };
    const of = scene(`${tags('a.js', 'b.js')}<p></p><script>go(level)</script>`, files);
    const offer = scriptOffer(of, 'merged-defer')!;
    expect(offer).toMatchObject({
      refused: null,
      note: expect.stringMatching(/^a\.js, b\.js in one request/),
    });
    expect(offer.together).toEqual([{ url: `${PAGE}b.js` }, { inline: 'go(level)' }]);
    const whole = { ...rule('script', 'a.js', 'merged-defer'), together: offer.together };
    const { text, files: made, notApplied } = treated(of, whole);
    expect(notApplied).toEqual([]);
    expect(made.map((file) => file.content)).toEqual(['var level = 1\n;\nfunction go() {}', 'go(level)']);
    expect(text).toMatch(
      /<script src="\/wistrel\/merged-\w+\.js" charset="utf-8" defer><\/script>\n<p><\/p><script defer src="\/wistrel\/inline-\w+\.js"><\/script>$/,
    );
    // What is deferred by itself already is deferred in it; what is done otherwise is not in it.
    const beside = (treatment: string) =>
      scriptOffers(of, of.page.scripts[0]!, new Map([[of.page.scripts[1]!, treatment]])).find(
        (one) => one.treatment === 'merged-defer',
      )!;
    expect(beside('defer')).toEqual(offer);
    expect(beside('inline').refused).toBe('b.js would have to go with it');
    // By itself the merged one would come after what reads it.
    expect(treated(of, rule('script', 'a.js', 'merged-defer', ['b.js'])).notApplied).toHaveLength(1);
  });

  it.each([
    ['they are deferred already', '<script src="a.js" defer></script><script src="b.js" defer></script>'],
    ['something stands between them', `${tags('a.js')}<p></p>${tags('b.js')}`],
  ])('are not offered merged and deferred where %s', (_what, html) => {
    expect(scriptOffer(scene(html, { 'a.js': '1', 'b.js': '2' }), 'merged-defer')).toBeUndefined();
  });

  it('are not deferred in one file where one of them is tied to its place', () => {
    const of = scene(tags('a.js', 'b.js'), { 'a.js': '1', 'b.js': 'document.write("<p>")' });
    expect(scriptOffer(of, 'merged')!.refused).toBeNull();
    expect(scriptOffer(of, 'merged-defer')!.refused).toMatch(/writes into the page while it is parsed/);
  });

  it.each([
    ['"use strict"; go = 1;', 'loose = 1;', /^only one of a\.js and b\.js begins with “use strict”/],
    [
      'if (typeof tide !== "function") ebb();',
      'function tide() {}',
      /^b\.js declares “tide”, which in one file would/,
    ],
    ['function tide() {} tide();', 'function tide() { high(); }', /^b\.js declares “tide”/],
    [
      'Promise.resolve().then(function () { window.level = 1; });',
      'show(window.level);',
      /^a\.js goes on once it is through/,
    ],
    ['var me = document.currentScript;', '1', /^something goes by its address/],
  ])('are refused where they would do something else in one text: %s %s', (a, b, refused) => {
    expect(scriptOffer(scene(tags('a.js', 'b.js'), { 'a.js': a, 'b.js': b }), 'merged')!.refused).toMatch(
      refused,
    );
  });
});

describe('a sheet of another host with its fonts', () => {
  const FONTS = 'https://fonts.other.test/';
  const css =
    '@font-face{font-family:Keel;src:url(f/keel.woff2) format("woff2");unicode-range:U+0-FF}@font-face{font-family:Keel;src:url(f/keel-greek.woff2);unicode-range:U+370-3FF}p{font-family:Keel;background:url(f/wave.svg)}';
  const files = {
    [`${FONTS}keel.css`]: css,
    [`${FONTS}f/keel.woff2`]: { body: Buffer.of(0, 255, 128, 10), type: 'font/woff2', kind: 'font' as const },
  };
  const page = (head = '', policies: string[] = []) =>
    sceneOf(
      readPageAssets(
        madePage(`<head>${head}<link rel="stylesheet" href="${FONTS}keel.css"></head><p>Quay</p>`, files, {
          policies,
        }),
        [],
      ),
      null,
    );
  const link = { ...rule('stylesheet', 'x', 'own-host'), match: { url: `${FONTS}keel.css` } };
  const preload: PlanRule = {
    ...rule('stylesheet', 'y', 'preload'),
    kind: 'font',
    match: { url: `${FONTS}f/keel.woff2` },
  };

  it('stands on one’s own host with those that the page asks for, byte for byte; what asks for them ahead follows', () => {
    const { text, files: made, takenOut } = treated(page(), link, preload);
    const [sheet, font] = made;
    expect([...(font!.content as Uint8Array)]).toEqual([0, 255, 128, 10]);
    const path = new URL(font!.url).pathname;
    expect(path).toMatch(/^\/wistrel\/font-[0-9a-f]{8}\.woff2$/);
    expect(sheet!.content).toContain(`src:url(${path}) format("woff2")`);
    // What was not asked for here may be on the next page.
    expect(sheet!.content).toContain(`url(${FONTS}f/keel-greek.woff2)`);
    expect(sheet!.content).toContain(`url(${FONTS}f/wave.svg)`);
    expect(takenOut).toEqual([`${FONTS}keel.css`, `${FONTS}f/keel.woff2`]);
    expect(text).toContain(`href="${path}" crossorigin>`);
    expect(text).not.toContain(FONTS);
    expect(styleOffer(page(), 'own-host')).toMatchObject({
      refused: null,
      note: 'its font is copied too (4 B); whether it may be copied its licence says',
    });
  });

  it('takes what is done to its faces into the copy: the file that nobody asks for any more is not put in', () => {
    const swap: PlanRule = { ...preload, treatment: 'swap-preload' };
    const { files: made, changes } = treated(page(), link, swap);
    expect(made.map(({ isNew }) => isNew)).toEqual([true, true]);
    expect(made[0]!.content).toContain('font-display:swap');
    expect(changes.map(({ where }) => where).filter((where) => where.startsWith(FONTS))).toEqual([]);
    // Where the sheet stays it is changed itself.
    expect(treated(page(), swap).files.map((file) => [file.url, file.isNew])).toEqual([
      [`${FONTS}keel.css`, false],
    ]);
  });

  it('leaves its fonts where they are where the policy refuses copies, or the page asks for one ahead itself', () => {
    const refusing = page('', [`font-src ${FONTS}; style-src * 'unsafe-inline'`]);
    const hinting = page(`<link rel="preload" as="font" crossorigin href="${FONTS}f/keel.woff2">`);
    for (const of of [refusing, hinting]) {
      const { files: made } = treated(of, link);
      expect(made).toHaveLength(1);
      expect(made[0]!.content).toContain(`url(${FONTS}f/keel.woff2)`);
    }
  });
});

describe('stylesheets merged into one file', () => {
  const links = (...names: string[]) =>
    names.map((name) => `<link rel="stylesheet" href="${name}">`).join('');

  it('stand where the first one stood, in their order', () => {
    const of = scene(`<head>${links('a.css', 'b.css')}</head>`, {
      'a.css': 'p { color: teal }',
      'b.css': 'p { color: navy }',
    });
    expect(styleOffer(of, 'merged', 1)).toMatchObject({ refused: null, together: [{ url: `${PAGE}a.css` }] });
    const [a, b] = of.page.styles;
    const chosen = styleOffers(of, a!, new Map([[b!, 'late']]));
    expect(chosen.find((one) => one.treatment === 'merged')).toMatchObject({
      refused: 'b.css would have to go with it',
      together: [],
    });
    const { text, files } = treated(of, rule('stylesheet', 'a.css', 'merged', ['b.css']));
    expect(files.map((file) => file.content)).toEqual(['p{color:teal}p{color:navy}']);
    expect(text).toBe(`<head><link rel="stylesheet" href="${new URL(files[0]!.url).pathname}"></head>`);
    expect(treated(of, rule('stylesheet', 'a.css', 'merged')).notApplied).toHaveLength(1);
  });

  it.each([
    [
      'they are for different media',
      links('a.css') + '<link rel="stylesheet" media="screen" href="b.css">',
      '',
    ],
    ['styles of the page stand between them', `${links('a.css')}<style>i{}</style>${links('b.css')}`, ''],
    ['one declares a namespace', links('a.css', 'b.css'), '@Namespace svg url(http://www.w3.org/2000/svg);'],
    ['one was not captured', links('a.css', 'c.css'), ''],
  ])('are not offered where %s', (_what, html, b) => {
    expect(styleOffer(scene(html, { 'a.css': 'p{}', 'b.css': b }), 'merged')).toBeUndefined();
  });
});
