import { setTimeout as sleep } from 'node:timers/promises';
import type { Deed } from '../../core/checks/deed.ts';
import type { Outcome } from '../../core/rehearse/outcome.ts';
import type { Visit } from '../chromium/visit.ts';
import { takePicture, takeWholePicture } from '../load/picture.ts';
import { perform } from './deeds.ts';
import type { Gatekeeper } from './gatekeeper.ts';
import { rest } from './rehearsal-stage.ts';

/** A page at rest before any input, and once more after something was done where anything was. */
export interface Look {
  before: Outcome;
  after: Outcome | null;
  /** Of the first screenful before any input, of what a deed came to, or of the whole page. */
  picture: Uint8Array;
  /** How far down it reaches, px. */
  pictureRows: number;
  /** How far the page was scrolled when it was taken, px. */
  pictureTop: number;
  /** What the deed asked for that the capture holds no answer to. */
  unanswered: string[];
}

/** What is done on a page, and how. */
export interface Doing {
  deed: Deed;
  touch: boolean;
  /** It was done already, before the page rested. */
  isDone: boolean;
}

/** Looks at a page that rests, and where something is done, once more after that. */
export async function look(
  visit: Visit,
  gates: Gatekeeper,
  errors: readonly string[],
  { deed, touch, isDone }: Doing,
): Promise<Look> {
  const outcome = () => outcomeOf(visit, gates, errors, deed.kind === 'scroll');
  const before = await outcome();
  // What is frozen for a picture does not move any more when something is done.
  const early = deed.kind === 'nothing' || deed.kind === 'key' ? await takePicture(visit) : null;
  if (deed.kind === 'nothing')
    return { before, after: null, picture: early!, pictureRows: Infinity, pictureTop: 0, unanswered: [] };
  const known = gates.unanswered.length;
  if (!isDone) await perform(visit, gates, deed, touch);
  await rest(visit, gates);
  const whole = deed.kind === 'scroll';
  // Both pages are looked at from the same place.
  if (whole) await visit.inPage.call('toEnd');
  if (!early) await visit.inPage.call('untilStill');
  const after = await outcome();
  const pictureTop = early || whole ? 0 : await visit.inPage.call('scrolledBy');
  if (whole) {
    await visit.inPage.call('toTop');
    await visit.inPage.call('untilStill');
  }
  return {
    before,
    after,
    picture: early ?? (await (whole ? takeWholePicture(visit) : takePicture(visit))),
    pictureRows: whole ? await visit.inPage.call('pageHeight') : Infinity,
    pictureTop,
    unanswered: gates.unanswered.slice(known),
  };
}

/** Longer than most slides of a slide show stand, ms. */
const IDLE_MS = 6_500;

/** Looks at a page that rests, and once more after nobody has done anything for a while. */
export async function lookTwice(
  visit: Visit,
  gates: Gatekeeper,
  errors: readonly string[],
): Promise<[Outcome, Outcome]> {
  const first = await outcomeOf(visit, gates, errors, true);
  await sleep(IDLE_MS);
  return [first, await outcomeOf(visit, gates, errors, true)];
}

async function outcomeOf(
  visit: Visit,
  gates: Gatekeeper,
  errors: readonly string[],
  withRoles: boolean,
): Promise<Outcome> {
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
    facts: await visit.inPage.call('pageFacts'),
    roles: withRoles ? await rolesOf(visit) : [],
  };
}

const MOST_ROLES = 2_000;
/** Said of every run of text, and by the elements that hold it. */
const NO_ROLE = /^(none|generic|InlineTextBox|StaticText|RootWebArea|LineBreak)$/;

/** The roles and names that the page is told by to those who do not see it. */
async function rolesOf(visit: Visit): Promise<string[]> {
  const { nodes } = await visit.session.send('Accessibility.getFullAXTree');
  return nodes
    .flatMap(({ ignored, role, name }) => {
      const kind = String(role?.value ?? '');
      return ignored || NO_ROLE.test(kind) ? [] : [`${kind} “${String(name?.value ?? '').slice(0, 60)}”`];
    })
    .slice(0, MOST_ROLES);
}
