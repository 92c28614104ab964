import type { HeldBack } from '../core/har/held-back.ts';
import type { VisitState } from '../core/measure/visit.ts';
import type { Queries } from './database-types.ts';

/** What a capture was made with, as it is sealed: the browser's state, and what was sent that lets somebody in. */
export interface CaptureSecrets {
  state: VisitState;
  held: readonly HeldBack[];
}

export const sealedState = (secrets: CaptureSecrets) => JSON.stringify(secrets);

/** Keeps what a capture was made with. Call it inside a transaction. */
export async function addCaptureSecrets(
  queries: Queries,
  captureId: number,
  secrets: CaptureSecrets,
): Promise<void> {
  await queries.query('INSERT INTO capture_state (capture_id, sealed) VALUES ($1, $2)', [
    captureId,
    await queries.seals.seal(sealedState(secrets)),
  ]);
}

/** What a capture was made with; null for any visitor's, and where it was cleared since. */
export async function captureSecretsOf(queries: Queries, captureId: number): Promise<CaptureSecrets | null> {
  const [row] = await queries.query<{ sealed: Uint8Array }>(
    'SELECT sealed FROM capture_state WHERE capture_id = $1',
    [captureId],
  );
  const text = row && (await queries.seals.open(row.sealed));
  return text ? (JSON.parse(text) as CaptureSecrets) : null;
}

/** What the browser held before a capture's load; null for any visitor. */
export async function stateOf(queries: Queries, captureId: number): Promise<VisitState | null> {
  return (await captureSecretsOf(queries, captureId))?.state ?? null;
}

/** Whether a capture was made signed in or after steps, whatever of that is still here. */
export async function isSignedIn(queries: Queries, captureId: number): Promise<boolean> {
  return (await queries.query('SELECT 1 FROM capture_state WHERE capture_id = $1', [captureId])).length > 0;
}

/** Whether what it was made with was cleared since, or is not here: such a capture is replayed without it. */
export async function isStateLost(queries: Queries, captureId: number): Promise<boolean> {
  return (await isSignedIn(queries, captureId)) && (await stateOf(queries, captureId)) === null;
}

/** What is sealed for a capture: to be forgotten once that is gone. */
export async function sealedForCapture(queries: Queries, captureId: number): Promise<Uint8Array[]> {
  const rows = await queries.query<{ sealed: Uint8Array }>(
    'SELECT sealed FROM capture_state WHERE capture_id = $1',
    [captureId],
  );
  return rows.map(({ sealed }) => sealed);
}

/** The same for a page, or a site's pages, and all captures of them. */
export async function sealedFor(queries: Queries, what: 'page' | 'site', id: number): Promise<Uint8Array[]> {
  const pages = what === 'page' ? 'page.id = $1' : 'page.site_id = $1';
  const rows = await queries.query<{ sealed: Uint8Array }>(
    `SELECT sealed FROM page_secret JOIN page ON page.id = page_id WHERE ${pages}
     UNION ALL SELECT sealed FROM capture_state JOIN capture ON capture.id = capture_id JOIN page ON page.id = page_id
     WHERE ${pages}`,
    [id],
  );
  return rows.map(({ sealed }) => sealed);
}
