import type { StoredAnswers } from '../core/fold/record.ts';
import { Trouble } from '../engine/errors.ts';
import { CapturedPage } from '../core/page/captured-page.ts';
import { linkedSheets } from '../core/page/linked-sheets.ts';
import type { UseElsewhere } from '../engine/fold/generate-fold.ts';
import type { ResultOf } from '../engine/jobs/orders.ts';
import { bodiesOf, latestCapture } from '../store/captures.ts';
import type { Database } from '../store/database.ts';
import { familyFoldOf, foldSettingsOf, keepFamilyFigures } from '../store/fold-settings.ts';
import { latestAnswers } from '../store/proofs.ts';
import { stateOf } from '../store/states.ts';
import { listPages, type Page } from '../store/sites.ts';
import { foldFamily, type FamilyPage } from './family-fold.ts';
import type { Carry } from './carry.ts';
import type { Outcome } from './jobs/kind.ts';
import { keepingFold } from './keep.ts';

/** Makes a page's fold CSS from its newest capture, by the user's settings. */
export async function makeFold(
  database: Database,
  page: Page,
  carry: Carry,
  family: readonly StoredAnswers[] = [],
): Promise<Outcome & Pick<ResultOf<'fold'>, 'fold'>> {
  const stored = await latestCapture(database, page.id);
  if (!stored)
    throw new Trouble(
      'input',
      `${page.name} was not measured yet. Measure it first: fold CSS is made from its capture.`,
    );
  const [bodies, state, settings] = await Promise.all([
    bodiesOf(database, stored.id),
    stateOf(database, stored.id),
    foldSettingsOf(database, page.id),
  ]);
  const elsewhere = settings.rest === 'used-only' ? await usedElsewhere(database, page) : undefined;
  const made = await carry({
    kind: 'fold',
    pageName: page.name,
    capture: stored.capture,
    bodies,
    state,
    family,
    ...(elsewhere ? { elsewhere } : {}),
    ...settings,
  });
  return { fold: made.fold, keep: await keepingFold(page.id, stored.id, made) };
}

/** What the other measured pages of its site use. */
async function usedElsewhere(database: Database, page: Page): Promise<UseElsewhere> {
  const used = new Set<string>();
  const unknown: string[] = [];
  for (const one of await listPages(database)) {
    if (one.siteId !== page.siteId || one.id === page.id) continue;
    const answers = await latestAnswers(database, one.id);
    for (const key of answers?.everUsed ?? []) used.add(key);
    if (!answers && (await latestCapture(database, one.id))) unknown.push(one.name);
  }
  return { used: [...used], unknown };
}

/** What the other pages of its family said, where they share one set: a page made anew goes on serving them. */
export async function answersOfFamily(database: Database, page: Page): Promise<StoredAnswers[]> {
  if (!page.family) return [];
  const { choice, figures } = await familyFoldOf(database, page.siteId, page.family);
  if ((choice ?? figures?.choice) !== 'one set') return [];
  const others = (await listPages(database)).filter(
    (one) => one.siteId === page.siteId && one.family === page.family && one.id !== page.id,
  );
  const answers = await Promise.all(others.map((one) => latestAnswers(database, one.id)));
  return answers.filter((one) => one !== null);
}

/** Makes and keeps the sets of a page's whole family: the captured pages of its site that are in it. */
export async function makeFamilyFold(
  database: Database,
  page: Page,
  carryFor: (pageName: string) => Carry,
): Promise<Outcome> {
  if (!page.family)
    throw new Trouble('input', `${page.name} is in no family. Put it into one on the page board first.`);
  const pages: FamilyPage[] = [];
  for (const one of await listPages(database)) {
    if (one.siteId !== page.siteId || one.family !== page.family) continue;
    const stored = await latestCapture(database, one.id);
    if (!stored) continue;
    const { decisions } = await foldSettingsOf(database, one.id);
    pages.push({
      name: one.name,
      documentUrl: stored.capture.documentUrl,
      decisions,
      sheets: async () =>
        linkedSheets(new CapturedPage(stored.capture, await bodiesOf(database, stored.id))).sheets,
      make: async (others) => {
        const { fold, keep } = await makeFold(database, one, carryFor(one.name), others);
        await database.transaction(keep);
        return { answers: fold.answers, compressedBytes: fold.foldCompressedBytes };
      },
    });
  }
  if (pages.length === 0)
    throw new Trouble('input', `No page of ${page.family} was measured yet. Measure them first.`);
  const { choice } = await familyFoldOf(database, page.siteId, page.family);
  const { siteId, family } = page;
  const figures = await foldFamily(pages, choice);
  return { keep: (queries) => keepFamilyFigures(queries, siteId, family, figures) };
}
