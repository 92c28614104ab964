import type { Outcome } from '../../core/rehearse/outcome.ts';
import type { NamedElement } from '../../in-page/index.ts';
import type { Visit } from '../chromium/visit.ts';
import { takePicture } from '../load/timed-load.ts';
import type { Gatekeeper } from './gatekeeper.ts';
import { rest } from './rehearsal-stage.ts';

/** A page at rest before any input, and once more after the first touch where something waits for it. */
export interface Look {
  picture: Uint8Array;
  before: Outcome;
  after: Outcome | null;
}

/** What is done once a page rests: nothing, a key that nothing listens to, or a tap of a control. */
export type Touch = 'none' | 'key' | NamedElement;

/** Looks at a page that rests, and where it is touched, once more after that. */
export async function look(visit: Visit, gates: Gatekeeper, errors: string[], touch: Touch): Promise<Look> {
  const before = await outcomeOf(visit, gates, errors);
  const picture = await takePicture(visit);
  if (touch === 'none') return { picture, before, after: null };
  if (touch === 'key') await visit.page.keyboard.press('Shift');
  else await tap(visit, touch);
  await rest(visit, gates);
  return { picture, before, after: await outcomeOf(visit, gates, errors) };
}

async function tap(visit: Visit, control: NamedElement): Promise<void> {
  const point = await visit.inPage.call('touchPoint', control);
  if (point) await visit.page.mouse.click(point.x, point.y);
}

async function outcomeOf(visit: Visit, gates: Gatekeeper, errors: readonly string[]): Promise<Outcome> {
  await visit.inPage.call('fontsThere');
  await rest(visit, gates, 0);
  const globals = await visit.session.send('Runtime.evaluate', {
    expression: 'Object.getOwnPropertyNames(window).filter((name) => !/^\\d+$/.test(name))',
    returnByValue: true,
  });
  return {
    elements: await visit.inPage.call('seenElements'),
    globals: (globals.result.value as string[] | undefined) ?? [],
    errors: [...errors],
    // What treating adds is asked for beside what the page asks for.
    requests: [...new Set(gates.asked)].filter((one) => !/\/wistrel\/[\w.-]+$/.test(one)).sort(),
  };
}
