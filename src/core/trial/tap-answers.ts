import { median } from '../measure/metrics.ts';
import { ms } from '../path/words.ts';

/** What a tap on a page at rest came to under a trial's conditions. */
export interface TapAnswer {
  /** From the tap to the next frame, ms (Event Timing, "duration": to 8 ms; less than 16 is told as 16). */
  delayMs: number;
  /** From the tap to the first change of the document that it does not make by itself, ms; null for none. */
  answeredMs: number | null;
  /** The script that held that frame up the longest; null for none, or where no frame took 50 ms. */
  script: string | null;
}

/** What was seen after a tap, in the page. */
export interface SeenAnswer {
  delayMs: number;
  /** What changed that does not by itself ("nav.menu class"), and when it first did, ms after the tap. */
  changes: readonly (readonly [sort: string, atMs: number])[];
  /** As the browser has its address. */
  script: string | null;
}

/** One tap as each arm answered it: once each, or three times where one load left a doubt. */
export interface TapCheck {
  /** "“Menu” (button.menu) tapped". */
  words: string;
  asIs: TapAnswer[];
  treated: TapAnswer[];
}

/** Up to a tenth of a second an answer is felt to be at once (Miller 1968, topic 1). */
const AT_ONCE_MS = 100;
/** So often a tap is tried again in each arm where its first answers are apart. */
export const MORE_LOADS = 2;

/**
 * What a tap's answer is known by: what changes first as is, with what changes as good as then. Scripts that waited for the
 * tap change other things, which is no answer to it.
 */
export function answerOf({ changes }: SeenAnswer): string[] {
  const first = Math.min(...changes.map(([, atMs]) => atMs));
  return changes.flatMap(([sort, atMs]) => (atMs - first < AT_ONCE_MS ? [sort] : []));
}

/** @param answer by what the tap's answer is known */
export function tapAnswer({ delayMs, changes, script }: SeenAnswer, answer: readonly string[]): TapAnswer {
  const times = changes.flatMap(([sort, atMs]) => (answer.includes(sort) ? [atMs] : []));
  return { delayMs, answeredMs: times.length ? Math.min(...times) : null, script };
}

/** Whether one load of each arm leaves it open that a tap is answered later as treated, or holds a frame up for longer. */
export function isInDoubt({ asIs, treated }: TapCheck): boolean {
  return isLater(asIs, treated) || isHeldUp(asIs, treated);
}

/** Taps that are surely answered later as treated, or no longer: each load of one arm after each load of the other. */
export function answeredLater(taps: readonly TapCheck[]): TapCheck[] {
  return taps.filter((tap) => isSettled(tap) && isLater(tap.asIs, tap.treated));
}

/** Taps after which the next frame surely comes later as treated. */
export function heldUp(taps: readonly TapCheck[]): TapCheck[] {
  return taps.filter((tap) => isSettled(tap) && isHeldUp(tap.asIs, tap.treated));
}

/** "“Menu” (button) tapped is answered 900 ms later". */
export function laterWords({ words, asIs, treated }: TapCheck): string {
  const [before, after] = [middle(asIs, 'answeredMs'), middle(treated, 'answeredMs')];
  return after === null || before === null
    ? `${words} is no longer answered`
    : `${words} is answered ${ms(after - before)} later`;
}

/** What longer waits for the next frame come to, in a sentence; null where there are none. */
export function heldUpWords(taps: readonly TapCheck[]): string | null {
  const parts = heldUp(taps).map(({ words, asIs, treated }) => {
    const script = treated.find((one) => one.script)?.script;
    const by = script ? `, held up by ${script}` : '';
    return `${words}, the next frame comes after ${ms(middle(treated, 'delayMs')!)}${by} (as is: ${ms(middle(asIs, 'delayMs')!)})`;
  });
  return parts.length ? `What answers a tap takes longer: ${parts.join('; ')}.` : null;
}

/** A median of the loads; null where most have none. */
export function middle(loads: readonly TapAnswer[], key: 'delayMs' | 'answeredMs'): number | null {
  const known = loads.flatMap((one) => one[key] ?? []);
  return known.length * 2 > loads.length ? median(known) : null;
}

function isSettled({ asIs, treated }: TapCheck): boolean {
  return Math.min(asIs.length, treated.length) > MORE_LOADS;
}

function isLater(asIs: readonly TapAnswer[], treated: readonly TapAnswer[]): boolean {
  const before = asIs.map((one) => one.answeredMs ?? Infinity);
  const after = treated.map((one) => one.answeredMs ?? Infinity);
  return Math.min(...after) - Math.max(...before) > AT_ONCE_MS;
}

function isHeldUp(asIs: readonly TapAnswer[], treated: readonly TapAnswer[]): boolean {
  const [before, after] = [asIs, treated].map((loads) => loads.map((one) => one.delayMs));
  return Math.min(...after!) - Math.max(...before!) > AT_ONCE_MS / 2;
}
