import { describe, expect, it } from 'vitest';
import type { Metrics } from '../measure/metrics.ts';
import { BUILT_IN_CONDITIONS } from '../measure/conditions.ts';
import { afterTouchOf } from './after-touch.ts';
import { firstPictureOf } from './first-picture.ts';
import { returnVisitsOf } from './return-visits.ts';
import { otherConditions, otherDeviceOf, type OtherDevice } from './other-device.ts';
import { armName } from '../words/arms.ts';
import { roundOrder } from './order.ts';
import { comparePairs, signedRankInterval } from './statistics.ts';
import { isProved, judge, trialWords, type TrialChecks } from './verdict.ts';
import { NOTHING_BESIDES as quiet } from '../../../tests/engine/made-checks.ts';

function pair(
  asIs: number,
  treated: number,
  over: { asIs?: Partial<Metrics>; treated?: Partial<Metrics> } = {},
) {
  const metrics = (value: number) =>
    ({ firstPaintMs: value, firstContentfulPaintMs: value, speedIndexMs: value + 100 }) as Metrics;
  return { asIs: { ...metrics(asIs), ...over.asIs }, treated: { ...metrics(treated), ...over.treated } };
}

const PHONE = BUILT_IN_CONDITIONS[0]!;
const HOME = { pageName: 'Home', isAsIs: true, visit: 'first' } as const;

describe('comparePairs', () => {
  it('will not say with fewer than six pairs', () => {
    expect(comparePairs([-900, -900, -900, -900, -900]).verdict).toBe('too few runs to say');
  });

  it('gives the extremes as interval for six pairs (P = 1/64 in each tail)', () => {
    expect(signedRankInterval([-6, -5, -4, -3, -2, -1])).toEqual([-6, -1]);
  });

  it('agrees with the table for ten pairs: ninth smallest Walsh average', () => {
    // Signed-rank table, n = 10, two-sided 0.05: critical value 8, so the ninth of 55 from each end.
    const values = [1, 2, 3, 4, 5, 6, 7, 8, 9, 10];
    const walsh = values.flatMap((a, i) => values.slice(i).map((b) => (a + b) / 2)).sort((a, b) => a - b);
    expect(signedRankInterval(values)).toEqual([walsh[8], walsh[55 - 9]]);
  });

  it('calls earlier and later only when the interval leaves zero and more than a frame', () => {
    expect(comparePairs([-100, -110, -90, -120, -80, -95]).verdict).toBe('earlier');
    expect(comparePairs([100, 110, 90, 120, 80, 95]).verdict).toBe('later');
    expect(comparePairs([-100, -110, 90, -120, -80, -95]).verdict).toBe('no clear difference');
    expect(comparePairs([-10, -11, -9, -12, -8, -10]).verdict).toBe('no clear difference');
  });
});

describe('judge', () => {
  const six = [2_900, 2_950, 2_920, 2_880, 3_000, 2_940].map((ms) => pair(ms, ms - 1_650));

  const tried = (checks: TrialChecks) => ({ result: judge(six, checks, HOME), checks });

  it('says what came of it', () => {
    expect(trialWords(judge(six, quiet, HOME))).toBe(
      'Treated, Home paints 1,650 ms earlier, over 6 pairs. Speed Index: 1,650 ms earlier. No new console error, and no request fails or is missing. It was not rehearsed.',
    );
  });

  it('says it of two plans that are held against each other', () => {
    const two = { ...HOME, isAsIs: false };
    expect(trialWords(judge(six, quiet, two))).toMatch(
      /^With this plan, Home paints 1,650 ms earlier than with the other one, over 6 pairs\. Speed Index:/,
    );
    const same = [2_900, 2_950, 2_920, 2_880, 3_000, 2_940].map((ms) => pair(ms, ms));
    expect(trialWords(judge(same, quiet, two))).toMatch(
      /^With this plan, Home paints with no clear difference to the other one, over 6 pairs\./,
    );
    expect(armName('as-is', false)).toBe('with the other plan');
  });

  const deeds = [
    { words: 'on a phone, scrolled through', effect: 'nothing changes', undecided: null },
    { words: 'on a phone, “Book” tapped', effect: 'nothing changes', undecided: null },
  ];

  it('says that nothing broke only where that was tried, and what is undecided where something is', () => {
    const rehearsal = { held: 16, of: 16, faults: [], deeds };
    const said = judge(six, { ...quiet, rehearsal }, HOME);
    expect(trialWords(said)).toMatch(
      /^Treated, Home paints 1,650 ms earlier, over 6 pairs, and nothing broke\./,
    );
    expect(trialWords(said)).toContain('and with 2 things done on it as a visitor would, it becomes');
    const [first, second] = deeds;
    const open = {
      ...second!,
      undecided: 'it asks for https://q.test/b, to which the capture holds no answer',
    };
    const undecided = judge(six, { ...quiet, rehearsal: { ...rehearsal, deeds: [first!, open] } }, HOME);
    expect(trialWords(undecided)).toMatch(
      /over 6 pairs, undecided whether anything broke in 1 of 2 things done on it\./,
    );
    expect(undecided.undecided).toEqual([`on a phone, “Book” tapped: ${open.undecided}`]);
  });

  it('succeeds only where nothing broke or is undecided, but for what is allowed', () => {
    const console = tried({ ...quiet, consoleErrors: { asIs: [], treated: ['a'] } });
    expect(isProved(tried(quiet))).toBe(true);
    expect(isProved(console)).toBe(false);
    expect(isProved(console, new Set(['undecided']))).toBe(false);
    expect(isProved(console, new Set(['console']))).toBe(true);
    const result = { ...judge(six, quiet, HOME), undecided: ['on a phone, scrolled through: …'] };
    const undecided = { result, checks: quiet };
    expect(isProved(undecided)).toBe(false);
    expect(isProved(undecided, new Set(['undecided']))).toBe(true);
    const same = six.map(({ asIs }) => ({ asIs, treated: asIs }));
    expect(isProved({ result: judge(same, quiet, HOME), checks: quiet })).toBe(false);
  });

  const laptop = (earlier: number, over: Partial<Parameters<typeof otherDeviceOf>[2]> = {}) => {
    const pairs = six.map((_, index) => pair(600 + index, 600 + index - earlier));
    return otherDeviceOf(otherConditions(PHONE), pairs, { ...judge(pairs, quiet, HOME), ...over }, false);
  };

  it('is proved only where it holds on the other kind of device, and says what it came to there', () => {
    const on = (otherDevice: OtherDevice) => tried({ ...quiet, otherDevice });
    const holds = on(laptop(120));
    expect([holds.result.verdict, isProved(holds)]).toEqual(['earlier', true]);
    expect(trialWords(holds.result)).toContain(
      'On a laptop (Home laptop), with the same plan on the same bytes, it paints 120 ms earlier, over 6 pairs.',
    );
    expect(isProved(on(laptop(0)))).toBe(true);

    const later = on(laptop(-80));
    expect([later.result.verdict, isProved(later)]).toEqual(['earlier, but not on the other device', false]);
    expect(later.result.sentence).toBe(
      'Treated, Home paints 1,650 ms earlier, over 6 pairs; on a laptop (Home laptop) it paints 80 ms later, its Speed Index is 80 ms later.',
    );
    expect(isProved(later, new Set(['other-device']))).toBe(true);
    const broken = laptop(120, { breaks: [{ kind: 'console', words: '1 new console error' }] });
    expect(on(broken).result.sentence).toContain('it paints 120 ms earlier, but 1 new console error.');
    expect(isProved(on(broken))).toBe(false);
    const unknown = laptop(120, {
      withheld: { paint: '2 requests had no exact answer', speedIndex: null },
    });
    expect(isProved(on(unknown))).toBe(false);
    // What is withheld is not held against it: it may be what moves by itself.
    const moves = { ...laptop(120), speedIndex: laptop(-80).speedIndex };
    expect(isProved(on(moves))).toBe(false);
    const withheld = { paint: null, speedIndex: 'the final pictures differ by 1.2 %' };
    expect(isProved(on({ ...moves, withheld }))).toBe(true);
  });

  it('says whose visits were timed where those are return visits', () => {
    const again = judge(
      six.map((_, index) => pair(900 + index, 700 + index)),
      quiet,
      { ...HOME, visit: 'return' },
    );
    expect(again.sentence).toMatch(/^On a return visit, Home treated paints 200 ms earlier, over 6 pairs/);
  });

  it('says what it comes to on a return visit: later beside the gain, else among the rest', () => {
    const back = (later: number) =>
      returnVisitsOf(six.map((_, index) => pair(300 + index, 300 + index + later)))!;
    const on = (later: number) => tried({ ...quiet, returning: back(later) });
    expect(on(70).result.sentence).toBe(
      'Treated, Home paints 1,650 ms earlier, over 6 pairs, but on a return visit it paints 70 ms later.',
    );
    // It is a price, and no break.
    expect(isProved(on(70))).toBe(true);
    expect(trialWords(on(-40).result)).toContain('On a return visit it paints 40 ms earlier, over 6 pairs.');
    expect(trialWords(on(0).result)).toContain('On a return visit it paints with no clear difference');
    const few = { ...quiet, returning: returnVisitsOf([pair(300, 400)]) };
    expect(trialWords(tried(few).result)).not.toContain('return visit');
    expect(returnVisitsOf([])).toBeNull();
  });

  it('says how much of the first picture is drawn otherwise in the end: beside the gain, and as a break where it is much', () => {
    const shown = (asIs: number, treated: number) =>
      tried({
        ...quiet,
        firstPicture: firstPictureOf(Array<number>(6).fill(asIs), Array<number>(6).fill(treated), 0.025),
      });
    expect(shown(0.04, 0.12).result.sentence).toBe(
      'Treated, Home paints 1,650 ms earlier, over 6 pairs, but more of what it shows first is drawn otherwise in the end (12 % of the screen, as is 4 %).',
    );
    expect(isProved(shown(0.04, 0.12))).toBe(true);
    expect(shown(0.04, 0.4).result.verdict).toBe('earlier, but it breaks');
    expect(isProved(shown(0.04, 0.4))).toBe(false);
    expect(isProved(shown(0.04, 0.4), new Set(['first-picture']))).toBe(true);
    expect(trialWords(shown(0.3, 0.1).result)).toContain(
      'Better besides: less of what it shows first is drawn otherwise in the end (10 % of the screen, as is 30 %).',
    );
    expect(trialWords(shown(0.04, 0.08).result)).not.toContain('drawn otherwise');
    // What chance explains is not told.
    const sometimes = firstPictureOf(Array<number>(6).fill(0.1), [0, 0.3, 0, 0.3, 0.3, 0], 0.025);
    expect(trialWords(tried({ ...quiet, firstPicture: sometimes }).result)).not.toContain('drawn otherwise');
    expect(firstPictureOf([0.1], [0.5], 0.025)).toBeNull();
  });

  it('says what is fetched twice, and what to do about it', () => {
    expect(
      trialWords(tried({ ...quiet, doubledRequests: ['https://quay.test/tides.json'] }).result),
    ).toContain(
      'Fetched twice: https://quay.test/tides.json. What the plan asks for ahead is not what the page then asks for: switch that rule off.',
    );
  });

  it('breaks where a tap is answered later than as authored', () => {
    const answers = (at: number | null) =>
      [1, 2, 3].map(() => ({ answeredMs: at, delayMs: 16, script: null }));
    const menu = (at: number | null) =>
      tried({ ...quiet, taps: [{ words: '“Menu” tapped', asIs: answers(20), treated: answers(at) }] });
    expect(menu(800).result.sentence).toContain('but it breaks');
    expect(trialWords(menu(800).result)).toContain('It breaks: “Menu” tapped is answered 780 ms later.');
    expect(isProved(menu(800))).toBe(false);
    expect(isProved(menu(null))).toBe(false);
    expect(isProved(menu(60))).toBe(true);
  });

  it('says what the first touch costs, where that is more than as is', () => {
    const touched = (asIs: number[], treated: number[]) =>
      trialWords(
        judge(
          six,
          { ...quiet, afterTouch: { asIs: afterTouchOf(asIs), treated: afterTouchOf(treated) } },
          HOME,
        ),
      );
    expect(touched([], [180, 60, 250])).toContain(
      'The first touch sets off what waited for it: the main thread is then held up for about 340 ms in all, 250 ms at a time at most (as is: not at all).',
    );
    expect(touched([120], [250])).toContain('250 ms at a time at most (as is: 70 ms)');
    expect(touched([250], [260])).not.toContain('first touch');
  });

  it('tries on a laptop what was tried on a phone, and the other way round', () => {
    expect(otherConditions(PHONE).agent).toBe('desktop');
    expect(otherConditions(otherConditions(PHONE)).agent).toBe('phone');
  });

  it('says how small a difference it would have seen where it saw none', () => {
    const same = six.map(({ asIs }, index) =>
      pair(asIs.firstPaintMs!, asIs.firstPaintMs! + (index % 2 ? 60 : -60)),
    );
    expect(trialWords(judge(same, quiet, HOME))).toContain(
      'A difference of 60 ms or more would have been seen.',
    );
  });

  it('calls a page that rehearsing found broken no success, however early it paints', () => {
    const rehearsal = {
      held: 4,
      of: 16,
      faults: ['r7: As treated, the page lacks nav (on a phone).'],
      deeds,
    };
    const result = judge(six, { ...quiet, rehearsal }, HOME);
    expect(result.verdict).toBe('earlier, but it breaks');
    expect(result.breaks).toEqual([{ kind: 'rehearsal', words: '1 fault that rehearsing found' }]);
    expect(trialWords(result)).toContain('It breaks: 1 fault that rehearsing found. Look before you use it.');
    const none = judge(six, { ...quiet, rehearsal: { held: 0, of: 16, faults: [], deeds: [] } }, HOME);
    expect(trialWords(none)).toMatch(/It was not rehearsed\.$/);
    const some = judge(six, { ...quiet, rehearsal: { held: 9, of: 16, faults: [], deeds: [] } }, HOME);
    expect(trialWords(some)).toContain('Rehearsed in 9 of 16 orders of arrival');
    const held = judge(six, { ...quiet, rehearsal: { held: 16, of: 16, faults: [], deeds: [] } }, HOME);
    expect(trialWords(held)).toContain(
      'Rehearsed in 16 orders of arrival, it becomes what it is as authored.',
    );
  });

  it('withholds the Speed Index verdict when the final pictures differ', () => {
    const result = judge(six, { ...quiet, finalPictureDiffers: 0.012 }, HOME);
    expect(result.withheld).toEqual({ paint: null, speedIndex: 'the final pictures differ by 1.2 %' });
    expect(trialWords(result)).toContain('No verdict on Speed Index');
  });

  it('says why there is no word on Speed Index when some runs have none', () => {
    const [first, ...rest] = six;
    const moving = { ...first!, treated: { ...first!.treated, speedIndexMs: null } };
    const result = judge([moving, ...rest], quiet, HOME);
    expect(result.paint.verdict).toBe('earlier');
    expect(trialWords(result)).toContain(
      'No verdict on Speed Index: 1 of 6 pairs has none, as the picture did not rest or more than a tenth of it keeps moving.',
    );
    // With pairs enough without it, the rest can be judged.
    expect(judge([moving, ...rest, six[1]!], quiet, HOME).withheld.speedIndex).toBeNull();
  });

  it('counts console errors that only the treated arm has', () => {
    const result = judge(
      six,
      { ...quiet, consoleErrors: { asIs: ['a'], treated: ['a', 'tide is not defined'] } },
      HOME,
    );
    expect(result.verdict).toBe('earlier, but it breaks');
    expect(result.breaks).toEqual([{ kind: 'console', words: '1 new console error' }]);
    expect(trialWords(result)).toContain('paints 1,650 ms earlier, over 6 pairs, but it breaks.');
    expect(trialWords(result)).toContain('It breaks: 1 new console error. Look before you use it.');
  });

  it('does not call a page earlier whose requests fail or are missing', () => {
    const failing = judge(six, { ...quiet, failedRequests: ['https://q.test/a.js'] }, HOME);
    expect(failing.verdict).toBe('earlier, but it breaks');
    expect(trialWords(failing)).toContain('1 request that fails only treated');
    const missing = judge(six, { ...quiet, missingRequests: ['https://q.test/b', 'https://q.test/c'] }, HOME);
    expect(missing.verdict).toBe('earlier, but it breaks');
    expect(trialWords(missing)).toContain('2 requests that are no longer made');
  });

  it('names in the first sentence what got worse beyond its noise, and nothing that only scatters', () => {
    const ready = [3_000, 3_020, 2_990, 3_010, 3_005, 2_995];
    const worse = six.map(({ asIs, treated }, index) => ({
      asIs: { ...asIs, domReadyMs: ready[index]!, loadMs: 4_000 + 300 * (index % 2), wireBytes: 300_000 },
      treated: {
        ...treated,
        domReadyMs: ready[index]! + 479,
        // Later in every pair, but by less than the runs as is differ from each other.
        loadMs: 4_000 + 300 * (index % 2) + 40,
        wireBytes: 300_900,
      },
    }));
    const result = judge(worse, quiet, HOME);
    expect(result.worse.map((one) => one.key)).toEqual(['domReadyMs']);
    expect(trialWords(result)).toMatch(
      /^Treated, Home paints 1,650 ms earlier, over 6 pairs, but DOM ready comes 479 ms later\. /,
    );
    expect(result.verdict).toBe('earlier');
  });

  it('names what got better besides, and not what may only come later', () => {
    const better = six.map(({ asIs, treated }, index) => ({
      asIs: {
        ...asIs,
        loadMs: 4_000 + index,
        cumulativeLayoutShift: 0.221,
        requests: 40,
        wireBytes: 900_000,
      },
      treated: {
        ...treated,
        loadMs: 3_440 + index,
        cumulativeLayoutShift: 0,
        requests: 20,
        wireBytes: 300_000,
      },
    }));
    const { better: found, worse, sentence, remarks } = judge(better, quiet, HOME);
    expect(found.map((one) => one.key)).toEqual(['cumulativeLayoutShift', 'loadMs']);
    expect(worse).toEqual([]);
    expect(sentence).not.toContain('load');
    expect(remarks).toContain('Better besides: layout shift shrinks by 0.221 and load comes 560 ms earlier.');
  });

  it('says why blocking time grows where the main thread does not', () => {
    const blocking = six.map(({ asIs, treated }) => ({
      asIs: { ...asIs, totalBlockingMs: 100, wholeLoadBlockingMs: 2_000 },
      treated: { ...treated, totalBlockingMs: 889, wholeLoadBlockingMs: 1_900 },
    }));
    const { sentence, remarks, notes } = judge(blocking, quiet, HOME);
    expect(sentence).toContain('but total blocking time grows by 789 ms.');
    expect(notes[0]).toContain('over the whole load the main thread blocks 100 ms less');
    expect(remarks).toContain(notes[0]);
  });

  it('judges by the first content as soon as one arm paints nothing but a background first', () => {
    const empty = six.map(({ asIs, treated }) => ({
      asIs,
      treated: { ...treated, firstPaintMs: 200, firstContentfulPaintMs: asIs.firstPaintMs! - 300 },
    }));
    const result = judge(empty, quiet, HOME);
    expect(result.headline).toBe('firstContentfulPaintMs');
    expect(result.paint.differenceMs).toBe(-300);
    expect(trialWords(result)).toContain('shows its first content 300 ms earlier');
    expect(trialWords(result)).toContain(
      'The first paint of the treated page shows nothing but a background',
    );
  });

  it('says when there are too few pairs', () => {
    expect(trialWords(judge(six.slice(0, 1), quiet, HOME))).toBe(
      'Too few runs to say: 1 complete pair, 6 are the least.',
    );
  });
});

describe('roundOrder', () => {
  const drawn = (arms: string[], seed: number, rounds = 40) => {
    const order = roundOrder(arms, seed);
    return Array.from({ length: rounds }, (_one, round) => order(round).join(' '));
  };

  it('is repeatable from its seed, in whatever order rounds are asked for', () => {
    expect(drawn(['a', 'b'], 7)).toEqual(drawn(['a', 'b'], 7));
    expect(drawn(['a', 'b'], 7)).not.toEqual(drawn(['a', 'b'], 8));
    const order = roundOrder(['a', 'b'], 7);
    expect(order(5).join(' ')).toBe(drawn(['a', 'b'], 7)[5]);
    expect(order(0).join(' ')).toBe(drawn(['a', 'b'], 7)[0]);
  });

  it('holds each arm once in a round, and comes to every order', () => {
    expect(new Set(drawn(['a', 'b'], 7))).toEqual(new Set(['a b', 'b a']));
    expect(new Set(drawn(['a', 'b', 'c'], 7, 200)).size).toBe(6);
  });
});
