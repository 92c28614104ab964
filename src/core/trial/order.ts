import type { Pair } from './verdict.ts';

/** So many pairs are taken beyond the planned ones, for those without a Speed Index. */
export const MOST_MORE_PAIRS = 2;

/** Which arm of a pair runs first, for each pair, from a seed: so that an order can be stated and repeated. */
export function armOrder(pairs: number, seed: number): ('as-is-first' | 'treated-first')[] {
  let state = seed >>> 0;
  const next = () => {
    // xorshift32 (Marsaglia 2003)
    state ^= state << 13;
    state >>>= 0;
    state ^= state >>> 17;
    state ^= state << 5;
    state >>>= 0;
    return state / 2 ** 32;
  };
  if (state === 0) state = 0x9e3779b9;
  for (let i = 0; i < 8; i++) next();
  return Array.from({ length: pairs }, () => (next() < 0.5 ? 'as-is-first' : 'treated-first'));
}

/**
 * How many pairs a trial takes, as far as can be told from those it has: one more for each without a Speed Index
 * (its picture did not rest in time), so that as many as planned have one. Where more lack it than could be made
 * up for, no more are taken. None is dropped, so that first paint is judged by all.
 */
export function pairsWanted(planned: number, taken: readonly Pair[]): number {
  const without = taken.filter(
    ({ asIs, treated }) => asIs.speedIndexMs === null || treated.speedIndexMs === null,
  ).length;
  return without <= MOST_MORE_PAIRS ? planned + without : planned;
}
