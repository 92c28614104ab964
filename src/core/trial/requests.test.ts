import { expect, it } from 'vitest';
import { doubledTreated, failedOnlyTreated, missingTreated, type AskedRequest } from './requests.ts';

const get = (url: string, failed: string | null = null): AskedRequest => ({ method: 'GET', url, failed });
const beacon = (url: string): AskedRequest => ({ method: 'POST', url, failed: null });

it('names what fails only treated, whatever its query, and nothing that is only broken off', () => {
  const asIs = [[get('https://q.test/a.js'), get('https://q.test/gone.png?1', '404')]];
  const treated = [
    [
      get('https://q.test/a.js', 'net::ERR_BLOCKED_BY_RESPONSE'),
      get('https://q.test/gone.png?2', '404'),
      get('https://q.test/b.js', 'net::ERR_ABORTED'),
    ],
  ];
  expect(failedOnlyTreated(asIs, treated)).toEqual(['https://q.test/a.js']);
});

it('misses what every as-is load asks for more often than any treated one', () => {
  const count = (n: number) => Array.from({ length: n }, (_, i) => beacon(`https://count.test/hit?n=${i}`));
  const asIs = [count(2), count(2)];
  expect(missingTreated(asIs, [count(1), count(1)], [])).toEqual(['https://count.test/hit?n=1']);
  expect(missingTreated(asIs, [count(1), count(2)], [])).toEqual([]);
  // One as-is load made it once only: then it is not missed.
  expect(missingTreated([count(2), count(1)], [count(1)], [])).toEqual([]);
});

it('does not miss what a rule takes out', () => {
  const asIs = [[get('https://q.test/map.js'), get('https://tiles.test/1.png')]];
  expect(missingTreated(asIs, [[]], ['https://q.test/map.js', 'https://tiles.test/1.png'])).toEqual([]);
  expect(missingTreated(asIs, [[]], ['https://q.test/map.js'])).toEqual(['https://tiles.test/1.png']);
});

it('finds what came twice because it was asked for in another way than the page asks', () => {
  const asked = (...names: string[]) =>
    names.map((name) => ({ method: 'GET', url: `https://quay.test/${name}`, failed: null }));
  const asIs = [asked('a.js', 'tides.json'), asked('a.js', 'tides.json')];
  const twice = asked('tides.json', 'a.js', 'tides.json');
  expect(doubledTreated(asIs, [twice, twice])).toEqual(['https://quay.test/tides.json']);
  // Once is chance, what polls asks often by itself, and what is new is no double.
  expect(doubledTreated(asIs, [twice, asked('a.js', 'tides.json')])).toEqual([]);
  const polls = ['tides.json', 'tides.json', 'tides.json'];
  expect(doubledTreated([asked(...polls)], [asked(...polls, 'tides.json')])).toEqual([]);
  expect(doubledTreated(asIs, [asked(...polls)])).toEqual([]);
  expect(doubledTreated(asIs, [asked('new.js', 'new.js')])).toEqual([]);
});
