import { expect, it } from 'vitest';
import type { AssetKind } from './discovery.ts';
import { PollWatch } from './polls.ts';

function watched(times: readonly number[], kind: AssetKind = 'data', loaded = true): boolean[] {
  const watch = new PollWatch();
  if (loaded) watch.hasLoaded();
  return times.map((atMs) =>
    watch.isPoll({ kind, method: 'GET', url: `https://q.test/tide?at=${atMs}` }, atMs),
  );
}

it('takes for a poll what comes for the third time at a regular distance', () => {
  expect(watched([1_000, 2_000, 3_010, 4_000])).toEqual([false, false, true, true]);
  expect(watched([1_000, 1_400, 3_900, 4_100])).toEqual([false, false, false, false]);
  // One that comes late is unrest again, until it is regular again.
  expect(watched([1_000, 2_000, 3_000, 5_500, 6_500, 7_500])).toEqual([
    false,
    false,
    true,
    false,
    false,
    true,
  ]);
});

it('never takes a picture or a sheet for one, nor anything before the page has loaded', () => {
  expect(watched([1_000, 2_000, 3_000], 'image')).toEqual([false, false, false]);
  expect(watched([1_000, 2_000, 3_000], 'stylesheet')).toEqual([false, false, false]);
  expect(watched([1_000, 2_000, 3_000], 'data', false)).toEqual([false, false, false]);
  expect(watched([1_000, 2_000, 3_000], 'beacon')).toEqual([false, false, true]);
});
