import { setTimeout as sleep } from 'node:timers/promises';
import {
  chooseDeeds,
  deedWords,
  type DeedOnElement,
  type FoundDeed,
  type NamedElement,
} from '../../core/checks/deed.ts';
import { AS_IS, TREATED, type ArmId } from '../../core/trial/arms.ts';
import {
  answerOf,
  isInDoubt,
  MORE_LOADS,
  tapAnswer,
  type SeenAnswer,
  type TapCheck,
} from '../../core/trial/tap-answers.ts';
import { slowCpu } from '../chromium/emulate.ts';
import { LOAD_LIMITS, settled, type Visit } from '../chromium/visit.ts';
import { stopIfCancelled } from '../errors.ts';
import type { Lab } from '../lab/lab.ts';
import { tap } from '../rehearse/deeds.ts';

/** So many taps are tried in each arm, the telling ones first: each takes a load of both. */
const MOST_TAPS = 3;
/** How long the page is watched before it is tapped, ms: what changes then does so by itself. */
const WATCHED_MS = 800;
/** An answer is waited for so long, ms, and longer while something is still on its way over the line. */
const ANSWERED_MS = 3_000;
const ARRIVED = { ...LOAD_LIMITS, quietMs: 700, afterLoadMs: 6_000 };
const LOOK_EACH_MS = 200;

/** A tap to be tried. */
interface Tap {
  on: NamedElement;
  words: string;
}

export interface TapsRequest {
  /** What can be done on the page as it is. */
  found: readonly FoundDeed[];
  /** Only these are tried, by their words; the most telling ones where this is not said. */
  only?: readonly string[];
  touch: boolean;
  /** When the page is tapped, ms after its navigation: the same in both arms. */
  windowMs: number;
  onTap?: (words: string, done: number, of: number) => void;
  signal?: AbortSignal;
}

/**
 * Taps the page in both arms once it rests, each time on a load of its own, under the trial's conditions: how long the next
 * frame takes, and when the tap is answered. Where that is apart, the tap is tried twice more in each.
 */
export async function tapChecks(lab: Lab, request: TapsRequest): Promise<TapCheck[]> {
  const checks: TapCheck[] = [];
  const taps = tapsOf(request);
  for (const [index, one] of taps.entries()) {
    request.onTap?.(one.words, index, taps.length);
    const check = await tapCheck(lab, one, request);
    if (check) checks.push(check);
  }
  return checks;
}

function tapsOf({ found, only, touch }: TapsRequest): Tap[] {
  return chooseDeeds(found, touch)
    .flatMap((deed) => ('on' in deed && deed.kind === ('tap' satisfies DeedOnElement) ? [deed] : []))
    .map((deed) => ({ on: deed.on, words: deedWords(deed) }))
    .filter(({ words }) => only?.includes(words) ?? true)
    .slice(0, MOST_TAPS);
}

/** @returns null for a tap that reaches nothing as it is */
async function tapCheck(lab: Lab, { on, words }: Tap, request: TapsRequest): Promise<TapCheck | null> {
  const first = await tapOnce(lab, AS_IS, { on, answer: null }, request);
  if (!first) return null;
  const answer = answerOf(first);
  const seenIn = (arm: ArmId) => tapOnce(lab, arm, { on, answer }, request);
  const told = (seen: SeenAnswer | null) => tapAnswer(seen ?? NO_ANSWER, answer);
  const check: TapCheck = { words, asIs: [told(first)], treated: [told(await seenIn(TREATED))] };
  for (let again = 0; again < MORE_LOADS && isInDoubt(check); again++) {
    check.asIs.push(told(await seenIn(AS_IS)));
    check.treated.push(told(await seenIn(TREATED)));
  }
  return check;
}

/** What is not there to be tapped answers nothing. */
const NO_ANSWER: SeenAnswer = { delayMs: 0, changes: [], script: null };

/** @param answer by what its answer is known; null where it is not yet: any change ends the waiting */
async function tapOnce(
  lab: Lab,
  arm: ArmId,
  { on, answer }: { on: NamedElement; answer: readonly string[] | null },
  { touch, windowMs, signal }: TapsRequest,
): Promise<SeenAnswer | null> {
  stopIfCancelled(signal);
  let seen: SeenAnswer | null = null;
  await lab.load(arm, {
    windowMs,
    async act(visit) {
      await slowCpu(visit.session, lab.cpuRate);
      await visit.inPage.call('watchAnswers');
      await sleep(WATCHED_MS);
      await visit.inPage.call('aboutToTap');
      await tap(visit, on, touch);
      seen = await answered(visit, answer);
    },
  });
  const { script, ...rest } = seen ?? NO_ANSWER;
  return seen && { ...rest, script: script && lab.replay.capturedUrl(script) };
}

async function answered(visit: Visit, answer: readonly string[] | null): Promise<SeenAnswer | null> {
  const isThere = ({ changes }: SeenAnswer) =>
    changes.some(([sort]) => answer === null || answer.includes(sort));
  const until = performance.now() + (answer?.length === 0 ? 0 : ANSWERED_MS);
  let seen: SeenAnswer | null;
  do {
    await sleep(LOOK_EACH_MS);
    await settled(visit, ARRIVED);
    seen = await visit.inPage.call('answerSeen');
  } while (performance.now() < until && seen && !isThere(seen));
  // What changes with the answer, and the frame after it, are a moment behind it.
  await sleep(LOOK_EACH_MS);
  await slowCpu(visit.session, 1);
  return visit.inPage.call('answerSeen');
}
