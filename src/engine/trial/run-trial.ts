import { AS_IS, TREATED, type ArmId } from '../../core/trial/arms.ts';
import { LOOKS, pairsWanted, tailsOf } from '../../core/trial/looks.ts';
import {
  deviceName,
  OTHER_DEVICE_PAIRS,
  otherConditions,
  otherDeviceOf,
} from '../../core/trial/other-device.ts';
import { RETURN_PAIRS } from '../../core/trial/return-visits.ts';
import { judge, type TrialChecks, type TrialResult } from '../../core/trial/verdict.ts';
import { leastRounds } from '../../core/trial/more-arms.ts';
import { roundOrder } from '../../core/trial/order.ts';
import type { FoundDeed } from '../../core/checks/deed.ts';
import { armName } from '../../core/words/arms.ts';
import type { Visit } from '../chromium/visit.ts';
import { Lab } from '../lab/lab.ts';
import { runRounds, timedLoads } from '../lab/rounds.ts';
import type { Pair } from '../../core/trial/pair.ts';
import type { Trial, TrialRequest } from './trial.ts';
import {
  checksOf,
  comparedPair,
  concludeTrial,
  metricsBeside,
  pairOf,
  returningPair,
  type Held,
} from './conclude-trial.ts';
import { armsOf } from './arm-files.ts';
import { findAtFault } from './find-at-fault.ts';
import { tapChecks } from './tap-checks.ts';

/** Longer than the slower arm takes to rest, so that both are watched for the same time. */
const WINDOW_MARGIN_MS = 500;

/** Beyond this no further look is waited for: the clock knows nothing of the figures, so it may end a trial. */
const LONGEST_MS = 900_000;

/**
 * Runs a trial: both arms once to warm up (discarded; they give the window's length and the final pictures),
 * then pairs, the order within each drawn at random, as many as were asked for or until nothing is open. A plan that
 * is earlier is then held under the conditions of the other kind of device as well; where the page breaks, the rule
 * that does it is looked for.
 */
export async function runTrial(request: TrialRequest): Promise<Trial> {
  const there = request.bothDevices ? elsewhere(request) : null;
  const held = await holdPairs(request, { where: '', before: 0, after: there ? leastSteps(there) : 0 });
  const here = await judged(request, held);
  const isEarlier = here.result.paint.verdict === 'earlier';
  const other = there && isEarlier ? await onOtherDevice(request, held, there) : null;
  const otherDevice =
    other &&
    otherDeviceOf(
      other.request.conditions,
      other.held.pairs,
      other.result,
      other.held.setting.quality.tooBusy,
    );
  return concludeTrial(request, held, {
    ...here.checks,
    otherDevice,
    atFault: await findAtFault(here, other),
  });
}

/** A trial's pairs as they were judged. */
interface Judged {
  request: TrialRequest;
  held: Held;
  checks: TrialChecks;
  result: TrialResult;
}

async function judged(request: TrialRequest, held: Held): Promise<Judged> {
  const checks = await checksOf(request, held);
  return { request, held, checks, result: judge(held.pairs, checks, request, tailsOf(request.pairs)) };
}

/** The same bytes and plan on the other kind of device. */
async function onOtherDevice(request: TrialRequest, here: Held, there: TrialRequest): Promise<Judged> {
  const held = await holdPairs(
    { ...there, yardstick: here.setting.yardstick },
    {
      where: `On ${deviceName(there.conditions)}: `,
      before: 2 + here.pairs.length * (2 + request.beside.length) + TAP_STEPS,
      after: 0,
    },
  );
  return judged(there, held);
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
    taps: false,
    beside: [],
  };
}

/** So many of a trial's steps are taps. */
const TAP_STEPS = 3;

/** Both arms once to warm up, and once in each pair. */
const leastSteps = (request: TrialRequest) => 2 + pairsWanted(request.pairs, []) * 2;

/** Where some pairs stand among all that a trial takes: steps before and after them, and how each begins in words. */
interface Part {
  where: string;
  before: number;
  after: number;
}

/** One load of each arm that is judged, until it rests; and what can be done on the page as it is. */
async function warmUp(lab: Lab, onLoad: (arm: ArmId, step: number) => void) {
  let found: FoundDeed[] = [];
  const load = async (arm: ArmId, step: number, act: (visit: Visit) => Promise<void>) => {
    onLoad(arm, step);
    return (await lab.load(arm, { windowMs: null, wantFinalPicture: true, act })).first;
  };
  const asIs = await load(AS_IS, 0, async ({ inPage }) => {
    found = await inPage.call('possibleDeeds');
  });
  return { warm: { asIs, treated: await load(TREATED, 1, () => Promise.resolve()) }, found };
}

function holdPairs(request: TrialRequest, { where, before, after }: Part): Promise<Held> {
  const seed = request.seed ?? Math.floor(Math.random() * 2 ** 31) + 1;
  const ids = [AS_IS, TREATED, ...request.beside.map(({ id }) => id)];
  const order = roundOrder(ids, seed);
  const began = performance.now();
  const isReturn = request.visit === 'return';
  const least = leastRounds(request.beside.length, request.pairs);
  const wantedAfter = (pairs: readonly Pair[]) => Math.max(least, pairsWanted(request.pairs, pairs));
  let wanted = wantedAfter([]);
  const stepsOf = (rounds: number) => 2 + rounds * ids.length;
  const taps = request.taps ? TAP_STEPS : 0;
  const say = (step: string, done: number) =>
    request.onProgress?.(
      (isReturn ? 'Return visits: ' : '') + where + step,
      before + done,
      before + stepsOf(wanted) + taps + after,
    );
  const nameOf = (arm: ArmId) => armName(arm, request.isAsIs);
  return Lab.with({ ...request, arms: armsOf(request) }, async (lab) => {
    const { warm, found } = await warmUp(lab, (arm, step) => say(`Warming up: ${nameOf(arm)}`, step));
    const windowMs =
      Math.max(warm.asIs.observation.windowMs, warm.treated.observation.windowMs) + WINDOW_MARGIN_MS;
    const pairs: Pair[] = [];
    const { rounds, ...quality } = await runRounds({
      order,
      wanted(taken) {
        pairs.push(
          ...taken
            .slice(pairs.length)
            .map((round) => comparedPair(pairOf(round, request.visit), request.treated, windowMs)),
        );
        const late = performance.now() - began > LONGEST_MS && pairs.length >= wantedAfter([]);
        wanted = late ? pairs.length : wantedAfter(pairs);
        return wanted;
      },
      ...timedLoads(lab, (arm) => ({
        windowMs,
        wantReturnVisit:
          isReturn || (request.returnVisits && pairs.length < RETURN_PAIRS && /^(as-is|treated)$/.test(arm)),
      })),
      onLoad(arm, { round, turn, madeAgain }) {
        const again = madeAgain ? `, ${madeAgain} made again` : '';
        const more = request.pairs === 'until clear' && wanted < Math.max(...LOOKS) ? ' or more' : '';
        say(`Pair ${round + 1} of ${wanted}${more}${again}: ${nameOf(arm)}`, stepsOf(round) + turn);
      },
      ...(request.signal ? { signal: request.signal } : {}),
    });
    const tapped = await tapChecks(lab, {
      found: request.taps ? found : [],
      touch: request.conditions.touch,
      windowMs,
      onTap: (words, done) => say(`Tried in both arms: ${words}`, stepsOf(rounds.length) + done),
      ...(request.signal ? { signal: request.signal } : {}),
    });
    return {
      runs: rounds.map((round) => pairOf(round, request.visit)),
      pairs,
      returning: isReturn ? [] : rounds.flatMap(returningPair),
      taps: tapped,
      possible: found,
      beside: request.beside.map((one) => ({
        id: one.id,
        leftOut: one.page.notApplied.map(({ why }) => why),
        metrics: rounds.map((round) => metricsBeside(round, one, request.visit, windowMs)),
      })),
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
