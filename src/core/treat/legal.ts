import type { PageScript, PageStyle } from '../page/page-assets.ts';
import { sightRefusal } from './sight.ts';
import { authoredMoment, runsBefore, type Turn } from './order.ts';
import { excerptAt, placeOf } from './places.ts';
import { matchName } from './plan.ts';
import type { OrderChange, Refusal } from './refusal.ts';
import { sharingOf, type Sharing } from './sharing.ts';
import type { Scene } from './treatment.ts';
import { treatmentOf } from './treatments/index.ts';

/** What is chosen for scripts and stylesheets, by treatment id; what is not in it is as authored. */
export type Choices = ReadonlyMap<PageScript | PageStyle, string>;

/**
 * The one place that says what may be done to a page: of choices, those that must not be carried out, each with the
 * reason. Recommending, offering, applying and plan files all ask here.
 *
 * A set of choices is legal when each asset can have its treatment at all, and when in the order that comes of it
 * every script that reads a name of another finds what it found as authored. What cannot be known is a conflict.
 */
export function refusalsIn(scene: Scene, choices: Choices): Map<PageScript | PageStyle, Refusal> {
  const refused = new Map<PageScript | PageStyle, Refusal>();
  for (const [asset, id] of choices) {
    const refusal = ownRefusal(scene, asset, id);
    if (refusal) refused.set(asset, refusal);
  }
  for (;;) {
    const left = without(choices, refused);
    const alone = [...left].find(([asset, id]) => missingBeside(scene, asset, id, left));
    if (alone) {
      const [asset, id] = alone;
      refused.set(asset, {
        code: 'goes-together',
        with: matchName(missingBeside(scene, asset, id, left)!.match),
      });
      continue;
    }
    const conflict = conflictIn(scene, left);
    if (!conflict) return refused;
    refused.set(conflict.culprit, conflict.refusal);
  }
}

/** Others that have to have the same treatment as an asset. */
export function companionsOf(
  scene: Scene,
  asset: PageScript | PageStyle,
  id: string,
): readonly (PageScript | PageStyle)[] {
  const companions =
    'facts' in asset
      ? treatmentOf('script', id)?.companions?.(asset, scene)
      : treatmentOf('stylesheet', id)?.companions?.(asset, scene);
  return companions ?? [];
}

/** One of those that has not; null where all have. */
function missingBeside(
  scene: Scene,
  asset: PageScript | PageStyle,
  id: string,
  choices: Choices,
): PageScript | PageStyle | null {
  return companionsOf(scene, asset, id).find((one) => choices.get(one) !== id) ?? null;
}

/** What came of wishes: those that are legal, with what has to move along, and why the others are not. */
export interface Settled {
  choices: Choices;
  /** Scripts that are not wished for but have to follow one that is. */
  moved: ReadonlyMap<PageScript, PageScript>;
  refused: ReadonlyMap<PageScript | PageStyle, Refusal>;
}

/**
 * Finds the largest set of wishes that is legal beside what is chosen already. Inline scripts that read what a wished
 * one defines follow it where its treatment lets them; where that cannot be done, the wish is dropped.
 */
export function settle(scene: Scene, chosen: Choices, wishes: Choices): Settled {
  const refused = new Map<PageScript | PageStyle, Refusal>();
  const legal = without(chosen, refusalsIn(scene, chosen));
  for (const [asset, id] of wishes) {
    const refusal = ownRefusal(scene, asset, id) ?? companionsRefusal(scene, asset, id, legal, wishes);
    if (refusal) refused.set(asset, refusal);
  }
  for (;;) {
    const choices = new Map([...legal, ...without(wishes, refused)]);
    const moved = new Map<PageScript, PageScript>();
    for (const [asset, id] of without(wishes, refused))
      for (const companion of companionsOf(scene, asset, id)) {
        if (!('facts' in companion) || !('facts' in asset)) continue;
        if (choices.has(companion) && !absorbs(id, choices.get(companion)!)) continue;
        choices.set(companion, id);
        moved.set(companion, asset);
      }
    let conflict = conflictIn(scene, choices);
    for (; conflict; conflict = conflictIn(scene, choices)) {
      const { writer, reader } = followable(conflict.sharing, choices);
      const becomes = choices.has(reader) ? null : followerTreatment(scene, writer, reader, choices);
      if (becomes === null) break;
      choices.set(reader, becomes);
      moved.set(reader, moved.get(writer) ?? writer);
    }
    if (!conflict) return { choices, moved, refused };
    // A script that only follows is not what was wished for: the one that it follows is.
    const { culprit } = conflict;
    const wished = 'facts' in culprit ? (moved.get(culprit) ?? culprit) : culprit;
    refused.set(wishes.has(wished) ? wished : conflict.sharing.reader, conflict.refusal);
    if (!wishes.has(wished) && !wishes.has(conflict.sharing.reader))
      return { choices: legal, moved: new Map(), refused };
  }
}

/** Why those that have to have the same treatment cannot have it; null where they can. */
export function companionsRefusal(
  scene: Scene,
  asset: PageScript | PageStyle,
  id: string,
  ...chosen: readonly Choices[]
): Refusal | null {
  for (const companion of companionsOf(scene, asset, id)) {
    const refusal = ownRefusal(scene, companion, id);
    if (refusal) return refusal;
    const otherwise = (choices: Choices) => {
      const own = choices.get(companion) ?? id;
      return own !== id && !absorbs(id, own);
    };
    if (chosen.some(otherwise)) return { code: 'goes-together', with: matchName(companion.match) };
  }
  return null;
}

/** Whether a treatment of a script does what another one does as well, so that this may end with it. */
function absorbs(id: string, own: string): boolean {
  return treatmentOf('script', id)?.absorbs?.includes(own) ?? false;
}

/** Of two that share something, the one that is moved, and the one that may follow it. */
function followable({ writer, reader, what }: Sharing, choices: Choices): Pick<Sharing, 'writer' | 'reader'> {
  const turned = what.by !== 'name' && !choices.has(writer) && choices.has(reader);
  return turned ? { writer: reader, reader: writer } : { writer, reader };
}

/** What an inline script becomes that has to follow one it reads from; null where it cannot. */
function followerTreatment(
  scene: Scene,
  writer: PageScript,
  reader: PageScript,
  choices: Choices,
): string | null {
  const id = choices.get(writer);
  const treatment = id === undefined ? null : treatmentOf('script', id);
  if (!treatment?.readersFollow || reader.element.url !== null) return null;
  if (!scene.page.scripts.includes(reader)) return null;
  return treatment.readersFollow.find((becomes) => !ownRefusal(scene, reader, becomes)) ?? null;
}

function ownRefusal(scene: Scene, asset: PageScript | PageStyle, id: string): Refusal | null {
  if ('facts' in asset) {
    const treatment = treatmentOf('script', id);
    if (!treatment?.isFor(asset, scene)) return { code: 'not-for-this', treatment: treatment?.label ?? id };
    return treatment.refuses(asset, scene) ?? sightRefusal(scene.page, asset, treatment.moment);
  }
  const treatment = treatmentOf('stylesheet', id);
  if (!treatment?.isFor(asset, scene)) return { code: 'not-for-this', treatment: treatment?.label ?? id };
  return treatment.refuses(asset, scene);
}

function without(choices: Choices, refused: ReadonlyMap<PageScript | PageStyle, Refusal>): Choices {
  return new Map([...choices].filter(([asset]) => !refused.has(asset)));
}

interface Conflict {
  culprit: PageScript;
  sharing: Sharing;
  refusal: Refusal;
}

/** The first thing that scripts share and that one of them would find otherwise than as authored. */
function conflictIn({ page }: Scene, choices: Choices): Conflict | null {
  const waitOf = (script: PageScript): Wait => {
    const id = choices.get(script);
    const moment = id === undefined ? undefined : treatmentOf('script', id)?.moment;
    return { moment: moment ?? authoredMoment(script), waitsBy: moment === 'later' ? id! : null };
  };
  for (const sharing of sharingOf(page)) {
    const { writer, reader } = sharing;
    const now = { writer: waitOf(writer), reader: waitOf(reader) };
    if (now.writer.moment === authoredMoment(writer) && now.reader.moment === authoredMoment(reader))
      continue;
    const how = whatChanges(sharing, now);
    if (how === null) continue;
    const culprit = now.writer.moment === authoredMoment(writer) ? reader : writer;
    return { culprit, sharing, refusal: refusalFor(sharing, how) };
  }
  return null;
}

/** When a script runs with what is chosen for it. */
type Wait = Pick<Turn, 'moment' | 'waitsBy'>;

function refusalFor({ writer, writerLine, reader, line, what }: Sharing, how: OrderChange): Refusal {
  const place = placeOf(reader, { line, excerpt: excerptAt(reader, line) });
  const other = placeOf(writer, { line: writerLine, excerpt: '' });
  switch (what.by) {
    case 'name':
      return { code: 'order', name: what.name, reader: place, how };
    case 'change':
      return { code: 'both-change', name: what.name, first: other, second: place };
    case 'elements':
      return { code: 'same-elements', token: what.token, first: other, second: place };
    case 'anything':
      return { code: 'anything', unknown: place, other };
  }
}

function whatChanges(
  { writer, writerPhase, reader, readerPhase, what }: Sharing,
  now: { writer: Wait; reader: Wait },
): OrderChange | null {
  const authored = authoredMoment(reader);
  if (now.reader.moment === 'never') return null;
  if (now.writer.moment === 'never') return what.by === 'name' ? 'gone' : null;
  const bothLater = now.writer.moment === 'later' && now.reader.moment === 'later';
  // What is there for a visitor's first touch as authored has to be there for it.
  if (what.by === 'name' && now.writer.moment === 'later' && !bothLater) return 'needed before';
  const before = runsBefore(
    { script: writer, moment: authoredMoment(writer), waitsBy: null, phase: writerPhase },
    { script: reader, moment: authored, waitsBy: null, phase: readerPhase },
  );
  if (before === null) return null;
  const after = runsBefore(
    { script: writer, ...now.writer, phase: writerPhase },
    { script: reader, ...now.reader, phase: readerPhase },
  );
  if (after === before) return null;
  if (bothLater && now.writer.waitsBy !== now.reader.waitsBy) return 'waits otherwise';
  if (now.writer.moment === 'any' || authored === 'any') return 'may come late';
  if (!before) return 'found already';
  return authored === 'parsed' ? 'reader deferred before' : 'read while parsed';
}
