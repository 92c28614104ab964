import { describe, expect, it } from 'vitest';
import { madePage, type MadeFile } from '../../../tests/engine/made-capture.ts';
import type { Header } from '../measure/exchange.ts';
import { readPageAssets } from '../page/page-assets.ts';
import { applyPlan } from '../treat/apply.ts';
import type { Plan } from '../treat/plan.ts';
import { recommendPlan } from '../treat/recommend.ts';
import { sceneOf } from '../treat/scene.ts';
import { askingAhead } from './ahead.ts';
import { nextAssets, nextPages, type Neighbour } from './next-assets.ts';

const HOME =
  '<!DOCTYPE html><head><link rel="stylesheet" href="site.css"></head><body><a href="/times#today">Times</a> <a href="/book">Book</a> <a href="/times.pdf" download>All times</a><a href="https://isle.test/">Isle</a></body>';
const home = (html = HOME, policies: string[] = []) =>
  madePage(html, { 'site.css': 'p { color: teal }' }, { policies });

const HOUR: Header[] = [['cache-control', 'max-age=3600']];
const file = (body: string, kind: MadeFile['kind'], headers = HOUR): MadeFile => ({
  body,
  kind,
  type: { stylesheet: 'text/css', script: 'text/javascript' }[kind as 'script'] ?? 'font/woff2',
  headers,
});

function neighbour(
  name: string,
  path: string,
  html: string,
  files: Record<string, string | MadeFile> = {},
): Neighbour {
  const kept = Object.entries(files).map(([name, one]) => [
    name,
    typeof one === 'string' ? file(one, name.endsWith('.css') ? 'stylesheet' : 'script') : one,
  ]);
  return {
    name,
    page: madePage(html, Object.fromEntries(kept), { url: `https://quay.test${path}` }),
    signedIn: false,
  };
}

const times = () =>
  neighbour(
    'Times',
    '/times',
    '<link rel="stylesheet" href="/site.css"><link rel="stylesheet" href="/times.css"><link rel="stylesheet" media="print" href="/print.css"><script defer src="/board.js"></script><script async src="/count.js"></script>',
    {
      '/site.css': 'p { color: teal }',
      '/times.css': '.board { color: navy }',
      '/print.css': 'p { color: black }',
      '/board.js': 'board = 1;',
      '/count.js': 'count = 1;',
      '/pier.woff2': file('font', 'font'),
      'https://isle.test/far.js': 'far = 1;',
    },
  );
const book = () =>
  neighbour(
    'Booking',
    '/book',
    '<script src="/board.js" crossorigin></script><script src="/pay.js"></script><script src="https://isle.test/far.js"></script>',
    {
      '/board.js': 'board = 1;',
      '/pay.js': file('pay = 1;', 'script', [['cache-control', 'private, no-store']]),
      'https://isle.test/far.js': 'far = 1;',
    },
  );

const nameOf = (url: string) => new URL(url).pathname;

describe('what next pages need', () => {
  it('is what the pages that are linked to ask for early, and this one does not', () => {
    const found = nextAssets(home(), [book(), times()]);
    expect(found.map((one) => [nameOf(one.url), one.as, one.pages.map((page) => page.name)])).toEqual([
      // Documents in the order of their links, then what most pages need.
      ['/times', 'document', ['Times']],
      ['/book', 'document', ['Booking']],
      ['/board.js', 'script', ['Times', 'Booking']],
      ['/pier.woff2', 'font', ['Times']],
      ['/pay.js', 'script', ['Booking']],
      ['/times.css', 'style', ['Times']],
    ]);
    expect(found.find((one) => one.as === 'font')!.crossOrigin).toBe('');
  });

  it('is nothing of a page that is not linked to, of a file to be downloaded, or of the page itself', () => {
    const pdf = neighbour('All times', '/times.pdf', '<p>Times</p>');
    const other = neighbour('Crew', '/crew', '<p>Crew</p>');
    const itself = neighbour('Home', '/', HOME);
    expect(nextAssets(home(), [pdf, other, itself])).toEqual([]);
  });

  it('names what speaks against it: of one visit, of an address that does something, kept by no cache', () => {
    const links =
      '<a href="/log-out">x</a><a href="/times?day=2">x</a><a href="/account/mine">x</a><a href="/a">x</a><a href="/b">x</a><a href="/c">x</a><a href="/orders-of-birds">x</a>';
    const page = (path: string, headers: Header[] = [], signedIn = false): Neighbour => {
      const made = madePage('<p>1</p>', {}, { url: `https://quay.test${path}` });
      made.capture.exchanges[0]!.responseHeaders.push(...headers);
      return { name: path, page: made, signedIn };
    };
    const found = nextAssets(home(links), [
      page('/log-out'),
      page('/times?day=2'),
      page('/account/mine'),
      page('/a', [['set-cookie', 'id=1']]),
      page('/b', [['Cache-Control', 'no-store']]),
      page('/c', [], true),
      page('/orders-of-birds'),
    ]);
    expect(found.map((one) => one.objection)).toEqual([
      { code: 'address-acts', part: 'log-out' },
      { code: 'address-acts', part: '?day=2' },
      { code: 'address-acts', part: 'account' },
      { code: 'of-one-visit', why: 'cookies' },
      { code: 'of-one-visit', why: 'no-store' },
      { code: 'of-one-visit', why: 'signed in' },
      null,
    ]);
  });

  it('is no document to which its link only sends on, and that is said', () => {
    const other = madePage('<p>1</p>', {}, { url: 'https://quay.test/today' });
    const page = madePage('<p>1</p>', {}, { url: 'https://quay.test/today' });
    page.capture.url = 'https://quay.test/times';
    const found = nextAssets(home(), [{ name: 'Times', page, signedIn: false }]);
    expect(found).toMatchObject([
      {
        url: 'https://quay.test/today',
        objection: { code: 'sends-on', to: 'https://quay.test/today' },
        pages: [{ url: 'https://quay.test/times' }],
      },
    ]);
    const direct = nextAssets(home('<a href="/today">x</a>'), [
      { name: 'Today', page: other, signedIn: false },
    ]);
    expect(direct.map((one) => one.objection)).toEqual([null]);
  });

  it('is no file that browsers would ask for again', () => {
    const headers: Record<string, Header[]> = {
      'none.js': [],
      'stale.js': [['cache-control', 'no-cache']],
      'short.js': [['cache-control', 'public, max-age=60']],
      'varies.js': [['vary', '*'], ...HOUR],
      'young.js': [
        ['last-modified', 'Sun, 29 Nov 2026 10:00:00 GMT'],
        ['date', 'Sun, 29 Nov 2026 10:10:00 GMT'],
      ],
      'old.js': [
        ['last-modified', 'Sun, 29 Nov 2026 10:00:00 GMT'],
        ['date', 'Mon, 30 Nov 2026 10:10:00 GMT'],
      ],
      'kept.js': HOUR,
    };
    const names = Object.keys(headers);
    const other = neighbour(
      'Times',
      '/times',
      names.map((name) => `<script src="/${name}"></script>`).join(''),
      Object.fromEntries(names.map((name) => [`/${name}`, file('1', 'script', headers[name])])),
    );
    const told = nextAssets(home(), [other]).map(({ url, objection }) => [
      nameOf(url).slice(1),
      objection?.code === 'not-kept' ? objection.header : objection,
    ]);
    expect(Object.fromEntries(told.slice(1))).toEqual({
      'none.js': 'no Cache-Control, no Expires',
      'stale.js': 'Cache-Control: no-cache',
      'short.js': 'Cache-Control: public, max-age=60',
      'varies.js': 'Vary: *',
      'young.js': 'fresh for 60 s',
      'old.js': null,
      'kept.js': null,
    });
  });

  it('brings the bytes that answer along', () => {
    const { answers } = nextPages(home(), [times()]);
    const text = (url: string) =>
      new TextDecoder().decode(answers.find((one) => one.exchange.url === url)?.body);
    expect(text('https://quay.test/times.css')).toBe('.board { color: navy }');
    expect(text('https://quay.test/times')).toContain('board.js');
  });
});

function planned(page = home(), neighbours = [times(), book()]) {
  const scene = sceneOf(readPageAssets(page, []), null, nextAssets(page, neighbours));
  return { scene, plan: recommendPlan(scene) };
}
const html = (scene: ReturnType<typeof planned>['scene'], plan: Plan) =>
  new TextDecoder().decode(applyPlan(scene, plan).html);

describe('prefetch', () => {
  it('is recommended and off: until it is switched on the page is as it would be without next pages', () => {
    const { scene, plan } = planned();
    const next = plan.rules.filter((rule) => rule.kind === 'next');
    expect(next.map((rule) => [rule.treatment, rule.on])).toEqual([
      ['prefetch', false],
      ['prefetch', false],
      ['prefetch', false],
      ['prefetch', false],
      ['as-authored', true],
      ['prefetch', false],
    ]);
    expect(next[2]!.reason).toContain('Times, Booking need it, and this page does not');
    expect(next[4]!.reason).toContain(
      'browsers may not keep it until then (Cache-Control: private, no-store)',
    );
    expect(html(scene, plan)).toBe(html(scene, planned(home(), []).plan));
  });

  it('stands at the end of the body, a line for each and one script for all', () => {
    const { scene, plan } = planned();
    const text = html(scene, askingAhead(plan));
    const end = text.slice(text.indexOf('<link rel="prefetch-when-idle"'));
    expect(end).toContain('<link rel="prefetch-when-idle" as="document" href="/times">');
    expect(end).toContain('<link rel="prefetch-when-idle" as="font" href="/pier.woff2" crossorigin="">');
    expect(end.match(/prefetch-when-idle" as/g)).toHaveLength(5);
    expect(end.match(/<script>/g)).toHaveLength(1);
    expect(end.endsWith('</script></body>')).toBe(true);
  });

  it('on press is rules that a browser reads without a script', () => {
    const { scene, plan } = planned();
    const rules = plan.rules.map((rule) =>
      rule.kind === 'next' && 'url' in rule.match && rule.match.url.endsWith('/times')
        ? { ...rule, on: true, treatment: 'prefetch-on-press' }
        : rule,
    );
    expect(html(scene, { ...plan, rules })).toContain(
      '<script type="speculationrules">{"prefetch":[{"source":"list","eagerness":"moderate","urls":["/times"]}]}</script></body>',
    );
  });

  it('is refused by the page’s policy, and for what no measured page needs, in plan files as well', () => {
    const strict = home(HOME, ["script-src 'self'"]);
    const { plan } = planned(strict);
    expect(plan.rules.find((rule) => rule.kind === 'next')!.reason).toContain('Content-Security-Policy');
    const { scene } = planned();
    const wished = (url: string): Plan => ({
      ...plan,
      rules: [
        {
          id: 'mine',
          on: true,
          kind: 'next',
          match: { url },
          scope: 'page',
          treatment: 'prefetch',
          reason: '',
          risk: 'low',
        },
      ],
    });
    const refused = (url: string) => applyPlan(scene, wished(url)).notApplied.map((one) => one.why);
    expect(refused('https://quay.test/log-out')).toEqual([
      'No measured page that this one links to needs it, or this one asks for it itself.',
    ]);
    expect(refused('https://quay.test/pay.js')[0]).toContain('Browsers may not keep it until then');
    expect(refused('https://quay.test/times.css')).toEqual([]);
  });

  it('is left off where it would cost those who stay too much', () => {
    const heavy = neighbour('Times', '/times', '<script src="/heavy.js"></script>', {
      '/heavy.js': `var heavy = "${'x'.repeat(310_000)}";`,
    });
    const { plan } = planned(home(), [heavy]);
    const rule = plan.rules.find((one) => 'url' in one.match && one.match.url.endsWith('heavy.js'))!;
    expect([rule.treatment, rule.reason]).toEqual([
      'as-authored',
      expect.stringContaining('would be asked for ahead'),
    ]);
  });
});
