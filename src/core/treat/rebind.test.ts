import { describe, expect, it } from 'vitest';
import { madePage } from '../../../tests/engine/made-capture.ts';
import { readPageAssets } from '../page/page-assets.ts';
import { matchText, type Plan } from './plan.ts';
import { rebind } from './rebind.ts';
import { recommendPlan } from './recommend.ts';
import { sceneOf } from './scene.ts';
import { shapeOf, versionless } from '../path/versionless.ts';

const assets = (html: string, files: Record<string, string> = {}) =>
  readPageAssets(madePage(html, files), []);
const sceneFor = (page: ReturnType<typeof assets>) => sceneOf(page, null);
const planOf = (page: ReturnType<typeof assets>): Plan => recommendPlan(sceneFor(page));

/** A page of a site whose file names carry hashes. */
const release = (hash: string, token: string, more = '') =>
  assets(
    `<link rel="stylesheet" href="/s/site.${hash}.css"><script src="/s/lib.${hash}.js"></script><script src="/s/own-${hash}.min.js"></script><script>var csrfToken = "${token}"; lib.sign(csrfToken);</script>${more}`,
    {
      [`s/site.${hash}.css`]: 'p { margin: 0 }',
      [`s/lib.${hash}.js`]: 'var lib = { sign: function () {} };',
      [`s/own-${hash}.min.js`]: 'document.title = "Quay";',
      's/new.js': 'window.news = 1;',
    },
  );

describe('a plan on a page captured anew', () => {
  const before = release('4f2a91bc', 'a1b2');
  const own: Plan = {
    ...planOf(before),
    rules: planOf(before).rules.map((rule) =>
      matchText(rule.match).includes('own-')
        ? { ...rule, on: false, reason: 'The harbour office asks for it.' }
        : rule,
    ),
  };

  it('binds every rule again though all hashes and the visit’s token have changed', () => {
    const { plan, rebound } = rebind(
      own,
      sceneFor(release('90ce77d1', 'ffff')),
      planOf(release('90ce77d1', 'ffff')),
    );
    expect(plan.rules.map((rule) => matchText(rule.match))).toEqual([
      'https://quay.test/s/site.90ce77d1.css',
      'https://quay.test/s/lib.90ce77d1.js',
      'https://quay.test/s/own-90ce77d1.min.js',
      'inline: var csrfToken = "ffff"; lib.sign(csrfToken);',
    ]);
    expect(plan.rules[2]).toMatchObject({ on: false, reason: 'The harbour office asks for it.' });
    expect(rebound.bound).toHaveLength(4);
    expect([rebound.lost, rebound.fresh]).toEqual([[], []]);
  });

  it('leaves what has not changed, and says nothing of it', () => {
    const { plan, rebound } = rebind(own, sceneFor(before), planOf(before));
    expect(plan).toEqual(own);
    expect(rebound).toEqual({ bound: [], lost: [], fresh: [] });
  });

  it('keeps rules whose asset is gone, and takes what is recommended for what is new', () => {
    const gone = assets('<script src="/s/new.js"></script>', { 's/new.js': 'window.news = 1;' });
    const { plan, rebound } = rebind(own, sceneFor(gone), planOf(gone));
    expect(rebound.lost.map((one) => one.what)).toEqual(own.rules.map((rule) => matchText(rule.match)));
    expect(plan.rules.slice(0, own.rules.length)).toEqual(own.rules);
    expect(rebound.fresh).toEqual([{ ruleId: plan.rules.at(-1)!.id, what: 'https://quay.test/s/new.js' }]);
    expect(plan.rules.at(-1)).toMatchObject({ treatment: 'defer', on: true });
    expect(new Set(plan.rules.map((rule) => rule.id)).size).toBe(plan.rules.length);
  });

  it('does not call a font lost that is there, though nothing is recommended for it any more', () => {
    const font = { url: 'https://quay.test/s/keel.woff2', family: 'keel', display: 'swap' };
    const there = {
      ...sceneFor(before),
      fonts: [{ ...font, party: 'first' as const, aboveFold: false, icons: false, fit: null }],
    };
    const rule = {
      ...own.rules[0]!,
      id: 'f',
      kind: 'font' as const,
      match: { url: font.url },
      treatment: 'preload',
    };
    const { rebound } = rebind({ ...own, rules: [...own.rules, rule] }, there, recommendPlan(there));
    expect(rebound).toEqual({ bound: [], lost: [], fresh: [] });
  });

  it('takes none of two that are equally likely', () => {
    const two = release('90ce77d1', 'a1b2', '<script src="/s/lib.11111a11.js"></script>');
    const { rebound } = rebind(own, sceneFor(two), planOf(two));
    expect(rebound.lost.map((one) => one.what)).toEqual(['https://quay.test/s/lib.4f2a91bc.js']);
  });
});

it.each([
  ['https://quay.test/a/lib.4f2a91bc.js?v=3', 'https://quay.test/a/lib.js'],
  ['https://quay.test/a/lib-1.2.3.min.js', 'https://quay.test/a/lib.min.js'],
  ['https://quay.test/v12/lib.js', 'https://quay.test/*/lib.js'],
  ['https://quay.test/chunk-Ba3x_Z9k.js', 'https://quay.test/chunk.js'],
  ['https://quay.test/berths.js', 'https://quay.test/berths.js'],
  ['https://quay.test/facade.js', 'https://quay.test/facade.js'],
])('takes the version out of %s', (address, expected) => {
  expect(versionless(address)).toBe(expected);
});

it('masks what may differ from visit to visit in an inline script', () => {
  expect(shapeOf('var t = "a\\"1";\n  f(12.5, \'x\')')).toBe('var t = ""; f(0, "")');
});
