import type { Database, Queries } from './database.ts';

export type JobKind = 'measure' | 'fold' | 'trial';
export type JobState = 'waiting' | 'running' | 'done' | 'failed' | 'cancelled' | 'interrupted';

export interface Job {
  id: number;
  kind: JobKind;
  pageId: number;
  pageName: string;
  conditionsId: string;
  state: JobState;
  step: string;
  done: number;
  total: number;
  message: string | null;
  /** A certificate that was met and may be accepted. */
  certificate: { host: string; publicKeyHash: string; subject: string; validTo: string } | null;
  endedAt: string | null;
}

const JOB = `job.id, job.kind, job.page_id AS "pageId", page.name AS "pageName", job.conditions_id AS "conditionsId", job.state, job.step,
  job.done, job.total, job.message, job.certificate, to_char(job.ended_at AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') AS "endedAt"`;
const FROM = 'FROM job JOIN page ON page.id = job.page_id';

export async function addJob(
  queries: Queries,
  kind: JobKind,
  pageId: number,
  conditionsId: string,
): Promise<number> {
  const [row] = await queries.query<{ id: number }>(
    'INSERT INTO job (kind, page_id, conditions_id) VALUES ($1, $2, $3) RETURNING id',
    [kind, pageId, conditionsId],
  );
  return row!.id;
}

/** Jobs that wait or run, in their order, and the last that ended. */
export function listJobs(queries: Queries): Promise<Job[]> {
  return queries.query<Job>(
    `SELECT ${JOB} ${FROM} WHERE job.state IN ('waiting', 'running')
       OR job.id IN (SELECT max(id) FROM job WHERE state NOT IN ('waiting', 'running') GROUP BY page_id, kind)
     ORDER BY job.id`,
  );
}

export async function findJob(queries: Queries, id: number): Promise<Job | null> {
  return (await queries.query<Job>(`SELECT ${JOB} ${FROM} WHERE job.id = $1`, [id]))[0] ?? null;
}

/** Takes the next waiting job; null when there is none. */
export function claimJob(database: Database): Promise<Job | null> {
  return database.transaction(async (queries) => {
    const [next] = await queries.query<{ id: number }>(
      "SELECT id FROM job WHERE state = 'waiting' ORDER BY id LIMIT 1 FOR UPDATE SKIP LOCKED",
    );
    if (!next) return null;
    await queries.query("UPDATE job SET state = 'running', started_at = now() WHERE id = $1", [next.id]);
    return findJob(queries, next.id);
  });
}

export async function reportProgress(
  queries: Queries,
  id: number,
  step: string,
  done: number,
  total: number,
): Promise<void> {
  await queries.query("UPDATE job SET step = $2, done = $3, total = $4 WHERE id = $1 AND state = 'running'", [
    id,
    step,
    done,
    total,
  ]);
}

export async function endJob(
  queries: Queries,
  id: number,
  state: JobState,
  message: string | null,
  certificate: Job['certificate'] = null,
): Promise<void> {
  await queries.query(
    'UPDATE job SET state = $2, message = $3, certificate = $4, ended_at = now() WHERE id = $1',
    [id, state, message, certificate ? JSON.stringify(certificate) : null],
  );
}

/** Asks a job to stop; one that has not begun is cancelled at once. */
export async function askCancel(queries: Queries, id: number): Promise<void> {
  await queries.query(
    `UPDATE job SET cancel_asked = true,
       state = CASE WHEN state = 'waiting' THEN 'cancelled' ELSE state END,
       ended_at = CASE WHEN state = 'waiting' THEN now() ELSE ended_at END
     WHERE id = $1 AND state IN ('waiting', 'running')`,
    [id],
  );
}

export async function cancelAsked(queries: Queries, id: number): Promise<boolean> {
  // A deleted page takes its jobs with it: work for it is pointless.
  const [row] = await queries.query<{ cancel_asked: boolean }>('SELECT cancel_asked FROM job WHERE id = $1', [
    id,
  ]);
  return row?.cancel_asked ?? true;
}

/** After a start: what was running when the application ended is marked, and waits for the user to retry. */
export async function markInterrupted(queries: Queries): Promise<void> {
  await queries.query(
    "UPDATE job SET state = 'interrupted', message = 'The application ended while this was running. Nothing stored before was lost; start it again.', ended_at = now() WHERE state = 'running'",
  );
}
