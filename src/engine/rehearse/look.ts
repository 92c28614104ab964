import type { Outcome } from '../../core/rehearse/outcome.ts';
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

/** Looks at a page that rests. @param touch whether to touch it and look again */
export async function look(visit: Visit, gates: Gatekeeper, errors: string[], touch: boolean): Promise<Look> {
  const before = await outcomeOf(visit, gates, errors);
  const picture = await takePicture(visit);
  if (!touch) return { picture, before, after: null };
  await visit.page.keyboard.press('Shift');
  await rest(visit, gates);
  return { picture, before, after: await outcomeOf(visit, gates, errors) };
}

async function outcomeOf(visit: Visit, gates: Gatekeeper, errors: readonly string[]): Promise<Outcome> {
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
