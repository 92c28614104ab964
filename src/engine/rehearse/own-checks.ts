import { setTimeout as sleep } from 'node:timers/promises';
import { failureWords, isSelector, type OwnCheck, type OwnStep } from '../../core/checks/own-check.ts';
import type { Visit } from '../chromium/visit.ts';
import type { Gatekeeper } from './gatekeeper.ts';
import { ONLY_A_KEY } from './deeds.ts';
import { rest } from './rehearsal-stage.ts';

/** What opens slowly, or comes once something was looked up, is waited for as long, ms. */
const SEEN_WITHIN_MS = 2_000;
const LOOK_AGAIN_MS = 100;

/** Goes through the steps of a check. @returns what could not be done or is not to be seen, in words; null where all holds */
export async function goThrough(
  visit: Visit,
  gates: Gatekeeper,
  { steps }: OwnCheck,
  touch: boolean,
): Promise<string | null> {
  let touched = false;
  let failed: string | null = null;
  for (const step of steps) {
    if (!(await holds(visit, step, touch))) {
      failed = failureWords(step);
      break;
    }
    if (step.do !== 'press' && step.do !== 'type') continue;
    touched = true;
    await rest(visit, gates);
  }
  // What waits for a visitor is to have run before the pages are held to each other.
  if (!touched) await visit.page.keyboard.press(ONLY_A_KEY);
  return failed;
}

async function holds({ page, inPage }: Visit, step: OwnStep, touch: boolean): Promise<boolean> {
  switch (step.do) {
    case 'press': {
      const point = await inPage.call('pressPoint', step.what, isSelector(step.what));
      if (!point) return false;
      await (touch ? page.touchscreen.tap(point.x, point.y) : page.mouse.click(point.x, point.y));
      return true;
    }
    case 'type':
      if (!(await inPage.call('focusField', step.into, isSelector(step.into)))) return false;
      await page.keyboard.type(step.text);
      return true;
    case 'see':
    case 'not see': {
      const wanted = step.do === 'see';
      for (const end = performance.now() + SEEN_WITHIN_MS; ; await sleep(LOOK_AGAIN_MS)) {
        if ((await inPage.call('isSeen', step.what, isSelector(step.what))) === wanted) return true;
        if (performance.now() > end) return false;
      }
    }
  }
}
