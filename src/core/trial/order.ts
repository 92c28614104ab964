import type { ArmId } from './arms.ts';

/** In which order the arms of a round run, by its number: drawn from a seed, so that it can be stated and repeated. */
export function roundOrder(arms: readonly ArmId[], seed: number): (round: number) => readonly ArmId[] {
  const next = randomFrom(seed);
  const drawn: ArmId[][] = [];
  return (round) => {
    while (drawn.length <= round) drawn.push(shuffled(arms, next));
    return drawn[round]!;
  };
}

/** Fisher and Yates, as Durstenfeld 1964 has it. */
function shuffled(arms: readonly ArmId[], next: () => number): ArmId[] {
  const order = [...arms];
  for (let last = order.length - 1; last > 0; last--) {
    const other = Math.floor(next() * (last + 1));
    [order[last], order[other]] = [order[other]!, order[last]!];
  }
  return order;
}

/** xorshift32 (Marsaglia 2003): numbers from 0 to below 1. */
function randomFrom(seed: number): () => number {
  let state = seed >>> 0 || 0x9e3779b9;
  const next = () => {
    state ^= state << 13;
    state >>>= 0;
    state ^= state >>> 17;
    state ^= state << 5;
    state >>>= 0;
    return state / 2 ** 32;
  };
  for (let i = 0; i < 8; i++) next();
  return next;
}
