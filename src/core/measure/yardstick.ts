/** How fast a machine is, by a short benchmark in its own Chromium. */
export interface Yardstick {
  /** Rounds of the benchmark a millisecond, the best of several tries. */
  score: number;
  /** What the machine was then: processor, cores, browser. Another one means measuring it again. */
  machine: string;
  takenAt: string;
}

/** The score that counts as full speed: an ordinary developer's laptop. "At 20 % speed" is a fifth of it. */
export const FULL_SPEED_SCORE = 200;

/** How this machine compares: 1 is full speed, 2 twice as fast. */
export function speedOf(yardstick: Yardstick): number {
  return yardstick.score / FULL_SPEED_SCORE;
}

/**
 * By what factor the CPU has to be slowed so that the page runs at the conditions' share of full speed. A
 * machine that is slower than that already is left alone (1).
 */
export function slowdownRate(cpuSlowdown: number, yardstick: Yardstick): number {
  return Math.max(1, Math.round(cpuSlowdown * speedOf(yardstick) * 100) / 100);
}

/** One sentence on what the emulated speed is worth on this machine. */
export function yardstickWords(cpuSlowdown: number, yardstick: Yardstick): string {
  const speed = Math.round(speedOf(yardstick) * 100);
  const rate = slowdownRate(cpuSlowdown, yardstick);
  const wanted = cpuSlowdown * speedOf(yardstick);
  const slowed = rate === 1 ? 'not slowed' : `slowed ${rate.toLocaleString('en-GB')} times`;
  return wanted < 0.95
    ? `This machine runs at ${speed} % of full speed: slower than these conditions ask for.`
    : `This machine runs at ${speed} % of full speed, ${slowed} for these conditions.`;
}
