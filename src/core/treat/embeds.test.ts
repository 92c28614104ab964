import { describe, expect, it } from 'vitest';
import { madePage } from '../../../tests/engine/made-capture.ts';
import { inPage, madeRequest } from '../../../tests/engine/made-requests.ts';
import type { Observations } from '../measure/exchange.ts';
import { readHtml } from '../html/document.ts';
import { CapturedPage } from '../page/captured-page.ts';
import { readPageAssets } from '../page/page-assets.ts';
import { applyPlan } from './apply.ts';
import { loneOffers } from './offers.ts';
import type { Plan, PlanRule } from './plan.ts';
import { recommendPlan } from './recommend.ts';
import { sceneOf } from './scene.ts';
import type { Scene } from './treatment.ts';

const CHART = 'https://charts.test/route?to=orrask';
const EMBED = `<iframe src="${CHART}" title="Chart of the route" width="720" height="320"></iframe>`;
const box = { x: 0, y: 0, width: 720, height: 320 };

/** A page with an embed that stands further down, unless it is said to stand elsewhere. */
function sceneWith(html: string, files = {}, stands: 'above' | 'below' | 'nowhere' = 'below') {
  const boxes =
    stands === 'above' ? [{ element: 'iframe', tag: 'iframe', url: CHART, box, natural: null }] : [];
  const observations = { boxes, embedsBelow: stands === 'below' ? [CHART] : [] };
  return sceneOf(readPageAssets(madePage(html, files, { observations }), []), null);
}
const late = (html: string, files = {}, stands?: 'above' | 'nowhere') =>
  loneOffers(sceneWith(html, files, stands), 'embed', { url: CHART }).find((one) => one.treatment === 'late');

it('comes late where it stands further down, and is what it was besides', () => {
  const scene = sceneWith(`<head></head><h1>Quay</h1>${EMBED}`);
  const plan = recommendPlan(scene);
  expect(plan.rules).toEqual([
    expect.objectContaining({ kind: 'embed', treatment: 'late', on: true, match: { url: CHART } }),
  ]);
  expect(plan.rules[0]!.reason).toMatch(/^“Chart of the route” stands further down/);
  const { html, takenOut } = applyPlan(scene, plan);
  expect(new TextDecoder().decode(html)).toBe(
    `<head></head><h1>Quay</h1>${EMBED.replace('"320"', '"320" loading="lazy"')}`,
  );
  expect(takenOut).toEqual([CHART]);
});

it('says what it and all that it brings come to', () => {
  const page = madePage(EMBED, {}, { observations: { boxes: [], embedsBelow: [CHART] } });
  const requests = [
    madeRequest(page.url, { by: 'navigation' }),
    madeRequest('https://quay.test/quay.png', inPage(page.url)),
    madeRequest(CHART, inPage(page.url), 2_000),
    madeRequest('https://charts.test/lib.js', inPage(CHART), 40_000),
    madeRequest(
      'https://charts.test/tile.png',
      { by: 'script', url: 'https://charts.test/lib.js', line: 1 },
      8_000,
    ),
  ];
  const { rules } = recommendPlan(sceneOf(readPageAssets(page, requests), null));
  expect(rules[0]!.reason).toContain('is a page of its own (3 requests, 50 KB): asked for when');
});

it('is as authored on the first screen, where nobody saw it, and where it is late already', () => {
  expect(late(EMBED, {}, 'above')?.refused).toMatch(/first screen/);
  expect(late(EMBED, {}, 'nowhere')?.refused).toMatch(/nobody saw it/);
  expect(late(EMBED.replace('src', 'loading="lazy" src'))).toBeUndefined();
  for (const stands of ['above', 'nowhere'] as const)
    expect(recommendPlan(sceneWith(EMBED, {}, stands)).rules).toEqual([]);
});

it('is found where it stands though its address names a place in it, as maps do', () => {
  const placed = EMBED.replace('orrask"', 'orrask#12/north"');
  const seen = (observations: Partial<Observations>) => {
    const scene = sceneOf(readPageAssets(madePage(placed, {}, { observations }), []), null);
    return loneOffers(scene, 'embed', { url: CHART }).find((one) => one.treatment === 'late')?.refused;
  };
  const url = `${CHART}#12/north`;
  expect(seen({ embedsBelow: [url] })).toBeNull();
  expect(seen({ boxes: [{ element: 'iframe', tag: 'iframe', url, box, natural: null }] })).toMatch(
    /first screen/,
  );
});

it('is none where its own markup says what it shows: its address is never asked for', () => {
  expect(late(EMBED.replace('src', 'srcdoc="<p>Own" src'))).toBeUndefined();
});

it.each([
  ['something waits for it', EMBED.replace('src', 'onload="ready()" src'), {}, /once it is there \(line 1/],
  ['links may show pages in it', EMBED.replace('src', 'name="chart" src'), {}, /“chart”/],
  [
    'a script goes by its id',
    `${EMBED.replace('src', 'id="route" src')}<script src="app.js"></script>`,
    {
      'app.js': 'const chart = 1;\ndocument.getElementById("route").contentWindow.postMessage("north", "*");',
    },
    /goes by it \(“route”\).*line 2 of app\.js/,
  ],
  [
    'a script looks for any',
    `${EMBED}<script>for (const one of document.querySelectorAll("main > iframe")) one.focus();</script>`,
    {},
    /looks for embeds.*line 1 of the page/,
  ],
  [
    'a script hears what embeds say',
    `${EMBED}<script>addEventListener("message", function (event) { document.title = event.data; });</script>`,
    {},
    /hears what embeds say/,
  ],
  [
    'it cannot be known what a script looks for and reaches into',
    `${EMBED}<script>function at(what) { return document.querySelector(what); } at(location.hash || "x").contentWindow.focus();</script>`,
    {},
    /looks for embeds/,
  ],
  [
    'a script was not captured',
    `${EMBED}<script src="gone.js"></script>`,
    {},
    /could not be read: gone\.js .*capture/,
  ],
  [
    'a script cannot be read',
    `${EMBED}<script src="app.js"></script>`,
    { 'app.js': 'let = = 1' },
    /could not be read: app\.js/,
  ],
  ['an attribute reaches into it', `${EMBED}<a onclick="frames[0].stop()">Stop</a>`, {}, /frames/],
])('is refused where %s, in plan files too', (_why, html, files, refusal) => {
  expect(late(html, files)?.refused).toMatch(refusal);
  const scene = sceneWith(html, files);
  const rule = { id: 'r1', on: true, kind: 'embed', match: { url: CHART }, treatment: 'late' } as PlanRule;
  const plan: Plan = { wistrelPlan: 1, page: scene.page.documentUrl, rules: [rule] };
  expect(applyPlan(scene, plan).notApplied).toEqual([
    expect.objectContaining({ ruleId: 'r1', illegal: true, why: expect.stringMatching(refusal) }),
  ]);
  expect(recommendPlan(scene).rules.filter((one) => one.kind === 'embed')).toEqual([]);
});

it('is not refused for scripts that make embeds of their own, or for words that are part of others', () => {
  const html = `${EMBED.replace('src', 'class="route" src')}<script>document.createElement("iframe"); const en_route = "route-4";</script>`;
  expect(late(html)?.refused).toBeNull();
});

describe('on a press', () => {
  const onPress = (html: string, files = {}, stands?: 'above' | 'nowhere') =>
    loneOffers(sceneWith(html, files, stands), 'embed', { url: CHART }).find(
      (one) => one.treatment === 'on-press',
    );
  const applied = (scene: Scene) => {
    const rule = {
      id: 'r1',
      on: true,
      kind: 'embed',
      match: { url: CHART },
      treatment: 'on-press',
    } as PlanRule;
    return applyPlan(scene, { wistrelPlan: 1, page: scene.page.documentUrl, rules: [rule] });
  };
  const treated = (html: string) => applied(sceneWith(html));
  /** What the frame shows until it is pressed. */
  const shownIn = (html: string) => {
    const [iframe] = readHtml(treated(html).html).elements.filter(({ tag }) => tag === 'iframe');
    const { srcdoc = '', ...others } = iframe!.attributes;
    return { srcdoc, others };
  };

  it('puts a link with its name into its frame, which keeps all that it has', () => {
    const { srcdoc, others } = shownIn(EMBED);
    expect(others).toEqual({ src: CHART, title: 'Chart of the route', width: '720', height: '320' });
    expect(srcdoc).toContain(`href="${CHART}"`);
    expect(srcdoc).toContain('<b>Chart of the route</b><span>charts.test</span>');
    expect(treated(EMBED).takenOut).toEqual([CHART]);
  });

  it('names the host where the page names nothing, and asks with the referrer policy of the frame', () => {
    const { srcdoc } = shownIn(EMBED.replace('title="Chart of the route"', 'referrerpolicy="no-referrer"'));
    expect(srcdoc).toContain('><div><b>charts.test</b></div></a>');
    expect(srcdoc).toContain('<meta name="referrer" content="no-referrer">');
  });

  it('says names as they are, whatever is in them, and keeps the place in the address', () => {
    const { srcdoc } = shownIn(
      EMBED.replace('Chart of the route', '</a><script>a()</script> &amp;amp;').replace(
        'orrask"',
        'orrask#north"',
      ),
    );
    expect(srcdoc).not.toContain('<script>');
    expect(srcdoc).toContain('<b>&lt;/a>&lt;script>a()&lt;/script> &amp;amp;</b>');
    expect(srcdoc).toContain(`href="${CHART}#north"`);
  });

  it('goes by what the page’s policy lets be written into it', () => {
    const under = (policy: string) =>
      shownIn(`<head><meta http-equiv="content-security-policy" content="${policy}"></head>${EMBED}`).srcdoc;
    expect(under("style-src 'nonce-quay'")).toContain('<style nonce="quay">');
    expect(under("img-src 'self'")).toContain('onclick=');
    // Where it may not be written, its being there would be an error.
    expect(under("script-src 'self'")).not.toContain('onclick=');
  });

  it('shows a picture of the embed under its name, where one was made and the page lets one in', () => {
    const picture = { url: CHART, of: 'b'.repeat(64), bodyHash: 'a'.repeat(64), bytes: 3 };
    const withPicture = (policies: string[] = []) => {
      const page = madePage(EMBED, {}, { observations: { embedsBelow: [CHART] }, policies });
      const lighter = { takenAt: '', images: [], stay: [], embeds: [picture], fonts: [], fontsStay: [] };
      const bodies = new Map([
        [picture.bodyHash, new Uint8Array([1, 2, 3])],
        ...page.capture.exchanges.map((one) => [one.bodyHash!, page.body(one.url)!] as const),
      ]);
      return applied(
        sceneOf(readPageAssets(new CapturedPage({ ...page.capture, lighter }, bodies), []), null),
      );
    };
    const { html, files } = withPicture();
    const [file] = files;
    expect(file!.url).toMatch(/^https:\/\/quay\.test\/wistrel\/route-[0-9a-f]{8}\.webp$/);
    const text = new TextDecoder().decode(html);
    expect(text).toContain(
      `<img src=&quot;${new URL(file!.url).pathname}&quot; alt=&quot;&quot; loading=&quot;lazy&quot;>`,
    );
    expect(text).toContain('<b>Chart of the route</b>');
    const strict = withPicture(["img-src 'none'"]);
    expect(strict.files).toEqual([]);
    expect(new TextDecoder().decode(strict.html)).not.toContain('<img');
    expect(new TextDecoder().decode(strict.html)).toContain('<b>Chart of the route</b>');
  });

  it('is a choice for what is lazy already, and says what no longer plays by itself', () => {
    expect(onPress(EMBED.replace('src', 'loading="lazy" src'))?.refused).toBeNull();
    expect(onPress(EMBED)?.note).toBeNull();
    expect(onPress(EMBED.replace('src', 'allow="autoplay" src'))?.note).toMatch(
      /plays only once it is pressed/,
    );
    expect(recommendPlan(sceneWith(EMBED)).rules[0]!.treatment).toBe('late');
    // What is lazy has a rule to choose it in.
    const [rule] = recommendPlan(sceneWith(EMBED.replace('src', 'loading="lazy" src'))).rules;
    expect(rule).toMatchObject({ kind: 'embed', treatment: 'as-authored' });
    expect(rule!.reason).toMatch(/it comes when a visitor is near as it is\.$/);
  });

  it.each([
    ['it is on the first screen', EMBED, 'above', /first screen/],
    ['nobody saw it', EMBED, 'nowhere', /nobody saw it/],
    [
      'its frame is shut',
      EMBED.replace('src', 'sandbox="allow-scripts" src'),
      undefined,
      /said by its tag \(line 1/,
    ],
    ['links may show pages in it', EMBED.replace('src', 'name="chart" src'), undefined, /“chart”/],
    [
      'the page’s policy lets no style in',
      `<head><meta http-equiv="content-security-policy" content="style-src 'self'"></head>${EMBED}`,
      undefined,
      /style/,
    ],
  ] as const)('is refused where %s', (_why, html, stands, refusal) => {
    expect(onPress(html, {}, stands)?.refused).toMatch(refusal);
  });
});
