import { expect, it } from 'vitest';
import { readPageAssets } from '../../src/core/page/page-assets.ts';
import { activeRules, matchText, type Plan, type PlanRule } from '../../src/core/treat/plan.ts';
import { sceneOf } from '../../src/core/treat/scene.ts';
import type { Rehearsal } from '../../src/core/rehearse/rehearsal.ts';
import { rehearse } from '../../src/engine/rehearse/rehearse.ts';
import { madePage } from '../engine/made-capture.ts';

const rule = (name: string, treatment: string): PlanRule => ({
  id: name,
  on: true,
  kind: 'script',
  match: { url: new URL(name, 'https://quay.test/').href },
  scope: 'page',
  treatment,
  reason: '',
  risk: 'low',
});

function rehearsed(html: string, files: Record<string, string>, rules: PlanRule[]): Promise<Rehearsal> {
  const page = madePage(html, files);
  const { capture } = page;
  const bodies = new Map(capture.exchanges.map((one) => [one.bodyHash!, page.body(one.url)!] as const));
  const scene = sceneOf(readPageAssets(page, []), null);
  const plan: Plan = { wistrelPlan: 1, page: page.url, rules };
  return rehearse({ capture, bodies, state: null, scene, plan });
}

const treatments = ({ plan }: Rehearsal) =>
  Object.fromEntries(plan.rules.map((one) => [matchText(one.match).split('/').at(-1), one.treatment]));

it('excepts what reading does not see, with what it showed, and keeps the rest', async () => {
  // Which element is meant is hidden in a function of the platform: reading finds no tie to what stands after it.
  const found = await rehearsed(
    '<!DOCTYPE html><title>Quay</title><script src="own.js"></script><div id="hold"></div><script src="count.js"></script><p class="card">1</p>',
    {
      'own.js': 'window.own = "alone";',
      'count.js':
        'var it = document.createTreeWalker(document.body, 1), n = 0; while (it.nextNode()) n++; document.getElementById("hold").textContent = "before it: " + n;',
    },
    [rule('own.js', 'defer'), rule('count.js', 'defer')],
  );
  expect(treatments(found)).toEqual({ 'own.js': 'defer', 'count.js': 'as-authored' });
  expect(found.exceptions).toEqual([
    {
      ruleId: 'count.js',
      treatment: 'defer',
      becomes: 'as-authored',
      evidence: 'As treated, the page lacks div#hold “before it: 2” (id=hold) (on a phone, as recorded).',
    },
  ]);
  expect(found.plan.rules[1]!.reason).toContain('Rehearsed as “defer”: As treated, the page lacks div#hold');
  expect(found.left).toEqual([]);
});

it('does not miss what a plan takes out of the page, nor what that brought', async () => {
  const found = await rehearsed(
    '<!DOCTYPE html><title>Quay</title><link rel="stylesheet" href="small.css"><script src="own.js"></script><p>1</p>',
    { 'small.css': 'p { color: teal }', 'own.js': 'window.own = "alone";' },
    [{ ...rule('small.css', 'inline'), kind: 'stylesheet' }, rule('own.js', 'inline')],
  );
  expect(found.exceptions).toEqual([]);
  expect(treatments(found)).toEqual({ 'small.css': 'inline', 'own.js': 'inline' });
});

it('finds what only shows when something comes late', async () => {
  // As authored the listener always finds the library; asynchronously it does where that comes first.
  const found = await rehearsed(
    '<!DOCTYPE html><title>Quay</title><div id="hold"></div><script src="lib.js"></script><script>document.addEventListener("DOMContentLoaded", function () { setTimeout(function () { document.getElementById("hold").textContent = Reflect.get(window, "tide") ? "there" : "missing"; }, 70); });</script>',
    { 'lib.js': 'Reflect.set(window, "tide", 1);' },
    [rule('lib.js', 'async')],
  );
  expect(activeRules(found.plan)).toEqual([]);
  expect(found.exceptions[0]?.evidence ?? '').toMatch(
    /lacks div#hold “there”.*(lib\.js held until|reversed)/,
  );
});

it('holds a delayed script to what it has done after the first touch', async () => {
  const html =
    '<!DOCTYPE html><title>Quay</title><p>Quay</p><div style="height:3000px"></div><ul class="stops"></ul><script src="https://count.test/c.js"></script>';
  const good = await rehearsed(
    html,
    {
      'https://count.test/c.js':
        'window.visits = 1; document.querySelector(".stops").innerHTML = "<li>Orrask</li>";',
    },
    [rule('https://count.test/c.js', 'delay')],
  );
  expect(good.exceptions).toEqual([]);
  expect(treatments(good)).toEqual({ 'c.js': 'delay' });

  const painting = await rehearsed(
    html,
    { 'https://count.test/c.js': 'document.querySelector("p").style.background = "black";' },
    [rule('https://count.test/c.js', 'delay')],
  );
  // Less than waiting for a touch is still possible.
  expect(treatments(painting)).toEqual({ 'c.js': 'after-paint' });
  expect(painting.exceptions[0]!.evidence).toContain('looks different above the fold before any input');
});

it('holds the first tap to what it does as authored', async () => {
  const html =
    '<!DOCTYPE html><title>Quay</title><a href="/elsewhere">Away</a><button class="menu" style="width:90px;height:40px">Menu</button><ul hidden><li>Orrask</li></ul><script src="https://count.test/menu.js"></script>';
  const menu =
    'document.addEventListener("pointerup", function (event) { if (event.target.className === "menu") Reflect.set(document.querySelector("ul"), "hidden", false); });';
  const found = await rehearsed(html, { 'https://count.test/menu.js': menu }, [
    rule('https://count.test/menu.js', 'delay'),
  ]);
  expect(treatments(found)).toEqual({ 'menu.js': 'after-paint' });
  expect(found.exceptions[0]!.evidence).toMatch(
    /^As treated, the page (lacks|has|shows|lays out).*\(on a phone, button\.menu tapped first\)\.$/,
  );
});
