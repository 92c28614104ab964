import { afterAll, beforeAll, expect, it, vi } from 'vitest';
import type { Observations } from '../../src/core/measure/exchange.ts';
import type { RequestTiming } from '../../src/core/measure/run.ts';
import { readPageAssets } from '../../src/core/page/page-assets.ts';
import { activeRules, matchText, type Plan, type PlanRule } from '../../src/core/treat/plan.ts';
import { recommendPlan } from '../../src/core/treat/recommend.ts';
import { sceneOf } from '../../src/core/treat/scene.ts';
import { askingAhead } from '../../src/core/next/ahead.ts';
import { nextPages } from '../../src/core/next/next-assets.ts';
import type { EvidencePictures, FoundSoFar, Rehearsal } from '../../src/core/rehearse/rehearsal.ts';
import { comparePictures } from '../../src/engine/fold/pictures.ts';
import { applyPlan } from '../../src/core/treat/apply.ts';
import { Beside } from '../../src/engine/rehearse/beside.ts';
import {
  deedSettings,
  DEVICES,
  orderSettings,
  PHONE,
  TABLET,
  type Device,
} from '../../src/engine/rehearse/settings.ts';
import { StagePool } from '../../src/engine/rehearse/stage-pool.ts';
import { overridesOf } from '../../src/engine/replay/overrides.ts';
import { readOwnChecks } from '../../src/core/checks/own-check.ts';
import { rehearseOn } from '../../src/engine/rehearse/rehearse.ts';
import { madeImage, madePage } from '../engine/made-capture.ts';
import { inPage, madeRequest } from '../engine/made-requests.ts';

// Most of a rehearsal is waiting: some go on at a time, on the stages of one, and each takes as much longer.
vi.setConfig({ testTimeout: 600_000 });

let pool: StagePool;
beforeAll(async () => {
  pool = await StagePool.open();
});
afterAll(() => pool.close());

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

/** A page as a stage is given it, and as plans are applied to it. */
function staged(
  html: string,
  files: Parameters<typeof madePage>[1],
  observations?: Partial<Observations>,
  requests: readonly RequestTiming[] = [],
) {
  const page = madePage(html, files, { observations });
  const { capture, url } = page;
  const bodies = new Map(capture.exchanges.map((one) => [one.bodyHash!, page.body(one.url)!] as const));
  const scene = sceneOf(readPageAssets(page, requests), null);
  const planOf = (rules: PlanRule[]): Plan => ({ wistrelPlan: 1, page: url, rules });
  /** The page with rules carried out, whatever reading says of them. */
  const armOf = (rules: PlanRule[]) => ({
    overrides: overridesOf(capture.documentUrl, applyPlan(scene, planOf(rules))),
    takesOut: [],
  });
  return { stage: { capture, bodies, state: null }, scene, planOf, armOf };
}

/** For what shows in whatever order things come: in that alone in which they were recorded. */
const inOneOrder = (device: Device): Device => ({ ...device, orders: 'recorded' });
const ONE_ORDER = [inOneOrder(PHONE)];

function rehearsed(
  html: string,
  files: Parameters<typeof madePage>[1],
  rules: PlanRule[],
  checks = '',
  observations?: Partial<Observations>,
  devices: readonly Device[] = ONE_ORDER,
  requests: readonly RequestTiming[] = [],
): Promise<Rehearsal> {
  const { stage, scene, planOf } = staged(html, files, observations, requests);
  const own = readOwnChecks(checks);
  return rehearseOn(pool, { ...stage, scene, plan: planOf(rules), checks: own, devices });
}

/** The first of two images is on the first screen. */
const SEEN: Partial<Observations> = {
  imagesBelow: ['https://quay.test/isle.png'],
  embedsBelow: ['https://quay.test/chart.html'],
  boxes: [
    {
      element: 'img',
      tag: 'img',
      url: 'https://quay.test/ferry.png',
      box: { x: 0, y: 0, width: 400, height: 225 },
      natural: { width: 800, height: 450 },
    },
  ],
};

const treatments = ({ plan }: Rehearsal) =>
  Object.fromEntries(plan.rules.map((one) => [matchText(one.match).split('/').at(-1), one.treatment]));

it.concurrent(
  'shows what it excepts: the page as authored, with the rule, and where they differ',
  async () => {
    const { stage, scene, planOf } = staged(
      '<!DOCTYPE html><title>Quay</title><script src="own.js"></script><div id="hold"></div><script src="count.js"></script><p>Tide</p>',
      {
        'own.js': 'window.own = "alone";',
        'count.js':
          'var it = document.createTreeWalker(document.body, 1), n = 0; while (it.nextNode()) n++; if (n > 2) document.getElementById("hold").textContent = "Too late for the ferry";',
      },
    );
    const shown: EvidencePictures[] = [];
    const plan = planOf([rule('own.js', 'defer'), rule('count.js', 'defer')]);
    const told: FoundSoFar[] = [];
    const again = (before?: FoundSoFar) =>
      rehearseOn(pool, {
        ...stage,
        scene,
        plan,
        checks: [],
        devices: ONE_ORDER,
        ...(before ? { before } : {}),
        onFound: (found) => told.push(found),
        onEvidence: (pictures) => shown.push(pictures),
      });
    const whole = await again();
    // Broken off, it goes on from what it had found, and shows that once more.
    expect(told).toEqual([{ plan: whole.plan, exceptions: whole.exceptions }]);
    const { plan: left, exceptions } = await again(told[0]);
    expect([left, exceptions]).toEqual([whole.plan, whole.exceptions]);
    expect(told).toHaveLength(1);
    expect(shown.map(({ ruleId }) => ruleId)).toEqual(['count.js', 'count.js']);
    const [only, ...more] = shown.slice(1);
    expect([only!.ruleId, more]).toEqual(['count.js', []]);
    const { share } = await comparePictures(only!.authored, only!.treated);
    expect(share).toBeGreaterThan(0);
    expect((await comparePictures(only!.treated, only!.difference)).share).toBeGreaterThan(0);
  },
);

it.concurrent('tells what comes later in the document than as authored, which is no fault', async () => {
  const found = await rehearsed(
    '<!DOCTYPE html><title>Quay</title><p>Tide</p><script src="board.js"></script>',
    {
      'board.js':
        'var it = document.createElement("h2"); it.textContent = "Ferries"; document.querySelector("p").after(it);',
    },
    [rule('board.js', 'at-rest')],
  );
  expect(treatments(found)).toEqual({ 'board.js': 'at-rest' });
  expect(found.later).toEqual([
    'Later with the plan: h2 “Ferries”. As authored, that is there once the page has loaded.',
  ]);
});

it.concurrent('excepts what reading does not see, with what it showed, and keeps the rest', async () => {
  // Which element is meant is hidden in a function of the platform: reading finds no tie to what stands after it.
  const found = await rehearsed(
    '<!DOCTYPE html><title>Quay</title><script src="own.js"></script><div id="hold"></div><script src="count.js"></script><p class="card">1</p>',
    {
      'own.js': 'window.own = "alone";',
      'count.js':
        'var it = document.createTreeWalker(document.body, 1), n = 0; while (it.nextNode()) n++; document.getElementById("hold").textContent = "before it: " + n;',
    },
    [rule('own.js', 'defer'), rule('count.js', 'defer')],
    '',
    {},
    [PHONE],
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

it.concurrent(
  'lets an early tap be answered that the page as authored loses, and no tap be answered twice',
  async () => {
    // The link leads down the page until the script answers it; as authored what is tapped before that does only so much.
    const tabs = (script: string) =>
      rehearsed(
        `<!DOCTYPE html><title>Quay</title><meta name="viewport" content="width=device-width">
      <a role="tab" href="#two" style="display:block;margin:90px 0 1500px">Two</a><p id="two" hidden>The tide turns at noon</p><p id="end">End</p>
      <script src="tabs.js"></script>`,
        { 'tabs.js': script },
        [rule('tabs.js', 'defer')],
      );
    const link = 'var tab = document.querySelector("a"), two = document.getElementById("two");';
    const [answered, twice] = await Promise.all([
      tabs(
        `${link} tab.addEventListener("click", function (e) { e.preventDefault(); two.hidden = false; tab.className = "chosen"; });`,
      ),
      // Whoever defers it has to see that it answers a tap that came before, and then the kept click as well.
      tabs(
        `${link} window.early = window.early || 0; function turn(e) { if (e) e.preventDefault(); two.hidden = !two.hidden; } if (location.hash) turn(); tab.addEventListener("click", turn);`,
      ),
    ]);
    expect(answered.exceptions).toEqual([]);
    expect(answered.deeds.map(({ words }) => words).join()).toContain(
      '“Two” (a) tapped before scripts are there',
    );
    expect(twice.exceptions.map(({ ruleId }) => ruleId)).toEqual(['tabs.js']);
  },
);

it.concurrent('lets no key be lost that comes before the scripts are there', async () => {
  const tabs = (event: string) =>
    rehearsed(
      `<!DOCTYPE html><title>Quay</title><meta name="viewport" content="width=device-width"><script src="menu.js"></script>
      <div role="tab" tabindex="0" style="padding:40px">Tides</div><p id="two" hidden>The tide turns at noon</p>`,
      {
        'menu.js': `document.addEventListener("${event}", function (e) { if (e.target.tabIndex === 0) document.getElementById("two").hidden = false; });`,
      },
      [rule('menu.js', 'defer')],
    );
  // A click that comes too early is kept; a key that is listened to by itself is not.
  const [byKey, byClick] = await Promise.all([tabs('keydown'), tabs('click')]);
  expect(byKey.exceptions).toMatchObject([
    { ruleId: 'menu.js', evidence: expect.stringContaining('Enter pressed on') as string },
  ]);
  expect(byClick.exceptions).toEqual([]);
  expect(byClick.deeds.map(({ words }) => words).join()).toContain('tapped before scripts are there');
});

it.concurrent(
  'lets nobody’s typing be wiped by a script that comes later, though nobody hears it yet',
  async () => {
    const field = (script: string) =>
      rehearsed(
        `<!DOCTYPE html><title>Quay</title><meta name="viewport" content="width=device-width"><script src="form.js"></script>
      <label>From <input id="from"></label><ul id="harbours"></ul>`,
        {
          'form.js': `document.addEventListener("DOMContentLoaded", function () { var from = document.getElementById("from"); ${script} });`,
        },
        [rule('form.js', 'defer')],
      );
    const [wipes, suggests] = await Promise.all([
      field('from.value = "";'),
      field(
        'from.addEventListener("input", function () { document.getElementById("harbours").innerHTML = "<li>Abermouth"; });',
      ),
    ]);
    expect(wipes.exceptions).toMatchObject([
      {
        ruleId: 'form.js',
        evidence: expect.stringContaining('no longer holds “ab” in input#from') as string,
      },
    ]);
    expect(suggests.exceptions).toEqual([]);
    expect(suggests.deeds.map(({ words }) => words).join()).toContain(
      'something typed into “From” (input#from) before scripts are there',
    );
  },
);

it.concurrent('lets a script wait until it is scrolled near, unless it answers what is in view', async () => {
  // How the button is found is hidden in a function of the platform: reading takes the script to work with the map only.
  const map = 'var map = document.querySelector("#map"); map.textContent = "Drawn";';
  const walk =
    'var it = document.createTreeWalker(map.getRootNode(), 1), b; do b = it.nextNode(); while (b.localName !== "button");';
  const page = (script: string) =>
    rehearsed(
      `<!DOCTYPE html><title>Quay</title><meta name="viewport" content="width=device-width"><button>Tides</button>
      <div style="height:3000px"></div><p id="map">Map</p><script src="map.js"></script>`,
      { 'map.js': script },
      [rule('map.js', 'near-view')],
    );
  const [there, also] = await Promise.all([
    page(map),
    page(`${map} ${walk} b.addEventListener("click", function () { b.textContent = "Noon"; });`),
  ]);
  expect([treatments(there), there.exceptions]).toEqual([{ 'map.js': 'near-view' }, []]);
  expect(there.deeds.map(({ words }) => words).join()).toContain('scrolled through');
  expect(also.exceptions.map(({ ruleId }) => ruleId)).toEqual(['map.js']);
});

it.concurrent('does not miss what a plan takes out of the page, nor what that brought', async () => {
  const found = await rehearsed(
    '<!DOCTYPE html><title>Quay</title><link rel="stylesheet" href="small.css"><script src="own.js"></script><p>1</p>',
    { 'small.css': 'p { color: teal }', 'own.js': 'window.own = "alone";' },
    [{ ...rule('small.css', 'inline'), kind: 'stylesheet' }, rule('own.js', 'inline')],
    '',
    {},
    [PHONE],
  );
  expect(found.exceptions).toEqual([]);
  expect(treatments(found)).toEqual({ 'small.css': 'inline', 'own.js': 'inline' });
});

it.concurrent('keeps what is asked for ahead of next pages: the page itself stays what it is', async () => {
  const home = madePage(
    '<!DOCTYPE html><title>Quay</title><body><script src="own.js"></script><a href="/times">Times</a></body>',
    { 'own.js': 'window.own = document.links.length;' },
  );
  const times = madePage(
    '<link rel="stylesheet" href="/times.css"><p>Times</p>',
    {
      '/times.css': {
        body: 'p { color: teal }',
        type: 'text/css',
        kind: 'stylesheet',
        headers: [['cache-control', 'max-age=900']],
      },
    },
    { url: 'https://quay.test/times' },
  );
  const next = nextPages(home, [{ name: 'Times', page: times, signedIn: false }]);
  const scene = sceneOf(readPageAssets(home, []), null, next.assets);
  const plan = askingAhead(recommendPlan(scene));
  const found = await rehearseOn(pool, {
    capture: home.capture,
    bodies: new Map(home.capture.exchanges.map((one) => [one.bodyHash!, home.body(one.url)!] as const)),
    state: null,
    scene,
    plan,
    checks: [],
    answers: next.answers,
    devices: [PHONE],
  });
  expect(found.exceptions).toEqual([]);
  expect(treatments(found)).toMatchObject({ times: 'prefetch', 'times.css': 'prefetch' });
  expect(activeRules(found.plan).filter((one) => one.kind === 'next')).toHaveLength(2);
});

it.concurrent('finds what only shows when something comes late', async () => {
  // As authored the listener always finds the library; asynchronously it does where that comes first.
  const found = await rehearsed(
    '<!DOCTYPE html><title>Quay</title><div id="hold"></div><script src="lib.js"></script><script>document.addEventListener("DOMContentLoaded", function () { setTimeout(function () { document.getElementById("hold").textContent = Reflect.get(window, "tide") ? "there" : "missing"; }, 70); });</script>',
    { 'lib.js': 'Reflect.set(window, "tide", 1);' },
    [rule('lib.js', 'async')],
    '',
    {},
    [PHONE],
  );
  expect(activeRules(found.plan)).toEqual([]);
  // Where the machine is busy it comes late in other orders too.
  expect(found.exceptions[0]?.evidence ?? '').toContain('lacks div#hold “there”');
});

it.concurrent('finds what only shows when half of the page is not there yet', async () => {
  // Deferred it finds all; which elements it counts is hidden in a function of the platform.
  const found = await rehearsed(
    '<!DOCTYPE html><title>Quay</title><script defer src="count.js"></script><div id="hold"></div><p>1</p><p>2</p><p>3</p><p>4</p>',
    {
      'count.js':
        'var it = document.createTreeWalker(document.body, 1), n = 0; while (it.nextNode()) n += it.currentNode.localName === "p"; document.getElementById("hold").textContent = n + " piers";',
    },
    [rule('count.js', 'async')],
    '',
    {},
    [PHONE],
  );
  expect(treatments(found)).toEqual({ 'count.js': 'as-authored' });
  expect(found.exceptions[0]!.evidence).toContain('lacks div#hold “4 piers”');
  expect(found.exceptions[0]!.evidence).toContain('(on a phone, the second half of the page last)');
});

it.concurrent(
  'holds images and embeds to where they stand and what they show, however they are asked for',
  async () => {
    const image = await madeImage(800, 450);
    const images = (css: string) =>
      `<!DOCTYPE html><title>Quay</title><style>${css}</style><h1>Quay</h1><img src="ferry.png"><p>Below</p><div style="height:6000px"></div><img src="isle.png"><iframe src="chart.html"></iframe>`;
    const chart = {
      body: '<p>Chart<script src="chart.js"></script>',
      type: 'text/html',
      kind: 'document',
    } as const;
    const files = {
      'ferry.png': image,
      'isle.png': image,
      'chart.html': chart,
      'chart.js': 'document.body.append("of the route");',
    };
    // What the embed brings is missed no more than itself.
    const requests = [
      madeRequest('https://quay.test/chart.html', inPage('https://quay.test/')),
      madeRequest('https://quay.test/chart.js', inPage('https://quay.test/chart.html')),
    ];
    const room = (name: string, treatment: string): PlanRule => ({ ...rule(name, treatment), kind: 'image' });
    const rules = [
      room('ferry.png', 'early-with-room'),
      room('isle.png', 'late-with-room'),
      { ...rule('chart.html', 'late'), kind: 'embed' as const },
    ];
    // Nothing of the page's own gives back the height of what is narrowed: ours does.
    const good = await rehearsed(
      images('img { max-width: 100% }'),
      files,
      rules,
      '',
      SEEN,
      [PHONE],
      requests,
    );
    expect(good.exceptions).toEqual([]);
    expect(treatments(good)).toEqual({
      'ferry.png': 'early-with-room',
      'isle.png': 'late-with-room',
      'chart.html': 'late',
    });

    // A width in the markup is one that a column does not stretch any more.
    const column = 'body { display: flex; flex-direction: column } img { flex: none }';
    const bad = await rehearsed(images(column), files, rules, '', SEEN, ONE_ORDER, requests);
    expect(treatments(bad)).toEqual({
      'ferry.png': 'early',
      'isle.png': 'as-authored',
      'chart.html': 'late',
    });
    expect(bad.exceptions[0]!.evidence).toMatch(/shows img .*at another place, or in another size/);
  },
);

it.concurrent('presses what stands in for an embed, and holds what is shown then to the embed', async () => {
  const html = (attributes: string) =>
    `<!DOCTYPE html><title>Quay</title><h1>Quay</h1><div style="height:1000px"></div><button aria-expanded="false" onclick="this.ariaExpanded = true">Piers</button><iframe ${attributes}src="chart.html" title="Chart" width="300" height="200"></iframe>`;
  const [page, chart] = ['https://quay.test/', 'https://quay.test/chart.html'];
  const requests = [
    madeRequest(chart, inPage(page)),
    madeRequest('https://quay.test/chart.js', inPage(chart)),
  ];
  const pressed = (
    script: string,
    attributes = '',
    measured: readonly RequestTiming[] = requests,
    devices = ONE_ORDER,
  ) =>
    rehearsed(
      html(attributes),
      {
        'chart.html': {
          body: '<body style="background:#123"><script src="chart.js"></script>',
          type: 'text/html',
          kind: 'document',
        },
        'chart.js': script,
      },
      [{ ...rule('chart.html', 'on-press'), kind: 'embed' }],
      '',
      { embedsBelow: [chart] },
      devices,
      measured,
    );
  const good = await pressed('document.body.append("of the route");', '', requests, [PHONE]);
  expect(good.exceptions).toEqual([]);
  expect(treatments(good)).toEqual({ 'chart.html': 'on-press' });
  // A tap beside it brings it on screen.
  expect(good.deeds.map(({ words }) => words).join()).toContain('“Piers” (button) tapped');

  // What a lazy one asks for was not seen in the measured run: it is asked for all the same.
  const lazy = await pressed('document.body.append("of the route");', 'loading="lazy" ', []);
  expect(lazy.exceptions).toEqual([]);

  // It is another one where it did not come by itself.
  const bad = await pressed('if (frameElement.srcdoc) document.body.style.background = "#fff";');
  expect(treatments(bad)).toEqual({ 'chart.html': 'late' });
  expect(bad.exceptions[0]!.evidence).toContain('looks different');
});

it.concurrent(
  'excepts the one image at fault, and all that are laid out alike only where more than one is',
  async () => {
    const image = await madeImage(800, 450);
    const files = { 'isle.png': image, 'reef.png': image, 'buoy.png': image };
    const names = Object.keys(files);
    const rules = names.map((name): PlanRule => ({ ...rule(name, 'late-with-room'), kind: 'image' }));
    const below = { imagesBelow: names.map((name) => `https://quay.test/${name}`) };
    // A width in the markup is one that a column does not stretch any more.
    const css =
      'img { max-width: 100% } .column { display: flex; flex-direction: column } .column img { flex: none }';
    const page = (inColumns: readonly string[]) =>
      `<!DOCTYPE html><title>Quay</title><style>${css}</style><h1>Quay</h1><div style="height:6000px"></div>${names
        .map(
          (name) =>
            `<div ${inColumns.includes(name) ? 'class="column"' : ''}><img src="${name}"></div><p>Below</p>`,
        )
        .join('')}`;
    const one = await rehearsed(page(['reef.png']), files, rules, '', below);
    expect(treatments(one)).toEqual({
      'isle.png': 'late-with-room',
      'reef.png': 'as-authored',
      'buoy.png': 'late-with-room',
    });
    expect(one.exceptions.map(({ evidence }) => evidence).join()).not.toContain('Along with');

    const two = await rehearsed(page(['isle.png', 'reef.png']), files, rules, '', below);
    expect(new Set(Object.values(treatments(two)))).toEqual(new Set(['as-authored']));
    expect(two.exceptions.map(({ evidence }) => evidence)).toContainEqual(
      expect.stringMatching(/^Along with \w+\.png, which is alike\. As treated, the page shows /),
    );
  },
);

it.concurrent('holds a delayed script to what it has done after the first touch', async () => {
  const html =
    '<!DOCTYPE html><title>Quay</title><p>Quay</p><div style="height:3000px"></div><ul class="stops"></ul><script src="https://count.test/c.js"></script>';
  const good = await rehearsed(
    html,
    {
      'https://count.test/c.js':
        'window.visits = 1; document.querySelector(".stops").innerHTML = "<li>Orrask</li>";',
    },
    [rule('https://count.test/c.js', 'delay')],
    '',
    {},
    [PHONE],
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

it.concurrent('holds the first tap to what it does as authored', async () => {
  const html =
    '<!DOCTYPE html><title>Quay</title><a href="/elsewhere">Away</a><button class="menu" style="width:90px;height:40px">Menu</button><ul hidden><li>Orrask</li></ul><script src="https://count.test/menu.js"></script>';
  const menu =
    'document.addEventListener("pointerup", function (event) { if (event.target.className === "menu") Reflect.set(document.querySelector("ul"), "hidden", false); });';
  const found = await rehearsed(html, { 'https://count.test/menu.js': menu }, [
    rule('https://count.test/menu.js', 'delay'),
  ]);
  expect(treatments(found)).toEqual({ 'menu.js': 'after-paint' });
  expect(found.exceptions[0]!.evidence).toMatch(
    /^As treated, the page (lacks|has|shows|lays out).*\(on a phone, “Menu” \(button\.menu\) tapped\)\.$/,
  );
});

/** A menu whose script holds the parser in the head: as authored nobody sees the button before it answers. */
const earlyMenu = (listens: string) =>
  rehearsed(
    '<!DOCTYPE html><title>Quay</title><script src="menu.js"></script><button class="menu" style="width:90px;height:40px">Menu</button><ul hidden><li>Orrask</li></ul>',
    {
      'menu.js': `addEventListener("DOMContentLoaded", function () { ${listens} });
        function toggle() { document.querySelector("ul").toggleAttribute("hidden"); }`,
    },
    [rule('menu.js', 'defer')],
  );
const BEFORE = '“Menu” (button.menu) tapped before scripts are there';

it.concurrent(
  'taps what is there before scripts are: what they find no answer to is clicked again once there is one',
  async () => {
    const found = await earlyMenu('document.querySelector("button").addEventListener("click", toggle);');
    expect(found.exceptions).toEqual([]);
    expect(treatments(found)).toEqual({ 'menu.js': 'defer' });
    expect(found.deeds.find((one) => one.words === `on a phone, ${BEFORE}`)).toMatchObject({
      effect: expect.stringContaining('ul changes'),
      undecided: null,
    });
  },
);

it.concurrent('looks at a tablet too: a layout between may be the only one that a rule breaks', async () => {
  const found = await rehearsed(
    '<!DOCTYPE html><meta name="viewport" content="width=device-width"><title>Quay</title><div id="hold"></div><script src="count.js"></script><p>Tide</p>',
    {
      'count.js':
        'var it = document.createTreeWalker(document.body, 1), n = 0; while (it.nextNode()) n++; if (innerWidth > 700 && innerWidth < 1000 && n > 2) document.getElementById("hold").textContent = "Too late for the ferry";',
    },
    [rule('count.js', 'defer')],
    '',
    {},
    [...ONE_ORDER, TABLET],
  );
  expect(treatments(found)).toEqual({ 'count.js': 'as-authored' });
  expect(found.exceptions[0]!.evidence).toMatch(
    /lacks div#hold .*\(on a tablet, (as recorded|scrolled through)\)\.$/,
  );
});

it.concurrent('excepts a rule by which the first tap is lost', async () => {
  // Not a click is what is listened to: that is not done again.
  const lost = await earlyMenu('document.querySelector("button").addEventListener("pointerup", toggle);');
  expect(treatments(lost)).toEqual({ 'menu.js': 'as-authored' });
  expect(lost.exceptions[0]!.evidence).toContain(BEFORE);
});

it.concurrent('does what a visitor would: what is heard in another order shows only then', async () => {
  // At rest the page is the same with the first script deferred.
  const { stage, armOf } = staged(
    '<!DOCTYPE html><title>Quay</title><script src="first.js"></script><script src="second.js"></script><button class="menu">Menu</button><form class="book"><input class="pier" placeholder="Pier"></form><p class="said"></p><div style="height:3000px"></div>',
    {
      'first.js': `for (const name of ["click", "submit", "change", "scroll"]) addEventListener(name, function () { document.querySelector(".said").textContent += name; }, true);`,
      'second.js': `for (const name of ["click", "submit", "change", "scroll"]) addEventListener(name, function (event) { event.stopImmediatePropagation(); }, true);`,
    },
  );
  const [atRest] = orderSettings(stage, [], false);
  const beside = new Beside(stage, pool, armOf([]), [atRest!]);
  beside.begin([atRest!]);
  const deeds = await deedSettings(pool, stage, armOf([]), [PHONE]);
  const found = await Promise.all(
    [atRest!, ...deeds].map(async (setting) => {
      const [first] = await beside.differences(armOf([rule('first.js', 'defer')]), setting);
      return [setting.words, first?.words ?? null] as const;
    }),
  );
  const lacks = (what: string): unknown => expect.stringContaining(`lacks p.said “${what}`);
  expect(Object.fromEntries(found)).toEqual({
    'on a phone, as recorded': null,
    'on a phone, scrolled through': lacks('scroll'),
    'on a phone, “Menu” (button.menu) tapped': lacks('click'),
    'on a phone, form.book about to be sent': lacks('submit'),
    'on a phone, something typed into “Pier” (input.pier)': lacks('change'),
    'on a phone, Enter pressed on “Menu” (button.menu)': lacks('click'),
  });
});

it.concurrent('says what was done, what it came to, and what is undecided', async () => {
  const found = await rehearsed(
    '<!DOCTYPE html><title>Quay</title><script src="own.js"></script><button class="menu" aria-expanded="false">Menu</button><button class="more">More</button><script src="page.js"></script>',
    {
      'own.js':
        'addEventListener("DOMContentLoaded", function () { document.body.insertAdjacentHTML("beforeend", "<button class=late aria-expanded=false>Late</button>"); });',
      'page.js':
        'document.querySelector(".menu").onclick = function () { this.setAttribute("aria-expanded", "true"); }; document.querySelector(".more").onclick = function () { fetch("/more.json"); };',
    },
    [rule('own.js', 'defer')],
    '',
    {},
    DEVICES.map(inOneOrder),
  );
  expect(found.exceptions).toEqual([]);
  const told = Object.fromEntries(
    found.deeds.map(({ words, effect, undecided }) => [words, [effect, undecided]]),
  );
  expect(told['on a phone, “Menu” (button.menu) tapped']).toEqual([
    'button.menu changes; it has the focus on button.menu',
    null,
  ]);
  expect(told['on a laptop, “More” (button.more) tapped']![1]).toBe(
    'it asks for https://quay.test/more.json, to which the capture holds no answer',
  );
  expect(told['on a phone, scrolled through']![1]).toBeNull();
  // What is not there before scripts are cannot be tapped then, and nobody says that it was.
  const late = found.deeds.filter((one) => one.words.includes('button.late'));
  expect(late.map((one) => one.words)).toContain('on a phone, “Late” (button.late) tapped');
  expect(late.filter((one) => one.words.includes('before scripts are there'))).toEqual([]);
  expect(told[`on a phone, ${BEFORE}`]).toBeDefined();
});

it.concurrent(
  'does not hold the turn of a slide show against a rule, whatever slide is shown when it is looked at',
  async () => {
    const slides = Array.from(
      { length: 14 },
      (_, at) => `<div class="slide" style="background: hsl(${at * 25} 50% 50%)"><b>Isle ${at}</b></div>`,
    );
    const found = await rehearsed(
      `<!DOCTYPE html><title>Quay</title><style>.slide { display: none; height: 120px } .on { display: block } .dots .on { background: teal }</style>
${slides.join('\n')}
<ul class="dots">${slides.map((_, at) => `<li data-to="${at}">${at}`).join('')}</ul><form><input name="harbour" required><button>Ask</button></form>
<script src="own.js"></script><script src="show.js"></script>`,
      {
        'own.js': 'window.own = "alone";',
        // It begins anywhere: at no two looks the same slide is shown.
        'show.js': `var turn = Math.floor(Math.random() * 14);
function show() {
  document.querySelectorAll(".slide").forEach(function (one, at) { one.classList.toggle("on", at === turn); });
  document.querySelectorAll("li").forEach(function (one, at) { one.classList.toggle("on", at === turn); });
  turn = (turn + 1) % 14;
}
show();
setInterval(show, 1300);`,
      },
      [rule('own.js', 'defer')],
    );
    expect(found.exceptions).toEqual([]);
    expect(treatments(found)).toEqual({ 'own.js': 'defer' });
    expect(found.deeds.filter((one) => one.undecided)).toEqual([]);
  },
);

it.concurrent('sees what is drawn otherwise far down the page, once it was scrolled through', async () => {
  // Nothing but the picture tells of it: the canvas is the same element in either colour.
  const { stage, armOf } = staged(
    '<!DOCTYPE html><title>Quay</title><meta name="viewport" content="width=device-width"><script src="own.js"></script><p>Quay</p><div style="height:2400px"></div><canvas width="200" height="200"></canvas><script src="draw.js"></script>',
    {
      'own.js': 'Reflect.set(window, "tide", "teal");',
      'draw.js':
        'var on = document.querySelector("canvas").getContext("2d"); on.fillStyle = Reflect.get(window, "tide") || "black"; on.fillRect(0, 0, 200, 200);',
    },
  );
  const [atRest] = orderSettings(stage, [], false);
  const beside = new Beside(stage, pool, armOf([]), [atRest!]);
  beside.begin([atRest!]);
  const [scroll] = await deedSettings(pool, stage, armOf([]), [PHONE]);
  expect(scroll!.words).toBe('on a phone, scrolled through');
  expect(await beside.differences(armOf([]), scroll!)).toEqual([]);
  const deferred = armOf([rule('own.js', 'defer')]);
  expect(await beside.differences(deferred, atRest!)).toEqual([]);
  expect((await beside.differences(deferred, scroll!)).map(({ words }) => words)).toEqual([
    expect.stringMatching(/^looks different once it was scrolled through/),
  ]);
});

it.concurrent(
  'holds a page to checks of one’s own, which say what no visitor’s deed by itself shows',
  async () => {
    // Only who opens the menu and types into what it holds gets to what the second script does.
    const found = await rehearsed(
      `<!DOCTYPE html><title>Quay</title><script src="menu.js"></script><button>Menu</button><p hidden class="menu"><label>From <input class="pier"></label> <b class="found"></b></p><script src="find.js"></script>`,
      {
        'menu.js':
          'addEventListener("click", function () { document.querySelector(".menu").hidden = false; }); var heard = 0; addEventListener("input", function () { Reflect.set(window, "told", ++heard); }, true);',
        'find.js':
          'addEventListener("input", function (event) { document.querySelector(".found").textContent = Reflect.get(window, "told") === event.target.value.length ? "Sails to " + event.target.value : "No harbour"; }, true);',
      },
      [rule('menu.js', 'defer')],
      'press Menu, type Orrask into From, see Sails to Orrask\npress Menu, see Timetable\npress Menu, do not see No harbour',
    );
    expect(treatments(found)).toEqual({ 'menu.js': 'as-authored' });
    expect(found.exceptions[0]!.evidence).toBe(
      'As treated, the page does not hold your check: “Sails to Orrask” is not seen (on a phone, your check “press Menu, type Orrask into From, see Sails to Orrask”).',
    );
  },
);

it.concurrent(
  'says of a check of one’s own that holds as authored nowhere that nothing is decided by it, and of one that only a phone has that',
  async () => {
    const found = await rehearsed(
      '<!DOCTYPE html><title>Quay</title><meta name="viewport" content="width=device-width"><style>@media (min-width: 600px) { .phone { display: none } }</style><script src="own.js"></script><button class="phone">Menu</button><p hidden>Booking</p><script src="menu.js"></script>',
      {
        'own.js': 'window.own = "alone";',
        'menu.js':
          'document.querySelector("button").onclick = function () { document.querySelector("p").hidden = false; };',
      },
      [rule('own.js', 'defer')],
      'press Menu, see Booking\ndo not see Booking, see Timetable',
      {},
      DEVICES.map(inOneOrder),
    );
    expect(treatments(found)).toEqual({ 'own.js': 'defer' });
    const told = Object.fromEntries(
      found.deeds.flatMap(({ words, own, effect, undecided }) => (own ? [[words, [effect, undecided]]] : [])),
    );
    const nowhere = [expect.any(String), 'as authored it does not hold either: “Timetable” is not seen'];
    expect(told).toEqual({
      'on a phone, your check “press Menu, see Booking”': [expect.stringContaining('p changes'), null],
      'on a laptop, your check “press Menu, see Booking”': [
        'it does not hold here: there is no “Menu” to press',
        null,
      ],
      'on a phone, your check “do not see Booking, see Timetable”': nowhere,
      'on a laptop, your check “do not see Booking, see Timetable”': nowhere,
    });
  },
);
