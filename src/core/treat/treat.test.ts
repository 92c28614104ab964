import { describe, expect, it } from 'vitest';
import { madePage } from '../../../tests/engine/made-capture.ts';
import type { RequestTiming } from '../measure/run.ts';
import { applyPlan } from './apply.ts';
import { EARLY_CLICKS } from './early-clicks.ts';
import { DELAYED_TYPE } from './waiting-loaders.ts';
import { findHiding } from './hiding.ts';
import { settle } from './legal.ts';
import { scriptOffers, styleOffers } from './offers.ts';
import { readPageAssets, type PageAssets, type PageScript } from '../page/page-assets.ts';
import { activeRules, matchText, planFingerprint, type Plan, type PlanRule, type Risk } from './plan.ts';
import { recommendPlan } from './recommend.ts';
import { sceneOf } from './scene.ts';
import type { FoldForSheet, Scene } from './treatment.ts';

const PAGE = 'https://quay.test/';
const LIB = 'window.tide = function () {};';

function page(html: string, files: Record<string, string> = {}): PageAssets {
  return readPageAssets(madePage(html, files), []);
}

/** Stands first in a page whose scripts no longer hold it up. */
const KEEPS_CLICKS = `<script>${EARLY_CLICKS}</script>`;

function treated(assets: PageAssets, rules: Partial<PlanRule>[], fold: { url: string; css: string }[] = []) {
  const plan: Plan = {
    wistrelPlan: 1,
    page: PAGE,
    rules: rules.map((rule, i) => ({
      id: `r${i}`,
      on: true,
      kind: 'script',
      match: { url: '' },
      scope: 'page',
      treatment: 'as-authored',
      reason: '',
      risk: 'low',
      ...rule,
    })),
  };
  const result = applyPlan(withFold(assets, fold), plan);
  return { ...result, text: new TextDecoder().decode(result.html) };
}

/** A page with fold CSS that may be used. */
function withFold(assets: PageAssets, fold: { url: string; css: string }[]): Scene {
  const facts = { keptRules: 3, rules: 900, foldBytes: 200 };
  return {
    ...sceneOf(assets, null),
    fold: fold.map((one): FoldForSheet => ({ ...facts, ...one })),
    foldUsable: true,
  };
}

const recommended = (assets: PageAssets, upTo?: Risk) => recommendPlan(sceneOf(assets, null), upTo);

const offersFor = (assets: PageAssets, script: PageScript, deferred: PageScript[] = []) =>
  scriptOffers(sceneOf(assets, null), script, new Map(deferred.map((one) => [one, 'defer'])));

/** Of some scripts those that may be deferred together. */
function deferrable(assets: PageAssets): PageScript[] {
  const wishes = new Map(assets.scripts.map((script) => [script, 'defer']));
  const { refused } = settle(sceneOf(assets, null), new Map(), wishes);
  return assets.scripts.filter((script) => !refused.has(script));
}

const rulesOf = (assets: PageAssets) =>
  Object.fromEntries(
    recommended(assets).rules.map((rule) => [matchText(rule.match).replace(PAGE, ''), rule]),
  );

it('asks once for a file that two rules ask for ahead', () => {
  const of = sceneOf(
    page('<script type="module" src="/a.js"></script><script type="module" src="/b.js"></script>', {
      'a.js': 'import "./both.js"; import "./more.js";',
      'b.js': 'import "./both.js"; import "./more.js";',
      'both.js': 'export {};',
      'more.js': 'export {};',
    }),
    null,
  );
  const early = (name: string) => ({
    ...recommendPlan(of).rules[0]!,
    id: name,
    match: { url: `https://quay.test/${name}` },
    treatment: 'modules-early',
  });
  const { html } = applyPlan(of, { ...recommendPlan(of), rules: [early('a.js'), early('b.js')] });
  const tags = new TextDecoder().decode(html).match(/modulepreload" href="[^"]*both\.js"/g);
  expect(tags).toHaveLength(1);
});

describe('deferring', () => {
  it('refuses a script that uses document.write, with the line', () => {
    const assets = page('<script src="w.js"></script>', { 'w.js': 'var a;\ndocument.write("x");' });
    expect(rulesOf(assets)['w.js']).toMatchObject({
      treatment: 'inline',
      reason: expect.stringContaining('line 2: document.write("x");'),
    });
    expect(
      offersFor(assets, assets.scripts[0]!)
        .filter((offer) => offer.refused)
        .map((offer) => offer.treatment),
    ).toEqual(['defer', 'async', 'after-paint', 'at-rest', 'delay']);
  });

  it('keeps early clicks where the page no longer waits for a script, and its policy lets that in', () => {
    const keeps = (tag: string, meta = '') => {
      const [kind, attributes] = tag.split(' ');
      const assets = page(`<head>${meta}</head><p>Quay</p><script ${attributes} src="a.js"></script>`, {
        'a.js': '1',
      });
      return treated(assets, [{ match: { url: `${PAGE}a.js` }, treatment: kind! }]).text.includes(
        EARLY_CLICKS,
      );
    };
    const policy = `<meta http-equiv="content-security-policy" content="script-src 'self'">`;
    expect(['defer ', 'async ', 'after-paint ', 'at-rest ', 'delay '].map((tag) => keeps(tag))).toEqual(
      Array(5).fill(true),
    );
    // Such a script has never held up what it answers.
    expect(['delay async', 'at-rest defer'].map((tag) => keeps(tag))).toEqual([false, false]);
    expect(keeps('defer ', policy)).toBe(false);
    expect(keeps('as-authored ')).toBe(false);
  });

  it('moves the inline scripts that read a deferred library after it, in order', () => {
    const html =
      '<script src="lib.js"></script>\n<p></p><script>tide(1); var level = 2;</script><script>level++;</script><script>other();</script>';
    const assets = page(html, { 'lib.js': LIB });
    const plan = recommended(assets);
    expect(plan.rules.map((rule) => [matchText(rule.match), rule.treatment])).toEqual([
      [`${PAGE}lib.js`, 'defer'],
      ['inline: tide(1); var level = 2;', 'after-libraries'],
      ['inline: level++;', 'after-libraries'],
    ]);
    const { text, files } = treated(assets, plan.rules);
    const names = files.map((file) => new URL(file.url).pathname);
    expect(text).toBe(
      `\n${KEEPS_CLICKS}\n<script src="lib.js" defer></script>\n<p></p><script defer src="${names[0]}"></script><script defer src="${names[1]}"></script><script>other();</script>`,
    );
    expect(files.map((file) => file.content)).toEqual(['tide(1); var level = 2;', 'level++;']);
  });

  it('keeps what else a script element carries when its text becomes a file', () => {
    const assets = page('<script src="lib.js"></script><script nonce="n0" id="Go">tide()</script>', {
      'lib.js': LIB,
    });
    expect(treated(assets, recommended(assets).rules).text).toMatch(
      /<script nonce="n0" id="Go" defer src="\/wistrel\/inline-\w+\.js"><\/script>/,
    );
  });

  it('says that an element’s handler reads what is deferred, and takes that for a risk', () => {
    const rule = (html: string) =>
      rulesOf(page(`<script src="lib.js"></script>\n${html}`, { 'lib.js': LIB }))['lib.js']!;
    expect(rule('<button onclick="tide(1)">Tide</button>')).toMatchObject({
      treatment: 'defer',
      risk: 'medium',
    });
    expect(rule('<button onclick="tide(1)">Tide</button>').reason).toContain(
      'onclick of button, line 2, reads it',
    );
    for (const html of ['<button onclick="other()">', '<template><b onclick="tide()"></b></template>'])
      expect(rule(html)).toMatchObject({ treatment: 'defer', risk: 'low' });
  });

  it('keeps a library where it is when an inline reader writes into the page', () => {
    const assets = page('<script src="lib.js"></script>\n<script>document.write(tide());</script>', {
      'lib.js': LIB,
    });
    const rule = rulesOf(assets)['lib.js']!;
    expect(rule.treatment).toBe('inline');
    expect(rule.reason).toContain('line 2 of the page reads “tide”');
  });

  it('keeps a library whose reader stays blocking, and defers both when both may go', () => {
    const files = { 'lib.js': LIB, 'w.js': 'tide(); document.write("x")', 'd.js': 'tide();' };
    const kept = page('<script src="lib.js"></script><script src="w.js"></script>', files);
    expect(deferrable(kept)).toEqual([]);
    const gone = page('<script src="lib.js"></script><script src="d.js"></script>', files);
    expect(deferrable(gone)).toHaveLength(2);
  });

  it('offers to defer a library where what reads it is deferred too, and refuses where it is not', () => {
    const files = { 'lib.js': LIB, 'd.js': 'tide();' };
    const assets = page(
      '<script src="lib.js"></script><script>tide();</script><script src="d.js"></script>',
      files,
    );
    const [library, , reader] = assets.scripts as [PageScript, PageScript, PageScript];
    const defer = (deferredToo: PageScript[]) =>
      offersFor(assets, library, deferredToo).find((offer) => offer.treatment === 'defer')!;
    expect(defer([]).refused).toContain('line 1 of d.js reads “tide” while the page is parsed');
    expect(defer([library, reader])).toMatchObject({
      refused: null,
      note: '1 inline script moves with it',
    });
  });

  it.each([
    ['a deferred script', '<script defer src="d.js"></script>'],
    ['a module', '<script type="module" src="d.js"></script>'],
    ['an inline module', '<script type="module">tide()</script>'],
  ])('keeps a library that %s before it reads: deferred too, it would come too late', (_what, reader) => {
    const files = { 'lib.js': LIB, 'd.js': 'tide();' };
    const before = page(`${reader}<script src="lib.js"></script>`, files);
    expect(rulesOf(before)['lib.js']).toMatchObject({
      treatment: 'inline',
      reason: expect.stringMatching(/reads “tide”, and that script, deferred already, stands before it/),
    });
    const after = page(`<script src="lib.js"></script>${reader}`, files);
    expect(rulesOf(after)['lib.js']!.treatment).toBe('defer');
  });

  it('keeps a library when an inline script that would move defines what is read by one deferred before it', () => {
    const assets = page(
      '<script src="lib.js"></script><script defer src="d.js"></script><script>tide(); var level = 2;</script>',
      { 'lib.js': LIB, 'd.js': 'go(level)' },
    );
    expect(rulesOf(assets)['lib.js']).toMatchObject({
      treatment: 'inline',
      reason: expect.stringContaining('d.js reads “level”'),
    });
  });

  it('knows that defer does nothing inline, and that async goes before it', () => {
    const files = { 'lib.js': LIB, 'a.js': 'tide()' };
    const inline = page('<script src="lib.js"></script><script defer>tide()</script>', files);
    expect(recommended(inline).rules.map((rule) => rule.treatment)).toEqual(['defer', 'after-libraries']);
    expect(treated(inline, recommended(inline).rules).text).toMatch(
      /<\/script>\n<script src="lib.js" defer><\/script><script defer src="\/wistrel\/inline-\w+\.js"><\/script>$/,
    );
    // As authored it runs whenever it comes, after the library at any rate; deferred, the library might come later.
    const raced = page('<script src="lib.js"></script><script async defer src="a.js"></script>', files);
    expect(rulesOf(raced)['lib.js']).toMatchObject({
      treatment: 'inline',
      reason: expect.stringContaining('line 1 of a.js reads “tide” before it might have arrived'),
    });
  });

  it('leaves alone a script whose text is not in the capture: nobody knows what it does', () => {
    const assets = page('<script src="gone.js"></script><script src="https://other.test/t.js"></script>');
    const rules = rulesOf(assets);
    expect(rules['gone.js']).toMatchObject({
      treatment: 'as-authored',
      reason: 'Not deferred: it could not be read (its text is not in the capture).',
    });
    expect(rules['https://other.test/t.js']).toMatchObject({ treatment: 'as-authored' });
  });

  it('defers a script with a ready or load listener, but does not offer async or delay for it', () => {
    const assets = page('<script src="r.js"></script>', {
      'r.js': '\ndocument.addEventListener("DOMContentLoaded", go); function go(){}',
    });
    const offers = Object.fromEntries(
      offersFor(assets, assets.scripts[0]!).map((offer) => [offer.treatment, offer.refused]),
    );
    expect(offers['defer']).toBeNull();
    expect(offers['async']).toContain('line 2');
    expect(offers['delay']).toContain('line 2');
  });

  it('handles currentScript in a file, and refuses to make a file of an inline script that asks for it', () => {
    const assets = page('<script src="c.js"></script><script>var me = document.currentScript;</script>', {
      'c.js': 'document.currentScript.dataset.x',
    });
    const [file, inline] = assets.scripts.map((script) => offersFor(assets, script));
    expect(file!.find((offer) => offer.treatment === 'defer')).toMatchObject({
      refused: null,
      note: expect.stringContaining('currentScript'),
    });
    expect(inline!.find((offer) => offer.treatment === 'after-libraries')!.refused).toContain(
      'currentScript',
    );
  });

  it('does not apply a rule that would break an inline reader, and says so', () => {
    const assets = page('<script src="lib.js"></script><script>tide();</script>', { 'lib.js': LIB });
    const { text, notApplied } = treated(assets, [{ match: { url: `${PAGE}lib.js` }, treatment: 'defer' }]);
    expect(text).toBe('<script src="lib.js"></script><script>tide();</script>');
    expect(notApplied[0]!.why).toBe('Line 1 of the page reads “tide” while the page is parsed.');
  });
});

describe('what is left where more is not legal', () => {
  const kindsOf = (assets: PageAssets) =>
    recommended(assets).rules.map((rule) => [matchText(rule.match).replace(PAGE, ''), rule.treatment]);

  it('lets an inline script with a token of the visit wait where it stands', () => {
    const html =
      '<script src="lib.js"></script>\n<script id="a">var csrfToken = "a8"; tide(csrfToken);</script><p>Quay</p>';
    const assets = page(html, { 'lib.js': LIB });
    const plan = recommended(assets);
    expect(plan.rules.map((rule) => rule.treatment)).toEqual(['defer', 'waits']);
    expect(plan.rules[1]!.reason).toContain('it stays inline, as it holds what is of one visit');
    const { text, files } = treated(assets, plan.rules);
    expect(files).toHaveLength(1);
    expect(text).toBe(
      `\n${KEEPS_CLICKS}\n<script src="lib.js" defer></script>\n<script id="a" type="text/wistrel-waiting">var csrfToken = "a8"; tide(csrfToken);</script><script defer src="${new URL(files[0]!.url).pathname}"></script><p>Quay</p>`,
    );
    expect(files[0]!.content).not.toContain('a8');
  });

  it('runs what another one’s script may not wait with for a visitor once the first content is on screen', () => {
    const html = '<p>Ask</p><script async src="https://ask.test/a.js" crossorigin data-of="p"></script>';
    const answers =
      'document.querySelector("p").addEventListener("click", function () { this.textContent = "asked"; });';
    const assets = page(html, { 'https://ask.test/a.js': answers });
    const plan = recommended(assets);
    expect(plan.rules[0]).toMatchObject({
      treatment: 'after-paint',
      reason: expect.stringContaining('not delayed: it changes the page when a visitor does something'),
    });
    const { text } = treated(assets, plan.rules);
    expect(text).toContain(
      '<link rel="preload" as="script" href="https://ask.test/a.js" fetchpriority="low" crossorigin="">',
    );
    expect(text).toContain(
      '<script crossorigin data-of="p" type="text/wistrel-after-paint" data-src="https://ask.test/a.js" data-wistrel-alone></script>',
    );
    expect(text).toContain('first-contentful-paint');
  });

  it('puts a small file that is tied to its place there, and nothing that the parser would end', () => {
    const small = page('<p></p><script src="w.js" charset="utf-8"></script>', {
      'w.js': 'document.write("$& x");',
    });
    expect(kindsOf(small)).toEqual([['w.js', 'inline']]);
    expect(treated(small, recommended(small).rules).text).toBe(
      '<p></p><script>document.write("$& x");</script>',
    );
    const ends = page('<script src="w.js"></script>', { 'w.js': 'document.write("</script>");' });
    const large = page('<script src="w.js"></script>', { 'w.js': `document.write("${'x'.repeat(5_000)}");` });
    const others = page('<script src="https://o.test/w.js"></script>', {
      'https://o.test/w.js': 'document.write(1);',
    });
    for (const one of [ends, large, others]) expect(kindsOf(one)[0]![1]).toBe('as-authored');
  });

  it('gives a sheet the media that all of its rules stand under', () => {
    const html = '<link rel="stylesheet" href="a.css">';
    const assets = page(html, { 'a.css': '@media (min-width: 60em) { p { margin: 0 } }' });
    const plan = recommended(assets);
    expect(plan.rules[0]).toMatchObject({
      treatment: 'own-media',
      reason: expect.stringContaining('All of its rules stand under (min-width: 60em)'),
    });
    expect(treated(assets, plan.rules).text).toBe(
      '<link rel="stylesheet" href="a.css" media="(min-width: 60em)">',
    );
    const offered = (css: string, markup = html) => {
      const other = page(markup, { 'a.css': css });
      return styleOffers(sceneOf(other, null), other.styles[0]!).map((one) => one.treatment);
    };
    expect(offered('@media print { p { margin: 0 } } p { margin: 1px }')).not.toContain('own-media');
    expect(offered('@media all { p { margin: 0 } }')).not.toContain('own-media');
    // On every screen it would be waited for as before.
    expect(offered('@media screen { p { margin: 0 } }')).not.toContain('own-media');
    expect(
      offered('@media print { p { margin: 0 } }', '<link rel="stylesheet" media="screen" href="a.css">'),
    ).not.toContain('own-media');
  });

  it('puts a small sheet into the page whole, with what it imports and addresses that hold there', () => {
    const html = '<link rel="stylesheet" href="css/a.css" media="screen"><p>Quay</p>';
    const css = '@import "b.css"; p { background: url(i.png) }';
    const assets = page(html, { 'css/a.css': css, 'css/b.css': 'b { color: red }' });
    const plan = recommended(assets);
    expect(plan.rules[0]!.treatment).toBe('inline');
    const { text, takenOut } = treated(assets, plan.rules);
    expect(text).toBe('<style media="screen">b{color:red}p{background:url(/css/i.png)}</style><p>Quay</p>');
    expect(takenOut).toEqual([`${PAGE}css/a.css`, `${PAGE}css/b.css`]);
  });

  it('asks for what a larger sheet imports with the page', () => {
    const html = '<head><link rel="stylesheet" href="a.css"></head>';
    const many = Array.from({ length: 400 }, (_one, index) => `.b${index} { margin: 0 }`).join('\n');
    const assets = page(html, {
      'a.css': `@import "b.css";\n${many}`,
      'b.css': '@import "c.css?x=1&y=2"; p { margin: 0 }',
      'c.css?x=1&y=2': 'i { margin: 0 }',
    });
    const plan = recommended(assets);
    expect(plan.rules[0]!.treatment).toBe('imports-early');
    expect(treated(assets, plan.rules).text).toBe(
      `<head>\n<link rel="preload" as="style" href="${PAGE}b.css">\n<link rel="preload" as="style" href="${PAGE}c.css?x=1&amp;y=2">\n<link rel="stylesheet" href="a.css"></head>`,
    );
  });

  it('offers a copy of another host’s script, and never recommends it', () => {
    const assets = page('<script src="https://o.test/w.js" integrity="sha256-x" crossorigin></script>', {
      'https://o.test/w.js': 'document.write(1);',
    });
    expect(kindsOf(assets)[0]).toEqual(['https://o.test/w.js', 'as-authored']);
    const { text, files } = treated(assets, [
      { match: { url: 'https://o.test/w.js' }, treatment: 'own-host' },
    ]);
    expect(files.map((file) => file.content)).toEqual(['document.write(1);']);
    expect(text).toBe(`<script src="${new URL(files[0]!.url).pathname}" charset="utf-8"></script>`);
    const finds = page('<script src="https://o.test/w.js"></script>', {
      'https://o.test/w.js': 'var base = document.currentScript.src;',
    });
    expect(offersFor(finds, finds.scripts[0]!).find((one) => one.treatment === 'own-host')!.refused).toMatch(
      /^something goes by its address: line 1: var base/,
    );
  });
});

describe('a copy of another host’s sheet', () => {
  const html =
    '<head><link rel="stylesheet" href="https://o.test/s/a.css" media="screen" integrity="sha256-x" crossorigin></head>';
  const files = {
    'https://o.test/s/a.css': '@import "b.css"; p { background: url(p.png) }',
    'https://o.test/s/b.css': 'i { color: teal }',
  };
  const offered = (more = '', policies: string[] = []) => {
    const assets = readPageAssets(madePage(html + more, files, { policies }), []);
    return styleOffers(sceneOf(assets, null), assets.styles[0]!).find((one) => one.treatment === 'own-host');
  };

  it('has its imports written out and its addresses kept', () => {
    const assets = page(html, files);
    const { text, files: made } = treated(assets, [
      { kind: 'stylesheet', match: { url: 'https://o.test/s/a.css' }, treatment: 'own-host' },
    ]);
    expect(made.map((file) => file.content)).toEqual([
      'i{color:teal}p{background:url(https://o.test/s/p.png)}',
    ]);
    expect(text).toBe(
      `<head><link rel="stylesheet" href="${new URL(made[0]!.url).pathname}" media="screen"></head>`,
    );
  });

  it('is refused where scripts read sheets or look for their links, and where a policy does not let it in', () => {
    expect(offered()!.refused).toBeNull();
    expect(offered('<script>document.styleSheets[0].cssRules</script>')!.refused).toMatch(
      /^something goes by its address: line 1/,
    );
    expect(offered('', ['style-src https://o.test'])!.refused).toContain(
      'refuses new stylesheets of the page’s own host (style-src https://o.test)',
    );
    const own = page('<link rel="stylesheet" href="a.css">', { 'a.css': 'p { margin: 0 }' });
    const ids = styleOffers(sceneOf(own, null), own.styles[0]!).map((one) => one.treatment);
    expect(ids).not.toContain('own-host');
  });
});

describe('what goes by an address, or has to be let in', () => {
  const offer = (assets: PageAssets, treatment: string, index = 0) =>
    offersFor(assets, assets.scripts[index]!).find((one) => one.treatment === treatment);

  it.each([
    ['asks for modules beside it', 'import("./tides.js");', ''],
    [
      'is looked for by another',
      'document.write(1);',
      '<script>document.querySelector("script[src*=own]")</script>',
    ],
  ])('keeps the address of a script that %s', (_what, source, more) => {
    const own = page(`<script src="own.js"></script>${more}`, { 'own.js': source });
    expect(offer(own, 'inline')!.refused).toMatch(/^something goes by its address: line 1/);
    const others = page(`<script src="https://o.test/own.js"></script>${more}`, {
      'https://o.test/own.js': source,
    });
    expect(offer(others, 'own-host')!.refused).toMatch(/^something goes by its address: line 1/);
  });

  it('makes no file of an inline module, and nothing inline that its author listens to', () => {
    const inline = page('<script type="module">import "./n.js";</script>', { 'n.js': '' });
    expect(offer(inline, 'after-libraries')).toBeUndefined();
    const heard = page('<script src="own.js" onload="go()"></script>', { 'own.js': 'document.write(1);' });
    expect(offer(heard, 'inline')).toBeUndefined();
    expect(
      offer(page('<script src="own.js"></script>', { 'own.js': 'document.write(1);' }), 'inline'),
    ).toBeTruthy();
  });

  it('says of a script that answers visitors that their first touch finds no answer where it is delayed', () => {
    const answers =
      'document.querySelector("p").addEventListener("click", function () { this.textContent = "asked"; });';
    const assets = page('<p>Ask</p><script async src="https://ask.test/a.js"></script>', {
      'https://ask.test/a.js': answers,
    });
    expect(offer(assets, 'delay')!.note).toBe(
      'it answers what visitors do (line 1): what they do first finds no answer',
    );
  });

  it('offers no copy of a module: what it imports stands beside it', () => {
    const assets = page('<script type="module" src="https://o.test/m.js"></script>', {
      'https://o.test/m.js': 'import "./n.js";',
    });
    expect(offer(assets, 'own-host')).toBeUndefined();
  });

  it.each([
    ["script-src 'self' 'unsafe-inline'", null],
    ["script-src https://quay.test 'unsafe-inline'", null],
    ["script-src *.test 'unsafe-inline'", null],
    ["script-src https: 'unsafe-inline'", null],
    ["style-src 'none'", null],
    ["script-src https://o.test 'unsafe-inline'", 'script-src'],
    ["script-src http://quay.test:8080 'unsafe-inline'", 'script-src'],
    ["default-src 'none'; script-src-elem https://quay.test/lib/ 'unsafe-inline'", 'script-src-elem'],
  ])('makes files of its own only where the policy lets them in: %s', (policy, by) => {
    const html = '<script src="https://o.test/lib.js"></script><script>tide(1);</script>';
    const assets = readPageAssets(
      madePage(html, { 'https://o.test/lib.js': LIB }, { policies: [policy] }),
      [],
    );
    for (const treatment of ['after-libraries', 'waits'])
      expect(offer(assets, treatment, 1)!.refused ?? '').toMatch(
        by ? new RegExp(`refuses new script files of the page’s own host \\(${by} `) : /^(?!.*own host)/,
      );
    expect(offer(assets, 'own-host')!.refused !== null).toBe(by !== null);
  });
});

describe('third parties', () => {
  const chat = 'https://chat.test/c.js';
  const bar = 'https://bar.test/b.js';

  it('delays them, and the inline scripts that need them, but never a consent script', () => {
    const assets = page(
      `<script async src="${chat}"></script><script>ask('x');</script><script src="${bar}"></script>`,
      {
        [chat]: 'window.ask = function () {};',
        [bar]: 'var name = "cookie-notice";',
      },
    );
    const rules = recommended(assets).rules;
    expect(rules.map((rule) => rule.treatment)).toEqual(['delay', 'delay', 'defer', 'preconnect']);
    const { text } = treated(assets, rules);
    expect(text).toContain(`<script type="${DELAYED_TYPE}" data-src="${chat}"></script>`);
    expect(text).toContain(`<script type="${DELAYED_TYPE}">ask('x');</script>`);
    expect(text).toContain(`<script src="${bar}" defer></script>`);
  });

  const hidden = `<style>.wait{opacity:0!important}</style><script>(function(root){ root.className += ' wait'; })(document.documentElement); document.documentElement.className += ' wait';</script><script async src="${chat}"></script>`;

  it('treats the snippet that hides the page together with the script that ends it', () => {
    const assets = page(hidden, { [chat]: "document.documentElement.classList.remove('wait')" });
    expect(findHiding(assets)[0]).toMatchObject({ mark: '.wait', enders: [{ name: chat }] });
    const rules = recommended(assets).rules;
    expect(rules).toHaveLength(1);
    // It tests variants: it is never delayed by recommendation, and with its snippet where the user decides so.
    expect(rules[0]).toMatchObject({ treatment: 'early', together: [{ inline: expect.any(String) }] });
    // Asked for ahead of others it runs when it did, and the snippet stays what it is.
    expect(treated(assets, rules).text).toBe(hidden.replace('js"></', 'js" fetchpriority="high"></'));
    const { text } = treated(assets, [{ ...rules[0]!, on: true, treatment: 'delay' }]);
    expect(text).not.toContain("' wait'");
    expect(text).toContain(`data-src="${chat}"`);
  });

  it('keeps a snippet that hides the page where a script needs what it defines', () => {
    const html = `<style>.wait{visibility:hidden}</style><script>var twin = { show: function () { document.documentElement.classList.remove('wait'); } }; document.documentElement.classList.add('wait');</script><script async src="${chat}"></script>`;
    const assets = page(html, { [chat]: 'twin.show()' });
    const [rule] = recommended(assets).rules;
    expect(rule).toMatchObject({ treatment: 'early', reason: expect.stringContaining('reads “twin”') });
    for (const treatment of ['delay', 'left-out'] as const) {
      const { text, notApplied } = treated(assets, [{ ...rule!, on: true, treatment }]);
      expect(text).toBe(html);
      expect(notApplied[0]!.why).toContain('reads “twin”, which the snippet that hides the page defines');
      const offers = offersFor(assets, assets.scripts[1]!);
      expect(offers.find((one) => one.treatment === treatment)!.refused).toContain('reads “twin”');
    }
  });

  it.each([
    ['[data-twin] body{visibility:hidden}', "document.documentElement.setAttribute('data-twin','')"],
    ['html[data-twin]{visibility:hidden}', "document.documentElement.toggleAttribute('data-twin')"],
  ])('knows a hiding by an attribute of the root: %s', (css, hides) => {
    const html = `<style>${css}</style><script>${hides}</script><script async src="${chat}"></script>`;
    const assets = page(html, { [chat]: "document.documentElement.removeAttribute('data-twin')" });
    expect(findHiding(assets)[0]).toMatchObject({ mark: '[data-twin]', enders: [{ name: chat }] });
  });

  it('leaves a hiding alone whose end cannot be found', () => {
    const assets = page(hidden, { [chat]: 'var nothing;' });
    expect(recommended(assets).rules[0]).toMatchObject({
      treatment: 'as-authored',
      reason: expect.stringContaining('left alone'),
    });
  });
});

describe('stylesheets and fonts', () => {
  it('puts the fold CSS in the link’s place, with the sheet late and a fallback without scripts', () => {
    const assets = page(
      '<meta charset="utf-8"><link rel="stylesheet" href="a.css" media="screen"><p>Fähre</p>',
    );
    const { text, changes } = treated(
      assets,
      [{ kind: 'stylesheet', match: { url: `${PAGE}a.css` }, treatment: 'fold-css-late' }],
      [{ url: `${PAGE}a.css`, css: 'p{color:red}' }],
    );
    expect(text).toBe(
      `<meta charset="utf-8"><style media="screen">p{color:red}</style><link rel="stylesheet" href="a.css" media="print" onload="this.onload=null;this.media='screen'"><noscript><link rel="stylesheet" href="a.css" media="screen"></noscript><p>Fähre</p>`,
    );
    expect(changes[0]).toMatchObject({
      where: 'line 1 of the page',
      before: '<link rel="stylesheet" href="a.css" media="screen">',
    });
  });

  it('keeps a very long element whole', () => {
    const long = `<link rel="stylesheet" href="a.css" data-note="${'x'.repeat(5_000)}">`;
    const { text } = treated(
      page(long, { 'a.css': 'p{}' }),
      [{ kind: 'stylesheet', match: { url: `${PAGE}a.css` }, treatment: 'fold-css-late' }],
      [{ url: `${PAGE}a.css`, css: 'p{color:red}' }],
    );
    expect(text).toContain(`<noscript>${long}</noscript>`);
  });

  it('does not recommend fold CSS that is most of a large sheet: no cache would hold it', () => {
    const font = Array.from({ length: 40_000 }, (_, at) => ((at * 7_919 + 13) % 36).toString(36)).join('');
    const large = Array.from({ length: 9_000 }, (_, at) => ((at * at * 31) % 46_656).toString(36)).join('');
    const css = `p{background:url(data:font/woff2;base64,${large}${font})}`;
    const sheet = `${css}a{color:red}`;
    const reasonOf = (fold: string) => {
      const assets = page('<link rel="stylesheet" href="a.css">', { 'a.css': sheet });
      return recommendPlan(withFold(assets, [{ url: `${PAGE}a.css`, css: fold }])).rules[0]!;
    };
    expect(reasonOf(css)).toMatchObject({ treatment: 'as-authored' });
    expect(reasonOf(css).reason).toMatch(
      /^Its fold CSS, \d+(\.\d)? KB compressed, is \d+ % of it, and in the HTML no cache holds it\./,
    );
    expect(reasonOf(css).reason).toContain('make them files of their own, and measure again.');
    expect(reasonOf('a{color:red}').treatment).toBe('fold-css-late');
  });

  it('says of a sheet that only declares fonts what it is, and counts no rules of it', () => {
    const assets = page('<link rel="stylesheet" href="a.css">', {
      'a.css': '@font-face{font-family:K;src:url(k)}',
    });
    const scene = withFold(assets, [{ url: `${PAGE}a.css`, css: '@font-face{font-family:K;src:url(k)}' }]);
    const fold = scene.fold!.map((one) => ({ ...one, keptRules: 0, rules: 0 }));
    expect(recommendPlan({ ...scene, fold }).rules[0]!.reason).toBe(
      'It blocks rendering; it styles nothing by itself, as one that only declares fonts. What the fold needs of it (200 B) goes inline, the sheet arrives late.',
    );
  });

  it('recommends fold CSS only when it is proved', () => {
    const assets = page('<link rel="stylesheet" href="a.css">', { 'a.css': 'p{color:red}'.repeat(2_000) });
    const scene = withFold(assets, [{ url: `${PAGE}a.css`, css: 'p{}' }]);
    expect(recommendPlan(scene).rules[0]!.treatment).toBe('fold-css-late');
    expect(recommendPlan({ ...scene, foldUsable: false }).rules[0]!.treatment).toBe('as-authored');
    expect(recommended(assets).rules[0]!.reason).toContain('generate it first');
    const elsewhere = page('<link rel="stylesheet" href="https://away.test/b.css">');
    expect(recommended(elsewhere).rules[0]!.reason).toBe(
      'The capture does not hold it, as its host did not answer: measure the page again when it does.',
    );
  });

  /** A font of the page's own that paints above the fold. */
  const keelAt = (path: string) => ({
    url: PAGE + path,
    family: 'keel',
    display: null,
    party: 'first' as const,
    aboveFold: true,
    icons: false,
    fit: null,
    inParts: false,
    smaller: null,
  });

  it('swaps own fonts in their own sheet and preloads those above the fold', () => {
    const css = '@font-face { font-family: "Keel"; src: url("k.woff2") }\n/* kept */ p { color: red }';
    const assets = page('<meta charset="utf-8"><link rel="stylesheet" href="s/a.css">', { 's/a.css': css });
    const font = keelAt('s/k.woff2');
    const [, rule] = recommendPlan({ ...sceneOf(assets, null), fonts: [font] }).rules;
    expect(rule).toMatchObject({ kind: 'font', treatment: 'swap-preload', risk: 'low' });
    const { text, files } = treated(assets, [rule!]);
    expect(text).toContain(
      '<meta charset="utf-8">\n<link rel="preload" as="font" type="font/woff2" href="/s/k.woff2" crossorigin>',
    );
    expect(files[0]).toMatchObject({ url: `${PAGE}s/a.css`, isNew: false });
    expect(files[0]!.content).toContain('font-display:swap');
    expect(files[0]!.content).toContain('/* kept */ p { color: red }');
  });

  it('swaps faces that the page’s own styles declare where they stand, with a nonce where its policy asks for one', () => {
    const css = '@font-face { font-family: Keel; src: url(s/k.woff2) } p { color: red }';
    const html = (policy: string, nonce = '') =>
      `<meta charset="utf-8">${policy && `<meta http-equiv="content-security-policy" content="style-src ${policy}">`}<style${nonce}>${css}</style><p>Kept`;
    const rule = { kind: 'font', match: { url: `${PAGE}s/k.woff2` }, treatment: 'swap' } as const;
    const swapped = css.replace('{ font', '{font-display:swap; font');
    for (const [policy, nonce, after] of [
      ['', '', ''],
      [`'nonce-q1'`, ' nonce="q1"', ' nonce="q1"'],
      [`'nonce-q1' 'sha256-x='`, '', ' nonce="q1"'],
    ] as const) {
      const { text, changes, notApplied } = treated(page(html(policy, nonce)), [rule]);
      expect(notApplied).toEqual([]);
      expect(text).toBe(html(policy, after).replace(css, swapped));
      expect(changes).toMatchObject([{ title: 'keel: swap', where: 'line 1 of the page' }]);
    }
    const hashed = treated(page(html(`'sha256-x='`)), [rule]);
    expect(hashed.text).toContain(css);
    expect(hashed.notApplied[0]!.why).toContain('refuses styles in the page');
  });

  it('asks for no font ahead that the page asks for itself; one asked for in a way that no font is comes once', () => {
    const css = '@font-face { font-family: "Keel"; src: url("/k.woff2") }';
    const font = keelAt('k.woff2');
    const advised = (preloads: string) => {
      const assets = page(`<head>${preloads}<link rel="stylesheet" href="a.css"></head>`, { 'a.css': css });
      const rules = recommendPlan({ ...sceneOf(assets, null), fonts: [font] }).rules.filter(
        (one) => one.kind === 'font',
      );
      return { treatments: rules.map((one) => one.treatment), text: treated(assets, rules).text };
    };
    const right = '<link rel="preload" as="font" type="font/woff2" href="/k.woff2" crossorigin>';
    const own = advised(right);
    expect(own.treatments).toEqual(['swap']);
    expect(own.text.match(/rel="preload"/g)).toHaveLength(1);
    // Without crossorigin the browser asks for it a second time.
    const wrong = advised('<link rel="preload" as="font" href="/k.woff2">');
    expect(wrong.treatments).toEqual(['swap-preload']);
    expect(wrong.text).toContain(right);
    expect(wrong.text.match(/rel="preload"/g)).toHaveLength(1);
  });

  it('asks for three fonts ahead at most; the others swap', () => {
    const names = ['a', 'b', 'c', 'd'];
    const css = names.map((one) => `@font-face { font-family: ${one}; src: url(${one}.woff2) }`).join('');
    const assets = page('<link rel="stylesheet" href="a.css">', { 'a.css': css });
    const fonts = names.map((one) => ({
      url: `${PAGE}${one}.woff2`,
      family: one,
      display: null,
      party: 'first' as const,
      aboveFold: true,
      icons: false,
      fit: null,
      inParts: false,
      smaller: null,
    }));
    const rules = recommendPlan({ ...sceneOf(assets, null), fonts }).rules.filter(
      (one) => one.kind === 'font',
    );
    expect(rules.map((one) => one.treatment)).toEqual([
      'swap-preload',
      'swap-preload',
      'swap-preload',
      'swap',
    ]);
    expect(rules[3]!.reason).toContain('3 others are asked for ahead of it');
  });

  it('never swaps a font that draws icons, of whatever make its classes are', () => {
    const signs = (prefix: string) =>
      ['anchor', 'bell', 'crane']
        .map((one, at) => `.${prefix}${one}::before { content: "\\f10${at}" }`)
        .join('');
    const names = ['wharf', 'keel', 'text', 'mark', 'near', 'both', 'stem', 'aside', 'harbour-icons'];
    const faces = names.map((one) => `@font-face { font-family: "${one}"; src: url(${one}.woff2) }`).join('');
    const css = `${faces} .sg { font: normal 14px/1 Wharf } ${signs('sg-')}
      [class^="ico-"] { font-family: 'Keel', serif } ${signs('ico-')}
      .close::after { font-family: Mark; content: '\ue001' }
      .bo::before, h1 { font-family: Both } ${signs('bo-')}
      .qy-sign { font-family: Stem } ${signs('qy-')} .glow { font-family: Aside } .zz::before { content: "\\e001" }
      .ligature { font-family: Harbour-Icons }
      body, .s { font-family: Text } .near { font-family: Near; content: "\\2014" }`;
    const font = (name: string) => ({ body: name, type: 'font/woff2', kind: 'font' as const });
    const files = Object.fromEntries(names.map((one) => [`${one}.woff2`, font(one)]));
    const assets = readPageAssets(
      madePage('<link rel="stylesheet" href="a.css"><i class="glow zz"></i>', { 'a.css': css, ...files }),
      [],
    );
    const scene = sceneOf(assets, null);
    expect(scene.fonts.filter((one) => one.icons).map((one) => one.family)).toEqual([
      'wharf',
      'keel',
      'mark',
      'stem',
      'aside',
      'harbour-icons',
    ]);
    expect(
      recommendPlan(scene).rules.flatMap((one) => (one.kind === 'font' ? [matchText(one.match)] : [])),
    ).toEqual([`${PAGE}text.woff2`, `${PAGE}near.woff2`, `${PAGE}both.woff2`]);
    const swap = { kind: 'font' as const, match: { url: `${PAGE}wharf.woff2` }, treatment: 'swap' };
    expect(treated(assets, [swap]).notApplied[0]!.why).toContain('It draws icons');
  });

  it.each([
    ['p{color:red}}', 'a stray brace at its end'],
    ['', 'nothing odd'],
  ])('takes the integrity from the link of a sheet whose bytes it changes, also with %s', (tail) => {
    const css = `@font-face{font-family:Keel;src:url(k.woff2)}${tail}`;
    const link = '<link rel="stylesheet" href="a.css" integrity="sha384-AbC" crossorigin>';
    const swap = { kind: 'font' as const, match: { url: `${PAGE}k.woff2` }, treatment: 'swap' as const };
    const assets = page(link, { 'a.css': css });
    const own = treated(assets, [swap]);
    expect(own.files[0]!.content).toContain('font-display:swap');
    expect(own.text).toBe('<link rel="stylesheet" href="a.css" crossorigin>');
    const sheet = { kind: 'stylesheet' as const, match: { url: `${PAGE}a.css` }, treatment: 'late' as const };
    const late = treated(assets, [swap, sheet]);
    expect(late.text).not.toContain('sha384');
    // Without a change of its bytes what vouches for them stays.
    expect(treated(assets, [sheet]).text).toContain('integrity="sha384-AbC"');
  });

  it('writes addresses of its own files so that they hold under the page’s base', () => {
    const base = '<base href="https://files.test/v2/">';
    const html = `${base}<script src="lib.js"></script><script>tide()</script>`;
    const assets = page(html, { 'https://files.test/v2/lib.js': LIB });
    const { text } = treated(assets, [
      { match: { url: 'https://files.test/v2/lib.js' }, treatment: 'defer' },
      { match: assets.scripts[1]!.match, treatment: 'after-libraries' },
    ]);
    expect(text).toMatch(/src="https:\/\/quay\.test\/wistrel\/inline-\w+\.js"/);
    const own = page(html.replace('https://files.test', ''), { 'v2/lib.js': LIB });
    const there = treated(own, [
      { match: { url: `${PAGE}v2/lib.js` }, treatment: 'defer' },
      { match: own.scripts[1]!.match, treatment: 'after-libraries' },
    ]);
    expect(there.text).toMatch(/ src="\/wistrel\/inline-\w+\.js"/);
  });

  it('preconnects to hosts that are still needed early', () => {
    const assets = page('<link rel="stylesheet" href="a.css">');
    const font = {
      url: 'https://fonts.test/k.woff2',
      family: 'keel',
      display: 'swap',
      party: 'third' as const,
      aboveFold: true,
      icons: false,
      fit: null,
      inParts: false,
      smaller: null,
    };
    expect(recommendPlan({ ...sceneOf(assets, null), fonts: [font] }).rules.at(-1)).toMatchObject({
      kind: 'host',
      match: { host: 'https://fonts.test' },
      treatment: 'preconnect',
    });
  });

  it('makes no connection ahead that the page makes itself, and takes out what it makes in vain', () => {
    const asked = [{ url: 'https://other.test/x.woff2', kind: 'font', discovery: { by: 'other' } }];
    const hinted = (...hints: string[]) =>
      readPageAssets(
        madePage(`<head>\n${hints.join('\n')}\n</head><p>Quay</p>`, { 'https://other.test/x.woff2': '' }),
        asked as RequestTiming[],
      );
    const right = '<link rel="preconnect" href="https://other.test" crossorigin>';
    const wrong = '<link rel="preconnect" href="https://other.test">';
    const nowhere = '<link rel="preconnect" href="https://gone.test">';
    const host = { kind: 'host', match: { host: 'https://other.test' } } as const;
    for (const treatment of ['preconnect', 'dns-prefetch'])
      expect(treated(hinted(right), [{ ...host, treatment }]).notApplied[0]!.why).toBe(
        'Line 2 of the page has that hint already.',
      );
    // Of the wrong sort it goes, and the right one comes.
    expect(treated(hinted(wrong), [{ ...host, treatment: 'preconnect' }]).text).toBe(
      `<head>\n${right}\n\n\n</head><p>Quay</p>`,
    );
    const assets = hinted(right, nowhere);
    const { rules } = recommended(assets);
    expect(rules).toMatchObject([
      { kind: 'host', match: { host: 'https://gone.test' }, treatment: 'hint-out', risk: 'low', on: true },
    ]);
    expect(rules[0]!.reason).toBe(
      'Line 3 of the page: preconnect for gone.test helps nothing, as the page asks nothing of it.',
    );
    expect(treated(assets, rules).text).toBe(`<head>\n${right}\n\n</head><p>Quay</p>`);
  });

  it.each([
    ['a script', 'script', '<script src="https://other.test/x"></script>', ['']],
    [
      'a script with crossorigin',
      'script',
      '<script crossorigin src="https://other.test/x"></script>',
      [' crossorigin'],
    ],
    ['a module', 'script', '<script type="module" src="https://other.test/x"></script>', [' crossorigin']],
    [
      'credentials on purpose',
      'script',
      '<script crossorigin="use-credentials" src="https://other.test/x"></script>',
      [''],
    ],
    ['a font', 'font', '', [' crossorigin']],
    ['a picture and data', 'image data', '', ['', ' crossorigin']],
    ['nothing known', '', '', ['']],
  ])('makes the sort of connection ahead that %s uses', (_what, kinds, html, sorts) => {
    const requests = kinds
      .split(' ')
      .filter(Boolean)
      .map((kind) => ({ url: 'https://other.test/x', kind, discovery: { by: 'other' } }) as RequestTiming);
    const rule = { kind: 'host' as const, match: { host: 'https://other.test' } };
    const assets = readPageAssets(madePage(`<head></head>${html}`, { 'https://other.test/x': '' }), requests);
    const head = (treatment: 'preconnect' | 'dns-prefetch') =>
      /<head>\n(.*)\n<\/head>/s.exec(treated(assets, [{ ...rule, treatment }]).text)![1];
    expect(head('preconnect')).toBe(
      sorts.map((sort) => `<link rel="preconnect" href="https://other.test"${sort}>`).join('\n'),
    );
    expect(head('dns-prefetch')).toBe('<link rel="dns-prefetch" href="https://other.test">');
  });
});

describe('a page that is not UTF-8', () => {
  const read = (html: string, files: Record<string, string> = {}) =>
    readPageAssets(
      madePage(Buffer.from(html, 'latin1'), files, { type: 'text/html; charset=iso-8859-1' }),
      [],
    );
  /** The treated page as its browser reads it. */
  const decoded = ({ html }: { html: Uint8Array }) => new TextDecoder('windows-1252').decode(html);

  it('gets fold CSS that says the same in its encoding, and keeps its links as they were', () => {
    const link = '<link rel="stylesheet" href="a.css" title="Fähre">';
    const made = treated(
      read(`<p>Übersicht</p>${link}`),
      [{ kind: 'stylesheet', match: { url: `${PAGE}a.css` }, treatment: 'fold-css-late' }],
      [{ url: `${PAGE}a.css`, css: '.ä::before{content:"→"}' }],
    );
    expect(decoded(made)).toContain('<p>Übersicht</p><style>.\\e4 ::before{content:"\\2192 "}</style>');
    expect(decoded(made)).toContain(
      '<noscript><link rel="stylesheet" href="a.css" title="F&#xe4;hre"></noscript>',
    );
  });

  it('has the text of a delayed script byte for byte, and says how a file of its own is encoded', () => {
    const inline = '<script title="ä">say("Fähre");</script>';
    const assets = read(inline);
    const match = assets.scripts[0]!.match;
    expect(decoded(treated(assets, [{ match, treatment: 'delay' }]))).toContain(
      '<script title="ä" type="text/wistrel-delayed" data-wistrel-alone>say("Fähre");</script>',
    );
    const moved = treated(assets, [{ match, treatment: 'after-libraries' }]);
    expect(decoded(moved)).toMatch(
      /^<script title="ä" defer src="\/wistrel\/inline-\w+\.js" charset="utf-8"><\/script>$/,
    );
    expect(moved.files[0]!.content).toBe('say("Fähre");');
  });
});

describe('plans', () => {
  it('leave every untreated byte alone: an empty plan changes nothing', () => {
    const html = '<!doctype html>\r\n<p\tclass=x >é<script>1</script>';
    expect(treated(page(html), []).text).toBe(html);
  });

  it('apply the first of two rules about one script, and say so of the other', () => {
    const assets = page('<script src="a.js"></script>', { 'a.js': '1' });
    const { text, notApplied } = treated(assets, [
      { match: { url: `${PAGE}a.js` }, treatment: 'async' },
      { match: { url: `${PAGE}a.js` }, treatment: 'left-out' },
    ]);
    expect(text).toBe(`\n${KEEPS_CLICKS}\n<script src="a.js" async></script>`);
    expect(notApplied).toEqual([
      { ruleId: 'r1', why: 'Rule r0 (async) is about the same element.', illegal: false },
    ]);
  });

  it('tell inline scripts apart that begin alike, and find those of plans of before', () => {
    const head = 'var settings = { harbour: "Orrask", piers: [1, 2, 3, 4, 5, 6, 7, 8], signs: true };';
    const assets = page(`<script>${head}one()</script><script>${head}two()</script>`);
    const [one, two] = assets.scripts as [PageScript, PageScript];
    expect(matchText(one.match)).not.toBe(matchText(two.match));
    const { text } = treated(assets, [{ match: two.match, treatment: 'left-out' }]);
    expect(text).toContain('one()');
    expect(text).not.toContain('two()');
    const before = { inline: head.slice(0, 80) };
    expect(treated(assets, [{ match: before, treatment: 'left-out' }]).text).toBe('');
  });

  it('say which rules found nothing to act on', () => {
    const { notApplied } = treated(page('<p>'), [{ match: { url: `${PAGE}gone.js` }, treatment: 'defer' }]);
    expect(notApplied).toEqual([{ ruleId: 'r0', why: 'The page has no such script.', illegal: false }]);
  });

  it('switch off what is riskier than asked, and compare by what they do', () => {
    const assets = page('<script src="lib.js"></script><script>tide()</script>', { 'lib.js': LIB });
    const low = recommended(assets, 'low');
    const medium = recommended(assets, 'medium');
    expect(activeRules(low)).toHaveLength(0);
    expect(activeRules(medium)).toHaveLength(2);
    expect(planFingerprint(low)).not.toBe(planFingerprint(medium));
    expect(planFingerprint(medium)).toBe(
      planFingerprint({ rules: medium.rules, page: PAGE, wistrelPlan: 1 }),
    );
  });
});

describe('a page under a Content-Security-Policy', () => {
  const html = (policy: string) =>
    `<head><meta http-equiv="Content-Security-Policy" content="${policy}"><link rel="stylesheet" href="a.css"><script src="https://count.test/c.js"></script></head>`;
  const late = { kind: 'stylesheet', match: { url: `${PAGE}a.css` }, treatment: 'fold-css-late' } as const;
  const delay = { match: { url: 'https://count.test/c.js' }, treatment: 'delay' } as const;
  const fold = [{ url: `${PAGE}a.css`, css: '.a{top:0}' }];
  const files = { 'https://count.test/c.js': 'count();' };

  it('stays as it is where what a rule writes into it would be refused, and the rule says by what', () => {
    const source = html("default-src 'self' https://count.test");
    const assets = page(source, files);
    const { text, notApplied } = treated(assets, [late, delay], fold);
    const refused = (offers: { treatment: string; refused: string | null }[]) =>
      offers.filter((one) => one.refused).map((one) => one.treatment);
    expect(refused(styleOffers(withFold(assets, fold), assets.styles[0]!))).toEqual([
      'fold-css-late',
      'late',
    ]);
    expect(refused(offersFor(assets, assets.scripts[0]!))).toEqual(['after-paint', 'at-rest', 'delay']);
    expect(text).toBe(source);
    expect(notApplied.map((one) => one.why)).toEqual([
      "The page’s Content-Security-Policy refuses styles in the page (default-src 'self' https://count.test). Let it through there and measure again.",
      "The page’s Content-Security-Policy refuses new scripts in the page (default-src 'self' https://count.test). Let it through there and measure again.",
    ]);
  });

  it('is not recommended what it would refuse', () => {
    const of = (policy: string) =>
      recommendPlan(withFold(page(html(policy), files), fold))
        .rules.filter((rule) => rule.kind !== 'host')
        .map((rule) => rule.treatment);
    expect(of("style-src 'unsafe-inline'")).toEqual(['fold-css-late', 'delay']);
    expect(of("style-src 'self'")).toEqual(['as-authored', 'delay']);
    // What cannot wait for an interaction need not hold the parser.
    expect(of("script-src 'self' https://count.test")).toEqual(['as-authored', 'defer']);
  });

  it('that lives by a nonce gets what is new with that nonce; a late sheet then applies by a script', () => {
    const assets = page(html("style-src 'nonce-q1'; script-src 'nonce-q2' 'strict-dynamic'"), files);
    const { text, notApplied, changes, nonces } = treated(assets, [late, delay], fold);
    expect(notApplied).toEqual([]);
    expect(nonces).toEqual(['q1', 'q2']);
    expect(text).toContain('<style nonce="q1">.a{top:0}</style>');
    expect(text).toContain('<link rel="stylesheet" href="a.css" media="print" data-late-media="all">');
    expect(text.match(/<script nonce="q2">/g)).toHaveLength(3);
    expect(text).not.toContain('this.onload');
    expect(changes.filter((change) => change.where.includes('head')).map((change) => change.title)).toEqual([
      'What lets late stylesheets apply once they are there',
      'What does early clicks again once they are answered',
      'What runs delayed scripts at the first interaction',
    ]);
    expect(
      recommendPlan(withFold(assets, fold))
        .rules.filter((rule) => rule.kind !== 'host')
        .map((rule) => rule.treatment),
    ).toEqual(['fold-css-late', 'delay']);
  });

  it('that refuses attributes only has its late sheets applied by a script without a nonce', () => {
    const source = html("script-src 'unsafe-inline' https://count.test; script-src-attr 'none'");
    const { text, nonces } = treated(page(source, files), [late], fold);
    expect(nonces).toEqual([]);
    expect(text).toContain('data-late-media="all"');
    expect(text).toContain("<script>document.addEventListener('load'");
  });

  it('takes headers for it as well', () => {
    const assets = readPageAssets(
      madePage(html("img-src 'self'"), files, { policies: ["style-src 'none'"] }),
      [],
    );
    const { notApplied } = treated(assets, [late, delay], fold);
    expect(notApplied.map((one) => one.ruleId)).toEqual(['r0']);
  });
});

describe('an illegal rule', () => {
  const html = '<script src="lib.js"></script>\n<p></p>\n<script>tide(1)</script>';
  const async: Partial<PlanRule> = { match: { url: `${PAGE}lib.js` }, treatment: 'async' };

  it('is left out and told from one that cannot be carried out', () => {
    const gone = { match: { url: `${PAGE}gone.js` }, treatment: 'defer' };
    const { notApplied, text } = treated(page(html, { 'lib.js': LIB }), [async, gone]);
    expect(notApplied.map(({ ruleId, illegal }) => [ruleId, illegal])).toEqual([
      ['r1', false],
      ['r0', true],
    ]);
    expect(text).toBe(html);
  });

  it('is carried out when that is asked for, and only then', () => {
    const scene = sceneOf(page(html, { 'lib.js': LIB }), null);
    const rule: PlanRule = {
      id: 'r0',
      on: true,
      kind: 'script',
      match: { url: `${PAGE}lib.js` },
      scope: 'page',
      treatment: 'async',
      reason: '',
      risk: 'low',
    };
    const plan: Plan = { wistrelPlan: 1, page: PAGE, rules: [rule] };
    const { html: forced, notApplied } = applyPlan(scene, plan, { evenIllegal: true });
    expect(notApplied).toEqual([]);
    expect(new TextDecoder().decode(forced)).toContain('<script src="lib.js" async>');
  });

  it('names the lines of both scripts that change the same', () => {
    const assets = page('<script src="a.js"></script>\n<p></p>\n<script src="b.js" async></script>', {
      'a.js': '\n\nwindow.captain = "Olav";',
      'b.js': '\nwindow.captain = "Ines";',
    });
    const offer = offersFor(assets, assets.scripts[0]!).find((one) => one.treatment === 'defer');
    expect(offer?.refused).toBe(
      'line 3 of a.js and line 2 of b.js both change “captain”, and would do so in another order',
    );
  });

  it('names the file where a line is all that is known of it', () => {
    const assets = page('<script src="n.js"></script><p class="card"></p>', {
      'n.js': '\nvar n = document.querySelectorAll(".card").length;',
    });
    const offer = offersFor(assets, assets.scripts[0]!).find((one) => one.treatment === 'defer');
    expect(offer?.refused).toBe('it would find elements that stand after it as well (.card): line 2 of n.js');
  });

  it('asks of what stands after a script whether it has the attribute that is looked for', () => {
    const refused = (after: string) => {
      const assets = page(`<p data-card></p><script src="n.js"></script>${after}`, {
        'n.js': '\nvar n = document.querySelectorAll("[data-card]").length;',
        'm.js': 'var m = 1;',
      });
      return offersFor(assets, assets.scripts[0]!).find((one) => one.treatment === 'defer')!.refused;
    };
    expect(refused('<script src="m.js"></script>')).toBeNull();
    expect(refused('<p data-card="two"></p>')).toMatch(/would find elements that stand after it/);
  });
});
