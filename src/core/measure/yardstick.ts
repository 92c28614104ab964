/** The present form of the yardstick. Another form means other figures: measurements carry it. */
export const YARDSTICK_VERSION = 2;

/** How fast a machine is, by a short benchmark in its own Chromium. */
export interface Yardstick {
  version: typeof YARDSTICK_VERSION;
  /** Running and parsing scripts: rounds a second, the best of several tries. */
  script: number;
  /** Matching rules to some thousand elements and laying them out: rounds a second. */
  page: number;
  /** What the machine was then: processor, cores, browser. Another one means measuring it again. */
  machine: string;
  takenAt: string;
  /** False where others used the machine whenever it was tried. */
  quiet: boolean;
}

/** The form before: arithmetic, text and objects alone, and full speed put at another place. */
export interface EarlierYardstick {
  version: 1;
  score: number;
  machine: string;
  takenAt: string;
}

/** A yardstick as a measurement carries it. */
export type AnyYardstick = Yardstick | EarlierYardstick;

/**
 * What counts as full speed, by convention: an office laptop a few years old, 1.25 times what one core of a
 * 2.5 GHz server does. "At 20 % speed" is a fifth of it.
 */
export const FULL_SPEED = { script: 3_300, page: 54 } as const;

/** What counted as full speed with the earlier form. */
const EARLIER_FULL_SPEED = 200;

/** Readings that lie further apart than this share are no reading of one machine: it is read again. */
export const READINGS_AGREE = 0.1;

/** Parts that lie further apart than this share are told apart. */
const PARTS_AGREE = 0.25;

/** Less than this share of what conditions ask for is said with every figure. */
const SHORT_BELOW = 0.95;

/** How this machine compares: 1 is full speed, 2 twice as fast; the two parts weigh the same. */
export function speedOf(yardstick: AnyYardstick): number {
  if (yardstick.version === 1) return yardstick.score / EARLIER_FULL_SPEED;
  const { script, page } = partsOf(yardstick);
  return Math.sqrt(script * page);
}

/** Speed at scripts, and at matching and laying out, each as a share of full speed. */
export function partsOf(yardstick: Yardstick): { script: number; page: number } {
  return { script: yardstick.script / FULL_SPEED.script, page: yardstick.page / FULL_SPEED.page };
}

/** Whether two readings may be of one machine. */
export function readingsAgree(
  a: Pick<Yardstick, 'script' | 'page'>,
  b: Pick<Yardstick, 'script' | 'page'>,
): boolean {
  const apart = (one: number, other: number) => Math.abs(one - other) / Math.max(one, other);
  return apart(a.script, b.script) <= READINGS_AGREE && apart(a.page, b.page) <= READINGS_AGREE;
}

/**
 * By what factor the CPU has to be slowed so that the page runs at the conditions' share of full speed. A
 * machine that is slower than that already is left alone (1).
 */
export function slowdownRate(cpuSlowdown: number, yardstick: AnyYardstick): number {
  return Math.max(1, Math.round(cpuSlowdown * speedOf(yardstick) * 100) / 100);
}

/** One sentence on what the emulated speed is worth on this machine. */
export function yardstickWords(cpuSlowdown: number, yardstick: AnyYardstick): string {
  const rate = slowdownRate(cpuSlowdown, yardstick);
  const short = shortfallWords(cpuSlowdown, yardstick);
  const slowed = rate === 1 ? 'not slowed' : `slowed ${rate.toLocaleString('en-GB')} times`;
  const apart = partsWords(yardstick);
  const when =
    yardstick.version === YARDSTICK_VERSION && !yardstick.quiet ? ' Others used it while this was read.' : '';
  const speed = `This machine runs at ${percent(speedOf(yardstick))} of full speed`;
  return `${short ?? `${speed}, ${slowed} for these conditions.`}${apart}${when}`;
}

/** Said with every figure that was taken on a machine below what the conditions ask for; null where it is not. */
export function shortfallWords(cpuSlowdown: number, yardstick: AnyYardstick): string | null {
  const wanted = cpuSlowdown * speedOf(yardstick);
  return wanted >= SHORT_BELOW
    ? null
    : `This machine runs at ${percent(speedOf(yardstick))} of full speed: slower than these conditions ask for, so times that the processor takes are too long.`;
}

/** Why figures that were taken with two yardsticks are not held against each other; null where they may be. */
export function yardsticksDiffer(a: AnyYardstick, b: AnyYardstick): string | null {
  return a.version === b.version
    ? null
    : 'They were taken with another yardstick: the processor was slowed by another measure, so times cannot be compared.';
}

function partsWords(yardstick: AnyYardstick): string {
  if (yardstick.version === 1) return '';
  const { script, page } = partsOf(yardstick);
  const apart = Math.abs(script - page) / Math.max(script, page) > PARTS_AGREE;
  return apart ? ` Scripts run at ${percent(script)}, style and layout at ${percent(page)} of it.` : '';
}

function percent(share: number): string {
  return `${Math.round(share * 100)} %`;
}
