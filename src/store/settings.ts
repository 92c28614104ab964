import type { Header } from '../core/measure/exchange.ts';
import { readSteps, type VisitSettings, type VisitState } from '../core/measure/visit.ts';
import type { Database, Queries } from './database.ts';
import { jsonOf } from './storable.ts';

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
  const [row] = await queries.query<{ data: PageSecrets }>(
    'SELECT data FROM page_secret WHERE page_id = $1',
    [pageId],
  );
  return row?.data ?? { headers: [], cookies: [] };
}

/** Stores settings and, where they are given, secrets: both or neither. */
export async function saveSettings(
  database: Database,
  pageId: number,
  settings: PageSettings,
  secrets: PageSecrets | null,
): Promise<void> {
  await database.transaction(async (queries) => {
    await queries.query(
      `INSERT INTO page_setting (page_id, runs, return_visits, own_clock, steps) VALUES ($1, $2, $3, $4, $5)
       ON CONFLICT (page_id) DO UPDATE SET runs = $2, return_visits = $3, own_clock = $4, steps = $5`,
      [pageId, settings.runs, settings.returnVisits, settings.ownClock, settings.steps],
    );
    if (!secrets) return;
    await queries.query('DELETE FROM page_secret WHERE page_id = $1', [pageId]);
    if (secrets.headers.length + secrets.cookies.length > 0)
      await queries.query('INSERT INTO page_secret (page_id, data) VALUES ($1, $2)', [
        pageId,
        jsonOf(secrets),
      ]);
  });
}

/** Settings and secrets together, as measuring needs them. */
export async function visitOf(queries: Queries, pageId: number): Promise<VisitSettings> {
  const [settings, secrets] = await Promise.all([settingsOf(queries, pageId), secretsOf(queries, pageId)]);
  return { ...secrets, steps: readSteps(settings.steps) };
}

/** What the browser held before a capture's load; null for any visitor. */
export async function stateOf(queries: Queries, captureId: number): Promise<VisitState | null> {
  const [row] = await queries.query<{ data: VisitState }>(
    'SELECT data FROM capture_state WHERE capture_id = $1',
    [captureId],
  );
  return row?.data ?? null;
}
