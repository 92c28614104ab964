/** A small generator with a seed (mulberry32), so that a failure can be had again. */
export function chance(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** Draws from it. */
export class Draw {
  readonly #random: () => number;

  constructor(seed: number) {
    this.#random = chance(seed);
  }

  share(): number {
    return this.#random();
  }

  below(count: number): number {
    return Math.floor(this.#random() * count);
  }

  of<T>(list: readonly T[]): T {
    return list[this.below(list.length)]!;
  }
}
