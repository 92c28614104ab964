import { rejectionOf, type RunCircumstances } from '../../core/measure/quality.ts';
import type { ArmId } from '../../core/trial/arms.ts';
import { stopIfCancelled } from '../errors.ts';
import { repeatsPerRun } from '../load/repeats.ts';
import type { TimedVisits } from '../load/timed-load.ts';
import type { Lab, LoadWish } from './lab.ts';

/** One load of each arm. */
export type Round<L = TimedVisits> = ReadonlyMap<ArmId, L>;

/** How an arm is loaded, and what the rule that rejects loads is told of one. */
export interface Loading<L> {
  load: (arm: ArmId) => Promise<L>;
  circumstancesOf: (loaded: L) => readonly RunCircumstances[];
}

export interface RoundsRequest<L> extends Loading<L> {
  /** The arms of a round in their order, by its number from 0. */
  order: (round: number) => readonly ArmId[];
  /** How many rounds are wanted, asked anew after each. */
  wanted: (rounds: readonly Round<L>[]) => number;
  /** Told before each load. */
  onLoad?: (arm: ArmId, state: { round: number; turn: number; madeAgain: number }) => void;
  signal?: AbortSignal;
}

export interface Rounds<L> {
  rounds: Round<L>[];
  /** Why each rejected round was. */
  rejected: string[];
  /** True when rounds had to be kept although the rule rejects them. */
  tooBusy: boolean;
}

/** Timed loads of a lab's arms. */
export function timedLoads(lab: Lab, wish: LoadWish | ((arm: ArmId) => LoadWish)): Loading<TimedVisits> {
  return {
    load: (arm) => lab.load(arm, typeof wish === 'function' ? wish(arm) : wish),
    circumstancesOf: ({ first, returning }) =>
      [first, ...(returning ? [returning] : [])].map((one) => one.observation.circumstances),
  };
}

/**
 * Loads arms round by round, one load of each in a round. A rejected load takes its round with it, and that is made
 * again; the rule sees the circumstances only, never the figures.
 */
export async function runRounds<L>(request: RoundsRequest<L>): Promise<Rounds<L>> {
  const rounds: Round<L>[] = [];
  const rejected: string[] = [];
  let tooBusy = false;
  for (let wanted; (wanted = request.wanted(rounds)) > rounds.length;) {
    stopIfCancelled(request.signal);
    const round = new Map<ArmId, L>();
    for (const [turn, arm] of request.order(rounds.length).entries()) {
      request.onLoad?.(arm, { round: rounds.length, turn, madeAgain: rejected.length });
      round.set(arm, await request.load(arm));
    }
    const why = [...round.values()]
      .flatMap(request.circumstancesOf)
      .map(rejectionOf)
      .find((one) => one !== null);
    if (why !== undefined && rejected.length < wanted * repeatsPerRun()) rejected.push(why);
    else {
      tooBusy ||= why !== undefined;
      rounds.push(round);
    }
  }
  return { rounds, rejected, tooBusy };
}
