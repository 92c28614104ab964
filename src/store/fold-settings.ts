import type { FamilyChoice, FamilyFigures } from '../core/fold/family.ts';
import { DEFAULT_FOLD_SETTINGS, type FoldSettings } from '../core/fold/settings.ts';
import type { Queries } from './database.ts';
import { jsonOf } from './storable.ts';

/** How a page's fold CSS is made; the built-in settings where the user has chosen nothing. */
export async function foldSettingsOf(queries: Queries, pageId: number): Promise<FoldSettings> {
  const [row] = await queries.query<{ data: FoldSettings }>(
    'SELECT data FROM fold_settings WHERE page_id = $1',
    [pageId],
  );
  return { ...DEFAULT_FOLD_SETTINGS, ...row?.data };
}

export async function saveFoldSettings(
  queries: Queries,
  pageId: number,
  settings: FoldSettings,
): Promise<void> {
  await queries.query(
    `INSERT INTO fold_settings (page_id, data) VALUES ($1, $2)
     ON CONFLICT (page_id) DO UPDATE SET data = $2, updated_at = now()`,
    [pageId, jsonOf(settings)],
  );
}

/** A family's sets: what the user chose, and the figures of the last time they were made. */
export interface FamilyFold {
  /** Null while the recommended one is followed. */
  choice: FamilyChoice | null;
  figures: FamilyFigures | null;
}

export async function familyFoldOf(queries: Queries, siteId: number, family: string): Promise<FamilyFold> {
  const [row] = await queries.query<FamilyFold>(
    'SELECT choice, figures FROM family_fold WHERE site_id = $1 AND family = $2',
    [siteId, family],
  );
  return row ?? { choice: null, figures: null };
}

export async function chooseForFamily(
  queries: Queries,
  siteId: number,
  family: string,
  choice: FamilyChoice | null,
): Promise<void> {
  await queries.query(
    `INSERT INTO family_fold (site_id, family, choice) VALUES ($1, $2, $3)
     ON CONFLICT (site_id, family) DO UPDATE SET choice = $3, updated_at = now()`,
    [siteId, family, choice],
  );
}

export async function keepFamilyFigures(
  queries: Queries,
  siteId: number,
  family: string,
  figures: FamilyFigures,
): Promise<void> {
  await queries.query(
    `INSERT INTO family_fold (site_id, family, figures) VALUES ($1, $2, $3)
     ON CONFLICT (site_id, family) DO UPDATE SET figures = $3, updated_at = now()`,
    [siteId, family, jsonOf(figures)],
  );
}
