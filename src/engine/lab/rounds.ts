import { rejectionOf } from '../../core/measure/quality.ts';
import type { ArmId } from '../../core/trial/arms.ts';
import { stopIfCancelled } from '../errors.ts';
import { repeatsPerRun } from '../load/repeats.ts';
import type { TimedVisits } from '../load/timed-load.ts';
import type { Lab, LoadWish } from './lab.ts';

/** One load of each arm. */
export type Round = ReadonlyMap<ArmId, TimedVisits>;

export interface RoundsRequest {
  /** The arms of a round in their order, by its number from 0. */
  order: (round: number) => readonly ArmId[];
  /** How many rounds are wanted, asked anew after each. */
  wanted: (rounds: readonly Round[]) => number;
  wish: LoadWish;
  /** Told before each load. */
  onLoad?: (arm: ArmId, state: { round: number; turn: number; madeAgain: number }) => void;
  signal?: AbortSignal;
}

export interface Rounds {
  rounds: Round[];
  /** Why each rejected round was. */
  rejected: string[];
  /** True when rounds had to be kept although the rule rejects them. */
  tooBusy: boolean;
}

/**
 * Loads arms round by round, one load of each in a round. A rejected load takes its round with it, and that is made
 * again; the rule sees the circumstances only, never the figures.
 */
export async function runRounds(lab: Lab, request: RoundsRequest): Promise<Rounds> {
  const rounds: Round[] = [];
  const rejected: string[] = [];
  let tooBusy = false;
  for (let wanted; (wanted = request.wanted(rounds)) > rounds.length;) {
    stopIfCancelled(request.signal);
    const round = new Map<ArmId, TimedVisits>();
    for (const [turn, arm] of request.order(rounds.length).entries()) {
      request.onLoad?.(arm, { round: rounds.length, turn, madeAgain: rejected.length });
      round.set(arm, await lab.load(arm, request.wish));
    }
    const why = rejectionIn(round);
    if (why !== null && rejected.length < wanted * repeatsPerRun()) rejected.push(why);
    else {
      tooBusy ||= why !== null;
      rounds.push(round);
    }
  }
  return { rounds, rejected, tooBusy };
}

function rejectionIn(round: Round): string | null {
  for (const { first, returning } of round.values()) {
    const why =
      rejectionOf(first.observation.circumstances) ??
      (returning && rejectionOf(returning.observation.circumstances));
    if (why !== null) return why;
  }
  return null;
}
