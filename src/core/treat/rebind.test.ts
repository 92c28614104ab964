import { describe, expect, it } from 'vitest';
import { madePage } from '../../../tests/engine/made-capture.ts';
import { readPageAssets } from '../page/page-assets.ts';
import type { PageDecisions } from './decisions.ts';
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

describe('what was decided, on a page captured anew', () => {
  const before = release('4f2a91bc', 'a1b2');
  const all = planOf(before).rules;
  /** Everything decided, as a plan file has it. */
  const own: PageDecisions = {
    rules: all.map((rule) =>
      matchText(rule.match).includes('own-')
        ? { ...rule, on: false, reason: 'The harbour office asks for it.' }
        : rule,
    ),
    knew: all,
  };

  it('binds every rule again though all hashes and the visit’s token have changed', () => {
    const now = release('90ce77d1', 'ffff');
    const { decisions, rebound } = rebind(own, sceneFor(now), planOf(now));
    expect(decisions.rules.map((rule) => matchText(rule.match))).toEqual([
      'https://quay.test/s/site.90ce77d1.css',
      'https://quay.test/s/lib.90ce77d1.js',
      'https://quay.test/s/own-90ce77d1.min.js',
      'inline: var csrfToken = "ffff"; lib.sign(csrfToken);',
    ]);
    expect(decisions.rules[2]).toMatchObject({ on: false, reason: 'The harbour office asks for it.' });
    expect(rebound.bound).toHaveLength(4);
    expect([rebound.lost, rebound.fresh]).toEqual([[], []]);
  });

  it('leaves what has not changed, and says nothing of it', () => {
    const { decisions, rebound } = rebind(own, sceneFor(before), planOf(before));
    expect(decisions.rules).toEqual(own.rules);
    expect(rebound).toEqual({ bound: [], lost: [], fresh: [] });
  });

  it('keeps what has lost its asset, and names what is new: what was only renamed is not', () => {
    const more = release('90ce77d1', 'ffff', '<script src="/s/new.js"></script>');
    const one = { ...own, rules: [own.rules[2]!] };
    const { rebound } = rebind(one, sceneFor(more), planOf(more));
    expect(rebound.fresh.map(({ what }) => what)).toEqual(['https://quay.test/s/new.js']);
    const gone = assets('<script src="/s/new.js"></script>', { 's/new.js': 'window.news = 1;' });
    const left = rebind(one, sceneFor(gone), planOf(gone));
    expect(left.rebound.lost.map(({ what }) => what)).toEqual(['https://quay.test/s/own-4f2a91bc.min.js']);
    expect(left.decisions.rules).toEqual(one.rules);
    // What was seen as new once is not new again.
    expect(rebind(left.decisions, sceneFor(gone), planOf(gone)).rebound.fresh).toEqual([]);
  });

  it('does not call a font lost that is there, though nothing is recommended for it any more', () => {
    const font = { url: 'https://quay.test/s/keel.woff2', family: 'keel', display: 'swap' };
    const there = {
      ...sceneFor(before),
      fonts: [
        {
          ...font,
          party: 'first' as const,
          aboveFold: false,
          icons: false,
          fit: null,
          inParts: false,
          smaller: null,
        },
      ],
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
