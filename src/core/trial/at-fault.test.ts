import { expect, it } from 'vitest';
import { breaksLikewise, kindsToFind, type FoundBroken, type SeenWithSome } from './at-fault.ts';

const FOUND: FoundBroken = {
  consoleErrors: { asIs: ['old'], treated: ['old', 'tide is not defined'] },
  failedRequests: ['https://quay.test/gone.js'],
  missingRequests: ['https://quay.test/count'],
  firstPicture: { asIs: 0.1, treated: 0.5, difference: 0.4, clear: true },
};
const asked = (...urls: string[]) => urls.map((url) => ({ method: 'GET', url, failed: null }));
const QUIET: SeenWithSome = {
  consoleErrors: ['old'],
  asked: [asked('https://quay.test/count'), asked('https://quay.test/count')],
  takenOut: [],
  redrawn: [0.1, 0.12],
  taps: [],
};
const AS_IS = [asked('https://quay.test/count')];
const shows = (kind: Parameters<typeof breaksLikewise>[0], over: Partial<SeenWithSome>) => [
  breaksLikewise(kind, FOUND, AS_IS, QUIET),
  breaksLikewise(kind, FOUND, AS_IS, { ...QUIET, ...over }),
];

it('knows a break again in a page with some of the rules', () => {
  expect(shows('console', { consoleErrors: ['tide is not defined'] })).toEqual([false, true]);
  const failed = [[{ method: 'GET', url: 'https://quay.test/gone.js', failed: '404' }]];
  expect(shows('failed-requests', { asked: failed })).toEqual([false, true]);
  expect(shows('missing-requests', { asked: [asked(), asked()] })).toEqual([false, true]);
  expect(shows('first-picture', { redrawn: [0.35, 0.5] })).toEqual([false, true]);
  const [slow, fast] = [600, 20].map((answeredMs) =>
    [1, 2, 3].map(() => ({ answeredMs, delayMs: 16, script: null })),
  );
  const late = [{ words: 'Menu', asIs: fast!, treated: slow! }];
  expect(shows('late-answers', { taps: late })).toEqual([false, true]);
});

it('takes nothing else for it: another error, a request that a rule takes out, one load of two', () => {
  expect(shows('console', { consoleErrors: ['quay is not defined'] })[1]).toBe(false);
  const gone = { asked: [asked(), asked()], takenOut: ['https://quay.test/count'] };
  expect(shows('missing-requests', gone)[1]).toBe(false);
  expect(shows('first-picture', { redrawn: [0.12, 0.5] })[1]).toBe(false);
});

it('looks for no rule of what rehearsing found, and once for each way of breaking', () => {
  const breaks = (['rehearsal', 'late-answers', 'late-answers', 'console'] as const).map((kind) => ({
    kind,
    words: '',
  }));
  expect(kindsToFind(breaks)).toEqual(['late-answers', 'console']);
});
