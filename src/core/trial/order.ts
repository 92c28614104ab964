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
