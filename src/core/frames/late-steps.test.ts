import { expect, it } from 'vitest';
import { lateSteps } from './late-steps.ts';

it('tells in four steps when areas became final, and how many of them in each', () => {
  expect(lateSteps([1_000, 1_099, 1_100, 0, 1_250, 1_400])).toEqual({
    steps: [
      { fromMs: 1_000, untilMs: 1_100, share: 0.4 },
      { fromMs: 1_100, untilMs: 1_200, share: 0.2 },
      { fromMs: 1_200, untilMs: 1_300, share: 0.2 },
      { fromMs: 1_300, untilMs: 1_400, share: 0.2 },
    ],
    of: [0, 0, 1, null, 2, 3],
  });
});

it('is one step where all came at once, and none where nothing changed', () => {
  expect(lateSteps([900, 900])).toEqual({ steps: [{ fromMs: 900, untilMs: 900, share: 1 }], of: [0, 0] });
  expect(lateSteps([0])).toEqual({ steps: [], of: [null] });
});
