import { expect, it } from 'vitest';
import {
  answeredLater,
  answerOf,
  heldUpWords,
  isInDoubt,
  laterWords,
  tapAnswer,
  type SeenAnswer,
  type TapAnswer,
  type TapCheck,
} from './tap-answers.ts';

const answer = (answeredMs: number | null, delayMs = 24, script: string | null = null): TapAnswer => ({
  answeredMs,
  delayMs,
  script,
});
const tapped = (asIs: TapAnswer[], treated: TapAnswer[]): TapCheck => ({
  words: '“Menu” (button) tapped',
  asIs,
  treated,
});

it('knows a tap’s answer by what changes as is, whatever else the tap sets off', () => {
  const asIs: SeenAnswer = {
    delayMs: 16,
    changes: [
      ['nav', 20],
      ['body', 60],
      ['div.chat', 900],
    ],
    script: null,
  };
  expect(answerOf(asIs)).toEqual(['nav', 'body']);
  // A script that waited for the tap puts something in before the menu opens.
  const treated: SeenAnswer = {
    delayMs: 16,
    changes: [
      ['div.banner', 30],
      ['nav', 640],
    ],
    script: null,
  };
  expect(tapAnswer(treated, answerOf(asIs)).answeredMs).toBe(640);
  expect(tapAnswer({ ...treated, changes: [] }, answerOf(asIs)).answeredMs).toBeNull();
  expect(answerOf({ ...asIs, changes: [] })).toEqual([]);
});

it('tries a tap again where one load leaves a doubt, and is sure only of what every load shows', () => {
  expect(isInDoubt(tapped([answer(20)], [answer(110)]))).toBe(false);
  expect(isInDoubt(tapped([answer(20)], [answer(130)]))).toBe(true);
  expect(isInDoubt(tapped([answer(20)], [answer(null)]))).toBe(true);
  expect(isInDoubt(tapped([answer(20, 16)], [answer(20, 80)]))).toBe(true);
  // What neither arm answers is in no doubt.
  expect(isInDoubt(tapped([answer(null)], [answer(null)]))).toBe(false);
  const later = tapped(
    [20, 30, 40].map((at) => answer(at)),
    [700, 800, 900].map((at) => answer(at)),
  );
  expect(answeredLater([later]).map(laterWords)).toEqual(['“Menu” (button) tapped is answered 770 ms later']);
  const once = tapped(
    [20, 30, 40].map((at) => answer(at)),
    [700, 30, 900].map((at) => answer(at)),
  );
  expect(answeredLater([once, tapped([answer(20)], [answer(900)])])).toEqual([]);
  const lost = tapped(
    [20, 30, 40].map((at) => answer(at)),
    [null, null, null].map((at) => answer(at)),
  );
  expect(answeredLater([lost]).map(laterWords)).toEqual(['“Menu” (button) tapped is no longer answered']);
});

it('names what holds the next frame up', () => {
  const slow = tapped(
    [16, 24, 16].map((delay) => answer(20, delay)),
    [240, 208, 256].map((delay) => answer(60, delay, 'https://quay.test/lib.js')),
  );
  expect(heldUpWords([slow])).toBe(
    'What answers a tap takes longer: “Menu” (button) tapped, the next frame comes after 240 ms, held up by https://quay.test/lib.js (as is: 16 ms).',
  );
  expect(heldUpWords([tapped([answer(20, 16)], [answer(20, 300)])])).toBeNull();
});
