import { ruleDifferences, type RuleDifferences } from '../core/fold/differences.ts';
import type { FamilyChoice, FamilyFigures } from '../core/fold/family.ts';
import type { FoldSettings } from '../core/fold/settings.ts';
import { latestCapture } from '../store/captures.ts';
import type { Queries } from '../store/database.ts';
import { familyFoldOf, foldSettingsOf } from '../store/fold-settings.ts';
import { latestFold, latestFolds, type StoredFold } from '../store/proofs.ts';
import { findPage, listPages } from '../store/sites.ts';
import { whyFoldStale } from './staleness.ts';

/** A page of the family as its table tells it. */
export interface FamilyRow {
  pageId: number;
  name: string;
  foldCompressedBytes: number | null;
  headCompressedBytes: number | null;
  state: 'none' | 'proved' | 'not proved';
  shared: boolean;
  /** What changed since its set was made; none when it is current. */
  changes: string[];
  captured: boolean;
}

export interface FoldFamilyView {
  name: string;
  choice: FamilyChoice | null;
  figures: FamilyFigures | null;
  pages: FamilyRow[];
}

export type FoldView = StoredFold & {
  stale: boolean;
  changes: string[];
  settings: FoldSettings;
  /** True when settings were changed after the set was made. */
  settingsChanged: boolean;
  /** Against the set before; null for the first. */
  since: (RuleDifferences & { takenAt: string }) | null;
  family: FoldFamilyView | null;
};

/** The newest set of a page with all its stage shows; null where none was made. */
export async function foldView(queries: Queries, pageId: number): Promise<FoldView | null> {
  const [fold, before] = await latestFolds(queries, pageId);
  if (!fold) return null;
  const [changes, settings] = await Promise.all([
    whyFoldStale(queries, pageId, fold),
    foldSettingsOf(queries, pageId),
  ]);
  return {
    ...fold,
    changes,
    stale: changes.length > 0,
    settings,
    settingsChanged:
      JSON.stringify(settings.decisions) !== JSON.stringify(fold.decisions) ||
      (fold.late !== null && settings.rest !== fold.late.asked) ||
      settings.budgetBytes !== fold.budgetBytes ||
      !sameViewports(settings, fold),
    since: before && { ...ruleDifferences(before.sheets, fold.sheets), takenAt: before.takenAt },
    family: await familyView(queries, pageId),
  };
}

function sameViewports(settings: FoldSettings, fold: StoredFold): boolean {
  const made = fold.viewports.filter((one) => !one.between);
  return (
    made.length === settings.viewports.length &&
    settings.viewports.every((one) =>
      made.some(
        (other) =>
          other.width === one.width &&
          other.height === one.height &&
          (other.foldHeight ?? other.height) === (one.foldHeight ?? one.height),
      ),
    )
  );
}

async function familyView(queries: Queries, pageId: number): Promise<FoldFamilyView | null> {
  const page = await findPage(queries, pageId);
  if (!page?.family) return null;
  const pages: FamilyRow[] = [];
  for (const one of await listPages(queries)) {
    if (one.siteId !== page.siteId || one.family !== page.family) continue;
    const fold = await latestFold(queries, one.id);
    pages.push({
      pageId: one.id,
      name: one.name,
      foldCompressedBytes: fold?.foldCompressedBytes ?? null,
      headCompressedBytes: fold?.headCompressedBytes ?? null,
      state: fold ? (fold.proved ? 'proved' : 'not proved') : 'none',
      shared: fold?.shared ?? false,
      changes: fold ? await whyFoldStale(queries, one.id, fold) : [],
      captured: (await latestCapture(queries, one.id)) !== null,
    });
  }
  return { name: page.family, ...(await familyFoldOf(queries, page.siteId, page.family)), pages };
}
