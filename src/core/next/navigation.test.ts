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
  pairs.map(([without, ahead, own]) => ({ without: way(without), ahead: way(ahead, own), both: null }));
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

it('says what the next page’s own plan does besides, and where it cannot be tried with the other', () => {
  const rounds = (bothMs: number) =>
    Array.from({ length: 8 }, (_, one) => ({
      without: way(1_900 + one),
      ahead: way(600 + 2 * one),
      both: way(bothMs + one),
    }));
  const result = judgeNavigation(rounds(400), { state: 'tried' });
  expect(result.both).toMatchObject({ paintMs: 403.5, paint: { verdict: 'earlier', pairs: 8 } });
  expect(navigationWords(result, 'Home', 'Times')).toBe(
    'Times shows its first content 607 ms after its link is pressed, 1,904 ms when nothing is asked for ahead. With the plan of Times as well: 404 ms. Home itself shows its first content not surely later.',
  );
  expect(navigationWords(judgeNavigation(rounds(2_400), { state: 'tried' }), 'Home', 'Times')).toContain(
    'With the plan of Times as well: 2,404 ms, later than with neither.',
  );
  const differs = judgeNavigation(ways([1_900, 600]), {
    state: 'differs',
    url: 'https://quay.test/assets/site.css',
  });
  expect(navigationWords(differs, 'Home', 'Times')).toContain(
    'The plan of Times was not tried as well: both plans change site.css, each in its own way.',
  );
});

it('says nothing of a page that shows nothing', () => {
  expect(words(ways([null, null]))).toBe(
    'Times showed nothing after its link was pressed, so nothing can be said.',
  );
});
