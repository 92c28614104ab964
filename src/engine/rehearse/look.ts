import { setTimeout as sleep } from 'node:timers/promises';
import { isEarlyClick, type Deed } from '../../core/checks/deed.ts';
import { KEPT_FOR_MS } from '../../core/treat/early-clicks.ts';
import type { Area } from '../../core/fold/record.ts';
import type { Outcome } from '../../core/rehearse/outcome.ts';
import type { Visit } from '../chromium/visit.ts';
import { lighterAreas, pixelsPerCssPixel, takePicture, takeWholePicture } from '../load/picture.ts';
import { perform } from './deeds.ts';
import type { Gatekeeper } from './gatekeeper.ts';
import { goThrough } from './own-checks.ts';
import type { PageMoments } from '../../core/rehearse/moments.ts';
import { rest } from './rehearsal-stage.ts';

/** A picture of a page, and the page as it was next to it. */
export interface Picture {
  png: Uint8Array;
  of: Outcome;
  /** How far the page was scrolled then, CSS px. */
  top: number;
  /** How many of its pixels a CSS pixel takes. */
  scale: number;
  /** How far down it reaches, in pixels of its own. */
  rows: number;
  /** Where it shows images from lighter files, in pixels of its own. */
  lighter: Area[];
}

/** A page at rest before any input, and once more after something was done where anything was. */
export interface Look {
  before: Outcome;
  after: Outcome | null;
  /** Of the first screenful before any input, of what a deed came to, or of the whole page. */
  picture: Picture;
  /** What the deed asked for that the capture holds no answer to. */
  unanswered: string[];
  /** What the document held before it rested; nothing where it was not noted. */
  moments: PageMoments;
  /** What of a check of the developer's does not hold, in words; null where all does, and for all else. */
  failed: string | null;
}

/** What is done on a page, and how. */
export interface Doing {
  deed: Deed;
  touch: boolean;
  /** It was done already, before the page rested. */
  isDone: boolean;
  /** What was tapped or pressed then is clicked once more, as a script clicks. */
  again: boolean;
  /** What waits until it is near may not be so after all that is done: it runs before the pages are held to each other. */
  wakes: boolean;
}

/** Looks at a page that rests, and where something is done, once more after that. */
export async function look(
  visit: Visit,
  gates: Gatekeeper,
  errors: readonly string[],
  { deed, touch, isDone, again, wakes }: Doing,
): Promise<Look> {
  const outcome = () => outcomeOf(visit, gates, errors, deed.kind === 'scroll');
  // What stands in for an embed is not what that is as authored; what a press on it shows and asks for has to be.
  if (await visit.inPage.call('pressStandIns')) await rest(visit, gates);
  const before = await outcome();
  const moments = await visit.inPage.call('notedMoments');
  // What is frozen for a picture does not move any more when something is done.
  const early = deed.kind === 'nothing' || deed.kind === 'key' ? await pictureOf(visit, before) : null;
  if (early && deed.kind === 'nothing')
    return { before, after: null, picture: early, unanswered: [], moments, failed: null };
  const known = gates.unanswered.length;
  let failed: string | null = null;
  if (deed.kind === 'own') failed = await goThrough(visit, gates, deed.check, touch);
  else if (!isDone) await perform(visit, gates, deed, touch);
  else if (again && isEarlyClick(deed)) await gates.whileTouched(() => visit.inPage.call('clickOn', deed.on));
  await rest(visit, gates);
  const whole = deed.kind === 'scroll';
  // Scrolled through, all of it has been near.
  if (wakes && !whole) {
    // A tap that found no answer is lost by then, as it is to a visitor who does not scroll.
    if (deed.kind === 'tap' || isEarlyClick(deed)) await sleep(KEPT_FOR_MS);
    await visit.inPage.call('aboutToPrint');
    await rest(visit, gates);
  }
  // Both pages are looked at from the same place.
  if (whole) await visit.inPage.call('toEnd');
  if (!early) await visit.inPage.call('untilStill');
  const after = await outcome();
  return {
    before,
    after,
    picture: early ?? (await (whole ? wholePictureOf(visit, after) : pictureOf(visit, after))),
    unanswered: gates.unanswered.slice(known),
    moments,
    failed,
  };
}

/** What is on screen. */
async function pictureOf(visit: Visit, of: Outcome): Promise<Picture> {
  const top = await visit.inPage.call('scrolledBy');
  const png = await takePicture(visit);
  const lighter = await lighterAreas(visit, png, top);
  return { png, of, top, scale: await pixelsPerCssPixel(visit, png), rows: Infinity, lighter };
}

async function wholePictureOf(visit: Visit, of: Outcome): Promise<Picture> {
  await visit.inPage.call('toTop');
  await visit.inPage.call('untilStill');
  const png = await takeWholePicture(visit);
  const scale = await pixelsPerCssPixel(visit, png);
  const rows = Math.round((await visit.inPage.call('pageHeight')) * scale);
  return { png, of, top: 0, scale, rows, lighter: await lighterAreas(visit, png, 0) };
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

/**
 * The roles and names that the page is told by to those who do not see it: of names, spaces at their ends and more than one
 * of them say nothing (Accessible Name and Description 1.2, 4.3.2).
 */
export async function rolesOf(visit: Visit): Promise<string[]> {
  const { nodes } = await visit.session.send('Accessibility.getFullAXTree');
  return nodes
    .flatMap(({ ignored, role, name }) => {
      const kind = String(role?.value ?? '');
      const words = String(name?.value ?? '')
        .replace(/\s+/g, ' ')
        .trim();
      return ignored || NO_ROLE.test(kind) ? [] : [`${kind} “${words.slice(0, 60)}”`];
    })
    .slice(0, MOST_ROLES);
}
