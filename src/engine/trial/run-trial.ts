import { AS_IS, TREATED, type ArmId } from '../../core/trial/arms.ts';
import { pairsWanted, roundOrder } from '../../core/trial/order.ts';
import { armName } from '../../core/words/arms.ts';
import { Lab } from '../lab/lab.ts';
import { runRounds } from '../lab/rounds.ts';
import { overridesOf } from '../replay/overrides.ts';
import type { Trial, TrialRequest } from './trial.ts';
import { comparedPairs, concludeTrial, pairsOf } from './conclude-trial.ts';

/** Longer than the slower arm takes to rest, so that both are watched for the same time. */
const WINDOW_MARGIN_MS = 500;

/**
 * Runs a trial: both arms once to warm up (discarded; they give the window's length and the final pictures),
 * then pairs, the order within each drawn at random.
 */
export function runTrial(request: TrialRequest): Promise<Trial> {
  const say = request.onProgress ?? (() => undefined);
  const seed = request.seed ?? Math.floor(Math.random() * 2 ** 31) + 1;
  const order = roundOrder([AS_IS, TREATED], seed);
  const steps = request.pairs * 2 + 2;
  const { documentUrl } = request.capture;
  const arms = [
    { name: AS_IS, overrides: overridesOf(documentUrl, request.asIs) },
    { name: TREATED, overrides: overridesOf(documentUrl, request.treated) },
  ];
  return Lab.with({ ...request, arms }, async (lab) => {
    const warmUp = async (arm: ArmId, step: number) => {
      say(`Warming up: ${armName(arm)}`, step, steps);
      return (await lab.load(arm, { windowMs: null, wantFinalPicture: true })).first;
    };
    const warm = { asIs: await warmUp(AS_IS, 0), treated: await warmUp(TREATED, 1) };
    const windowMs =
      Math.max(warm.asIs.observation.windowMs, warm.treated.observation.windowMs) + WINDOW_MARGIN_MS;
    const { rounds, ...quality } = await runRounds(lab, {
      order,
      wanted: (taken) => pairsWanted(request.pairs, comparedPairs(pairsOf(taken), windowMs)),
      wish: { windowMs },
      onLoad(arm, { round, turn, madeAgain }) {
        const again = madeAgain ? `, ${madeAgain} made again` : '';
        const step = Math.min(2 + round * 2 + turn, steps - 1);
        say(
          `Pair ${round + 1} of ${Math.max(round + 1, request.pairs)}${again}: ${armName(arm)}`,
          step,
          steps,
        );
      },
      ...(request.signal ? { signal: request.signal } : {}),
    });
    return concludeTrial(request, pairsOf(rounds), warm, {
      windowMs,
      seed,
      order: rounds.map((_round, index) => order(index)),
      yardstick: lab.yardstick,
      quality,
    });
  });
}
