import { AS_IS, TREATED, type ArmId } from '../../core/trial/arms.ts';
import { pairsWanted, tailsOf } from '../../core/trial/looks.ts';
import {
  deviceName,
  OTHER_DEVICE_PAIRS,
  otherConditions,
  otherDeviceOf,
  type OtherDevice,
} from '../../core/trial/other-device.ts';
import { RETURN_PAIRS } from '../../core/trial/return-visits.ts';
import { judge } from '../../core/trial/verdict.ts';
import { roundOrder } from '../../core/trial/order.ts';
import { armName } from '../../core/words/arms.ts';
import { Lab } from '../lab/lab.ts';
import { runRounds, timedLoads } from '../lab/rounds.ts';
import { overridesOf } from '../replay/overrides.ts';
import type { Pair } from '../../core/trial/pair.ts';
import type { Trial, TrialRequest } from './trial.ts';
import { checksOf, comparedPair, concludeTrial, pairOf, returningPair, type Held } from './conclude-trial.ts';

/** Longer than the slower arm takes to rest, so that both are watched for the same time. */
const WINDOW_MARGIN_MS = 500;

/** Beyond this no further look is waited for: the clock knows nothing of the figures, so it may end a trial. */
const LONGEST_MS = 900_000;

/**
 * Runs a trial: both arms once to warm up (discarded; they give the window's length and the final pictures),
 * then pairs, the order within each drawn at random, as many as were asked for or until nothing is open. A plan that
 * is earlier is then held under the conditions of the other kind of device as well.
 */
export async function runTrial(request: TrialRequest): Promise<Trial> {
  const there = request.bothDevices ? elsewhere(request) : null;
  const held = await holdPairs(request, { where: '', before: 0, after: there ? leastSteps(there) : 0 });
  return concludeTrial(request, held, there && (await onOtherDevice(request, held, there)));
}

/** The same bytes and plan on the other kind of device; null where the plan is not earlier on this one. */
async function onOtherDevice(
  request: TrialRequest,
  here: Held,
  there: TrialRequest,
): Promise<OtherDevice | null> {
  const { paint } = judge(here.pairs, await checksOf(request, here), request, tailsOf(request.pairs));
  if (paint.verdict !== 'earlier') return null;
  const held = await holdPairs(
    { ...there, yardstick: here.setting.yardstick },
    { where: `On ${deviceName(there.conditions)}: `, before: stepsOf(here.pairs.length), after: 0 },
  );
  const result = judge(held.pairs, await checksOf(there, held), there, tailsOf(there.pairs));
  return otherDeviceOf(there.conditions, held.pairs, result, held.setting.quality.tooBusy);
}

/** The same trial, to be held on the other kind of device. */
function elsewhere(request: TrialRequest): TrialRequest {
  return {
    ...request,
    conditions: otherConditions(request.conditions),
    pairs: request.pairs === 'until clear' ? OTHER_DEVICE_PAIRS : request.pairs,
    // What it becomes was rehearsed on both.
    rehearsal: null,
    returnVisits: false,
  };
}

/** Each arm once to warm up, and once in each pair. */
const stepsOf = (pairs: number) => 2 + pairs * 2;
const leastSteps = (request: TrialRequest) => stepsOf(pairsWanted(request.pairs, []));

/** Where some pairs stand among all that a trial takes: steps before and after them, and how each begins in words. */
interface Part {
  where: string;
  before: number;
  after: number;
}

function holdPairs(request: TrialRequest, { where, before, after }: Part): Promise<Held> {
  const seed = request.seed ?? Math.floor(Math.random() * 2 ** 31) + 1;
  const order = roundOrder([AS_IS, TREATED], seed);
  const began = performance.now();
  let wanted = pairsWanted(request.pairs, []);
  const say = (step: string, done: number) =>
    request.onProgress?.(where + step, before + done, before + stepsOf(wanted) + after);
  const { documentUrl } = request.capture;
  const nameOf = (arm: ArmId) => armName(arm, request.isAsIs);
  const arms = [
    { name: AS_IS, overrides: overridesOf(documentUrl, request.asIs, request.answers) },
    { name: TREATED, overrides: overridesOf(documentUrl, request.treated, request.answers) },
  ];
  return Lab.with({ ...request, arms }, async (lab) => {
    const warmUp = async (arm: ArmId, step: number) => {
      say(`Warming up: ${nameOf(arm)}`, step);
      return (await lab.load(arm, { windowMs: null, wantFinalPicture: true })).first;
    };
    const warm = { asIs: await warmUp(AS_IS, 0), treated: await warmUp(TREATED, 1) };
    const windowMs =
      Math.max(warm.asIs.observation.windowMs, warm.treated.observation.windowMs) + WINDOW_MARGIN_MS;
    const pairs: Pair[] = [];
    const { rounds, ...quality } = await runRounds({
      order,
      wanted(taken) {
        pairs.push(...taken.slice(pairs.length).map((round) => comparedPair(pairOf(round), windowMs)));
        const late = performance.now() - began > LONGEST_MS && pairs.length >= pairsWanted(request.pairs, []);
        wanted = late ? pairs.length : pairsWanted(request.pairs, pairs);
        return wanted;
      },
      ...timedLoads(lab, () => ({
        windowMs,
        wantReturnVisit: request.returnVisits && pairs.length < RETURN_PAIRS,
      })),
      onLoad(arm, { round, turn, madeAgain }) {
        const again = madeAgain ? `, ${madeAgain} made again` : '';
        const more = request.pairs === 'until clear' ? ' or more' : '';
        say(`Pair ${round + 1} of ${wanted}${more}${again}: ${nameOf(arm)}`, stepsOf(round) + turn);
      },
      ...(request.signal ? { signal: request.signal } : {}),
    });
    return {
      runs: rounds.map(pairOf),
      pairs,
      returning: rounds.flatMap(returningPair),
      warm,
      setting: {
        windowMs,
        seed,
        order: rounds.map((_round, index) => order(index)),
        yardstick: lab.yardstick,
        quality,
      },
    };
  });
}
