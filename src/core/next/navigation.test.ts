import { expect, it } from 'vitest';
import { navigationWords } from '../words/navigation.ts';
import { judgeNavigation, type NavigationPair } from './navigation.ts';

const way = (paintMs: number | null, ownPaintMs = 900) => ({
  paintMs,
  largestMs: paintMs,
  ownPaintMs,
  ownLargestMs: ownPaintMs,
});
const ways = (...pairs: [number | null, number | null, number?][]): NavigationPair[] =>
  pairs.map(([without, ahead, own]) => ({ without: way(without), ahead: way(ahead, own) }));
const words = (pairs: NavigationPair[]) => navigationWords(judgeNavigation(pairs), 'Home', 'Times');

it('says when the next page shows something after the press, each way, and what it costs the page before', () => {
  const pairs = ways(
    [1_900, 600],
    [1_950, 640],
    [1_880, 620],
    [1_910, 610],
    [1_930, 600],
    [1_900, 630],
    [1_890, 610],
    [1_940, 605],
  );
  expect(judgeNavigation(pairs)).toMatchObject({
    withoutMs: 1_905,
    aheadMs: 610,
    paint: { verdict: 'earlier', pairs: 8 },
  });
  expect(words(pairs)).toBe(
    'Times shows its first content 610 ms after its link is pressed, 1,905 ms when nothing is asked for ahead. Home itself shows its first content not surely later.',
  );
});

it('says where that is not clear, and where the page before comes later for it', () => {
  const same = Array.from({ length: 8 }, (_, one): [number, number, number] => [
    1_000 + one * 10,
    1_000 + (one % 2 ? 40 : -40) + one * 10,
    1_000 + one,
  ]);
  expect(words(ways(...same))).toContain(
    'ahead: no clear difference. Home itself shows its first content 104 ms later.',
  );
});

it('says how much later the page before may come where that is not clear', () => {
  const unclear = Array.from({ length: 8 }, (_, one): [number, number, number] => [
    1_900,
    600,
    900 + (one % 2 ? 90 : -80),
  ]);
  expect(words(ways(...unclear))).toMatch(
    /Home itself shows its first content not surely later \(90 ms at most\)\.$/,
  );
});

it('says nothing of a page that shows nothing', () => {
  expect(words(ways([null, null]))).toBe(
    'Times showed nothing after its link was pressed, so nothing can be said.',
  );
});
