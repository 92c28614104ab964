import { AS_IS, TREATED, type ArmId } from '../../core/trial/arms.ts';
import { pairsWanted } from '../../core/trial/looks.ts';
import { roundOrder } from '../../core/trial/order.ts';
import { armName } from '../../core/words/arms.ts';
import { Lab } from '../lab/lab.ts';
import { runRounds, timedLoads } from '../lab/rounds.ts';
import { overridesOf } from '../replay/overrides.ts';
import type { Pair } from '../../core/trial/pair.ts';
import type { Trial, TrialRequest } from './trial.ts';
import { comparedPair, concludeTrial, pairOf } from './conclude-trial.ts';

/** Longer than the slower arm takes to rest, so that both are watched for the same time. */
const WINDOW_MARGIN_MS = 500;

/** Beyond this no further look is waited for: the clock knows nothing of the figures, so it may end a trial. */
const LONGEST_MS = 900_000;

/**
 * Runs a trial: both arms once to warm up (discarded; they give the window's length and the final pictures),
 * then pairs, the order within each drawn at random, as many as were asked for or until nothing is open.
 */
export function runTrial(request: TrialRequest): Promise<Trial> {
  const say = request.onProgress ?? (() => undefined);
  const seed = request.seed ?? Math.floor(Math.random() * 2 ** 31) + 1;
  const order = roundOrder([AS_IS, TREATED], seed);
  const began = performance.now();
  let wanted = pairsWanted(request.pairs, []);
  const steps = () => wanted * 2 + 2;
  const { documentUrl } = request.capture;
  const arms = [
    { name: AS_IS, overrides: overridesOf(documentUrl, request.asIs, request.answers) },
    { name: TREATED, overrides: overridesOf(documentUrl, request.treated, request.answers) },
  ];
  return Lab.with({ ...request, arms }, async (lab) => {
    const warmUp = async (arm: ArmId, step: number) => {
      say(`Warming up: ${armName(arm)}`, step, steps());
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
      ...timedLoads(lab, { windowMs }),
      onLoad(arm, { round, turn, madeAgain }) {
        const again = madeAgain ? `, ${madeAgain} made again` : '';
        const more = request.pairs === 'until clear' ? ' or more' : '';
        say(`Pair ${round + 1} of ${wanted}${more}${again}: ${armName(arm)}`, 2 + round * 2 + turn, steps());
      },
      ...(request.signal ? { signal: request.signal } : {}),
    });
    return concludeTrial(request, rounds.map(pairOf), pairs, warm, {
      windowMs,
      seed,
      order: rounds.map((_round, index) => order(index)),
      yardstick: lab.yardstick,
      quality,
    });
  });
}
