import { expect, it } from 'vitest';
import { differencesOf, SIDE_BY_SIDE } from './differences.ts';
import type { MapAsset, PageMap } from './map.ts';

const asset = (name: string, wireBytes: number, hold: MapAsset['hold'] = 'holds') =>
  ({
    name,
    url: `https://quay.test/${name}`,
    kind: 'script',
    wireBytes,
    hold,
    waitedMs: hold === 'holds' ? 40 : 0,
    evidence: 'E.',
  }) as MapAsset;
const map = (...assets: MapAsset[]) => ({ assets }) as PageMap;

it('says what appeared, went, grew and changed its hold; a new hash in a name is the same file', () => {
  const before = map(
    asset('lib.3f9c2a1b.js', 20_000),
    asset('same.js', 5_000),
    asset('gone.js', 900),
    asset('tail.js', 800, 'after'),
  );
  const after = map(
    asset('lib.77aa01ee.js', 48_000),
    asset('same.js', 5_100),
    asset('new.js', 700, 'crowds'),
    asset('tail.js', 800),
  );
  expect(differencesOf(before, after).map((one) => [one.name, one.what, one.sentence])).toEqual([
    ['lib.77aa01ee.js', 'grew', '20 KB before, 48 KB now.'],
    ['new.js', 'appeared', '700 B, crowds first paint. E.'],
    ['tail.js', 'changed its hold', 'after before, holds now: first paint waits 40 ms for it.'],
    ['gone.js', 'went', '900 B; it held first paint before.'],
  ]);
  expect(differencesOf(before, before)).toEqual([]);
});

it('holds one page against another: their documents are the same thing, and nothing is said to have been before', () => {
  const page = (name: string) => ({ ...asset(name, 9_000), kind: 'document' }) as MapAsset;
  const home = map(page(''), asset('menu.js', 4_000));
  const news = map(page('news/harbour'), asset('menu.js', 4_000, 'after'), asset('tide.js', 2_000, 'after'));
  expect(differencesOf(home, news, SIDE_BY_SIDE).map((one) => [one.name, one.what, one.sentence])).toEqual([
    ['menu.js', 'changed its hold', 'holds there, after here.'],
    ['tide.js', 'appeared', '2.0 KB, after first paint. E.'],
  ]);
});
