import type { Header } from '../core/measure/exchange.ts';
import { readSteps, type VisitSettings } from '../core/measure/visit.ts';
import type { Database, Queries } from './database.ts';
import { sealedFor } from './states.ts';

/** How a page is measured, as far as it may be shown. */
export interface PageSettings {
  runs: number;
  returnVisits: boolean;
  /** Give scripts the capture's clock and chance, so that replay can repeat their addresses. */
  ownClock: boolean;
  /** Steps before the capture, one a line. */
  steps: string;
}

export const DEFAULT_SETTINGS: PageSettings = { runs: 3, returnVisits: false, ownClock: true, steps: '' };

/** What the user gave to be signed in with. Read for measuring only; shown masked. */
export interface PageSecrets {
  headers: Header[];
  cookies: { name: string; value: string }[];
}

export async function settingsOf(queries: Queries, pageId: number): Promise<PageSettings> {
  const [row] = await queries.query<PageSettings>(
    'SELECT runs, return_visits AS "returnVisits", own_clock AS "ownClock", steps FROM page_setting WHERE page_id = $1',
    [pageId],
  );
  return row ?? DEFAULT_SETTINGS;
}

export async function secretsOf(queries: Queries, pageId: number): Promise<PageSecrets> {
  return (await openSecrets(queries, pageId)).secrets;
}

/** Whether something was given to be signed in with that cannot be opened here: the keys are not in a backup. */
export async function areSecretsLost(queries: Queries, pageId: number): Promise<boolean> {
  return (await openSecrets(queries, pageId)).areLost;
}

async function openSecrets(
  queries: Queries,
  pageId: number,
): Promise<{ secrets: PageSecrets; areLost: boolean }> {
  const [row] = await queries.query<{ sealed: Uint8Array }>(
    'SELECT sealed FROM page_secret WHERE page_id = $1',
    [pageId],
  );
  const text = row && (await queries.seals.open(row.sealed));
  if (!text) return { secrets: { headers: [], cookies: [] }, areLost: row !== undefined };
  return { secrets: JSON.parse(text) as PageSecrets, areLost: false };
}

/**
 * Stores settings and, where they are given, secrets: both or neither. Secrets that others take the place of are
 * forgotten; those that are cleared take along what captures of the page were made with.
 */
export async function saveSettings(
  database: Database,
  pageId: number,
  settings: PageSettings,
  secrets: PageSecrets | null,
): Promise<void> {
  const forgotten = await database.transaction(async (queries) => {
    await queries.query(
      `INSERT INTO page_setting (page_id, runs, return_visits, own_clock, steps) VALUES ($1, $2, $3, $4, $5)
       ON CONFLICT (page_id) DO UPDATE SET runs = $2, return_visits = $3, own_clock = $4, steps = $5`,
      [pageId, settings.runs, settings.returnVisits, settings.ownClock, settings.steps],
    );
    if (!secrets) return [];
    const isCleared = secrets.headers.length + secrets.cookies.length === 0;
    const before = isCleared ? await sealedFor(queries, 'page', pageId) : [];
    const replaced = await queries.query<{ sealed: Uint8Array }>(
      'DELETE FROM page_secret WHERE page_id = $1 RETURNING sealed',
      [pageId],
    );
    if (!isCleared)
      await queries.query('INSERT INTO page_secret (page_id, sealed) VALUES ($1, $2)', [
        pageId,
        await queries.seals.seal(JSON.stringify(secrets)),
      ]);
    // A page that never had any has steps of its own that its captures were made with: those stay.
    return replaced.length === 0 ? [] : [...before, ...replaced.map(({ sealed }) => sealed)];
  });
  await database.seals.forget(forgotten);
}

/** Settings and secrets together, as measuring needs them. */
export async function visitOf(queries: Queries, pageId: number): Promise<VisitSettings> {
  const [settings, secrets] = await Promise.all([settingsOf(queries, pageId), secretsOf(queries, pageId)]);
  return { ...secrets, steps: readSteps(settings.steps) };
}
