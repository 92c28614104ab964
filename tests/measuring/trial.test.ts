import { randomBytes } from 'node:crypto';
import { expect, it } from 'vitest';
import { findConditions } from '../../src/core/measure/conditions.ts';
import type { CapturedPage } from '../../src/core/page/captured-page.ts';
import { readPageAssets } from '../../src/core/page/page-assets.ts';
import { applyPlan, type TreatedPage } from '../../src/core/treat/apply.ts';
import type { PlanRule } from '../../src/core/treat/plan.ts';
import { idealPage } from '../../src/core/treat/ideal-page.ts';
import { sceneOf } from '../../src/core/treat/scene.ts';
import { AS_IS, IDEAL, TREATED } from '../../src/core/trial/arms.ts';
import { isProved } from '../../src/core/trial/verdict.ts';
import { Lab } from '../../src/engine/lab/lab.ts';
import { findAtFault, type Broken } from '../../src/engine/trial/find-at-fault.ts';
import type { Break } from '../../src/core/trial/breaks.ts';
import { NOTHING_BESIDES } from '../engine/made-checks.ts';
import { armsOf } from '../../src/engine/trial/arm-files.ts';
import { runTrial } from '../../src/engine/trial/run-trial.ts';
import type { TrialRequest } from '../../src/engine/trial/trial.ts';
import { madePage } from '../engine/made-capture.ts';

const LARGE = `var tide = "${'tide'.repeat(150_000)}";`;
const MENU = 'var nav = document.querySelector("nav"), menu = document.querySelector("button");';
const STYLE =
  'nav{display:none}nav.open{display:block}.bare p{float:right;width:45%;background:#124;color:#fff;font-size:11px}button{padding:20px}';
/** @param answer what the menu's button does, in the page's own script */
const pageWith = (head: string, bodyClass: string, answer: string) =>
  `<!DOCTYPE html><meta name="viewport" content="width=device-width"><title>Quay</title><style>${STYLE}</style>${head}
  <body class="${bodyClass}"><button aria-expanded="false">Menu</button><nav>Booking</nav>${'<p>The tide turns at noon, and the ferry goes with it to the islands.</p>'.repeat(12)}<script>${MENU}${answer}</script>`;

const OPENS = 'menu.addEventListener("click", function () { nav.className = "open"; });';

function madeRule(id: string): PlanRule {
  return {
    id,
    kind: 'script',
    match: { url: `https://quay.test/${id}.js` },
    treatment: 'defer',
    on: true,
    scope: 'page',
    reason: '',
    risk: 'low',
  };
}

/** Six pairs of a page against itself: what is tried is put over it. */
function heldAgainstItself(page: CapturedPage): TrialRequest {
  const { capture } = page;
  const asIs = applyPlan(sceneOf(readPageAssets(page, []), null), {
    wistrelPlan: 1,
    page: page.url,
    rules: [],
  });
  return {
    capture,
    bodies: new Map(capture.exchanges.map((one) => [one.bodyHash!, page.body(one.url)!] as const)),
    state: null,
    yardstick: null,
    asIs,
    isAsIs: true,
    treated: asIs,
    parts: null,
    answers: [],
    conditions: findConditions('home-laptop')!,
    pairs: 6,
    rehearsal: null,
    pageName: 'Quay',
    billed: null,
    bothDevices: false,
    visit: 'first',
    returnVisits: false,
    taps: false,
    beside: [],
  };
}

it('times return visits where that is asked for: what stands in the page itself is sent again', async () => {
  const css = `${STYLE}/*${randomBytes(1_200_000).toString('base64')}*/`;
  const page = madePage(pageWith('<link rel="stylesheet" href="site.css">', '', OPENS), {
    'site.css': {
      body: css,
      type: 'text/css',
      kind: 'stylesheet',
      headers: [['cache-control', 'max-age=86400']],
    },
  });
  const trial = heldAgainstItself(page);
  const html = Buffer.from(pageWith(`<style>${css}</style>`, '', OPENS));
  const inline = { ...trial.asIs, html, takenOut: ['https://quay.test/site.css'] };
  const { visit, result, arms, checks } = await runTrial({ ...trial, treated: inline, visit: 'return' });
  expect(visit).toBe('return');
  expect(result.sentence).toMatch(
    /^On a return visit, Quay treated (paints|shows its first content) [\d,]+ ms later, over 6 pairs/,
  );
  expect(result.paint.differenceMs).toBeGreaterThan(100);
  expect(arms[0].spreads.wireBytes.median).toBeLessThan(10_000);
  expect(arms[1].spreads.wireBytes.median).toBeGreaterThan(400_000);
  // Nobody touches a page that is gone back to.
  expect([checks.returning, checks.afterTouch, checks.missingRequests]).toEqual([null, null, []]);
}, 480_000);

it('waits for what a script that waited for a key asks for then, on a slow phone too', async () => {
  const page = madePage(pageWith('', '', OPENS), { 'late.js': 'console.error("too late for the ferry");' });
  const { conditions: _laptop, treated: _same, ...trial } = heldAgainstItself(page);
  const asks =
    'addEventListener("keydown", function () { setTimeout(function () { var it = document.createElement("script"); it.src = "late.js"; document.head.append(it); }, 60); });';
  const treated = { ...trial.asIs, html: Buffer.from(pageWith('', '', OPENS + asks)) };
  const slow = { ...trial, treated, conditions: findConditions('slow-phone')! };
  const console = await Lab.with({ ...slow, arms: armsOf(slow) }, async (lab) => {
    const { first } = await lab.load(TREATED, { windowMs: null, wantFinalPicture: true });
    return first.observation.console.map(({ text }) => text);
  });
  expect(console).toContain('too late for the ferry');
}, 300_000);

/** A trial found a console error. @param fails what the rule "tide" makes the page do */
function brokenByTide(fails: string, over: Partial<TrialRequest> = {}) {
  const trial = heldAgainstItself(madePage(pageWith('', '', OPENS)));
  const rules = ['quay', 'isle', 'tide', 'font'].map(madeRule);
  const treatedWith = (some: readonly PlanRule[]): TreatedPage => {
    const script = OPENS + (some.some(({ id }) => id === 'tide') ? fails : '');
    return { ...trial.asIs, html: Buffer.from(pageWith('', '', script)) };
  };
  return (conditions: string, breaks: Break[]): Broken => ({
    request: {
      ...trial,
      parts: { rules, treatedWith },
      conditions: findConditions(conditions)!,
      ...over,
    },
    held: { runs: [], possible: [], setting: { windowMs: 1_500, yardstick: null } },
    checks: { ...NOTHING_BESIDES, consoleErrors: { asIs: [], treated: ['no tide'] } },
    result: { breaks },
  });
}

it('looks where it breaks for the rule that does it, though that be the other kind of device alone', async () => {
  const steps: [done: number, of: number][] = [];
  const brokenOn = brokenByTide('if (innerWidth > 1000) console.error("no tide");', {
    onProgress: (_step, done, of) => steps.push([done, of]),
  });
  const there = brokenOn('home-laptop', [{ kind: 'console', words: '1 new console error' }]);
  expect(await findAtFault(brokenOn('slow-phone', []), there)).toEqual([
    { kind: 'console', onOther: true, ruleId: 'tide', goneWithout: true },
  ]);
  // Four rules: the half with it, then it alone of that, then all others.
  expect(steps.map(([done]) => done)).toEqual(steps.map((_step, index) => index));
  expect(steps.every(([done, of]) => of === 5 && done < of)).toBe(true);
}, 300_000);

it('looks on return visits for the rule that breaks those alone', async () => {
  const fails = 'if (localStorage.seen) console.error("no tide"); localStorage.seen = "yes";';
  const brokenOn = brokenByTide(fails, { visit: 'return' });
  const here = brokenOn('home-laptop', [{ kind: 'console', words: '1 new console error' }]);
  expect(await findAtFault(here, null)).toEqual([
    { kind: 'console', onOther: false, ruleId: 'tide', goneWithout: true },
  ]);
}, 300_000);

it('tells of a page that is earlier where it shows something else first, and answers a tap later, and by which rules', async () => {
  const page = madePage(pageWith('<script src="large.js"></script>', '', OPENS), {
    'large.js': LARGE,
    'busy.js':
      'function busy() { for (var end = performance.now() + 150; performance.now() < end; ); } function dressed() { document.body.className = ""; } document.querySelector("button").addEventListener("click", busy);',
  });
  const scene = sceneOf(readPageAssets(page, []), null);
  const asIs = applyPlan(scene, { wistrelPlan: 1, page: page.url, rules: [] });
  // Its words stand elsewhere first, by one rule, and its button needs a moment, and by another rule another.
  const rules = ['dress', 'menu'].map(madeRule);
  const treatedWith = (some: readonly PlanRule[]): TreatedPage => {
    const has = (rule: string) => some.some(({ id }) => id === rule);
    const dress = has('dress') ? 'setTimeout(function () { dressed(); }, 900);' : '';
    const html = pageWith(
      '<script src="busy.js" defer></script><script src="large.js" defer></script>',
      has('dress') ? 'bare' : '',
      dress +
        (has('menu')
          ? 'menu.addEventListener("click", function () { setTimeout(function () { nav.className = "open"; }, 500); });'
          : OPENS),
    );
    return { ...asIs, html: Buffer.from(html) };
  };
  const ideal = idealPage(scene.page.captured, '');
  const trial = await runTrial({
    ...heldAgainstItself(page),
    treated: treatedWith(rules),
    parts: { rules, treatedWith },
    taps: true,
    beside: [{ id: IDEAL, page: { html: ideal, files: [], notApplied: [] } }],
  });
  const { result, checks, moreArms, arms } = trial;
  expect(result.paint.verdict).toBe('earlier');
  expect(result.breaks.map(({ kind }) => kind)).toEqual(['first-picture', 'late-answers']);
  expect(isProved(trial)).toBe(false);
  expect(checks.atFault).toEqual([
    { kind: 'first-picture', onOther: false, ruleId: 'dress', goneWithout: true },
    { kind: 'late-answers', onOther: false, ruleId: 'menu', goneWithout: true },
  ]);
  expect(checks.firstPicture!.asIs).toBeLessThan(0.05);
  const [menu] = checks.taps;
  expect(menu!.words).toBe('“Menu” (button) tapped');
  expect(Math.max(...menu!.asIs.map(({ answeredMs }) => answeredMs!))).toBeLessThan(100);
  expect(Math.min(...menu!.treated.map(({ answeredMs }) => answeredMs!))).toBeGreaterThan(500);
  expect(menu!.treated).toHaveLength(3);
  expect(result.notes.join()).toMatch(
    /What answers a tap takes longer: “Menu” .+ held up by https:\/\/quay\.test\/busy\.js/,
  );
  expect(moreArms!.compared.map(({ one, other }) => [one, other])).toEqual([
    [AS_IS, IDEAL],
    [TREATED, IDEAL],
  ]);
  const paint = (spreads: (typeof arms)[0]['spreads']) => spreads[moreArms!.headline].median!;
  expect(paint(moreArms!.beside[0]!.spreads)).toBeLessThan(paint(arms[0].spreads));
}, 480_000);
