import type { Database, Queries } from './database.ts';
import { jsonOf } from './storable.ts';

export type JobState = 'waiting' | 'running' | 'done' | 'failed' | 'cancelled' | 'interrupted';

export interface Job {
  id: number;
  /** Which work it is: the use cases know the kinds. */
  kind: string;
  /** Null for work that is of no page yet. */
  pageId: number | null;
  pageName: string;
  conditionsId: string;
  /** What the work needs beside its page, as its kind says: an upload, an address. */
  input: JobInput | null;
  /** What it found, where that is not stored elsewhere. */
  result: { found: { url: string; name: string }[] } | null;
  state: JobState;
  step: string;
  done: number;
  total: number;
  message: string | null;
  /** A certificate that was met and may be accepted. */
  certificate: { hosts: string[]; publicKeyHash: string; subject: string; validTo: string } | null;
  endedAt: string | null;
}

/** What a job is given beside its page, under a name that the queue shows. */
export type JobInput = { name: string } & Record<string, string | number>;

/** How long work counts as running without a word of the process that does it. */
export const LEASE_S = 8;

const JOB = `job.id, job.kind, job.page_id AS "pageId", COALESCE(page.name, job.input ->> 'name', '') AS "pageName",
  job.conditions_id AS "conditionsId", job.input, job.result, job.state, job.step,
  job.done, job.total, job.message, job.certificate, to_char(job.ended_at AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') AS "endedAt"`;
const LEASE = `now() + interval '${LEASE_S} seconds'`;
const FROM = 'FROM job LEFT JOIN page ON page.id = job.page_id';

/** Of so many pieces of work of a kind that were done of late it is taken how long one takes. */
const OF_LATE = 20;

/** How long work of each kind takes under conditions, s: the median of what was done of late. A kind that was never done is not in it. */
export async function secondsTaken(queries: Queries, conditionsId: string): Promise<Map<string, number>> {
  const rows = await queries.query<{ kind: string; seconds: number }>(
    `SELECT kind, percentile_cont(0.5) WITHIN GROUP (ORDER BY seconds)::float8 AS seconds
     FROM (SELECT kind, extract(epoch FROM ended_at - started_at) AS seconds,
             row_number() OVER (PARTITION BY kind ORDER BY id DESC) AS nth
           FROM job WHERE state = 'done' AND conditions_id = $1 AND started_at IS NOT NULL) done
     WHERE nth <= ${OF_LATE} GROUP BY kind`,
    [conditionsId],
  );
  return new Map(rows.map(({ kind, seconds }) => [kind, seconds]));
}

/** Work of a kind for a page that waits or runs; null for none. @param conditionsId under these alone, where it is given */
export async function unfinishedJob(
  queries: Queries,
  kind: string,
  pageId: number,
  conditionsId?: string,
): Promise<Job | null> {
  const same = (await listJobs(queries)).find(
    (job) =>
      job.kind === kind &&
      job.pageId === pageId &&
      (conditionsId === undefined || job.conditionsId === conditionsId) &&
      (job.state === 'waiting' || job.state === 'running'),
  );
  return same ?? null;
}

/** Puts work at the end of the queue. */
export async function addJob(
  queries: Queries,
  kind: string,
  pageId: number | null,
  conditionsId: string,
  input: JobInput | null = null,
): Promise<number> {
  const [row] = await queries.query<{ id: number }>(
    `INSERT INTO job (kind, page_id, conditions_id, input, rank)
     VALUES ($1, $2, $3, $4, (SELECT COALESCE(max(rank), 0) + 1 FROM job WHERE state IN ('waiting', 'running')))
     RETURNING id`,
    [kind, pageId, conditionsId, input && jsonOf(input)],
  );
  return row!.id;
}

/** Moves a waiting job before or behind its neighbour, or to the front. */
export async function moveJob(database: Database, id: number, where: 'up' | 'down' | 'first'): Promise<void> {
  await database.transaction(async (queries) => {
    const rows = await queries.query<{ id: number }>(
      "SELECT id FROM job WHERE state = 'waiting' ORDER BY rank, id FOR UPDATE",
    );
    const order = rows.map((row) => row.id).filter((one) => one !== id);
    const at = rows.findIndex((row) => row.id === id);
    if (at < 0) return;
    const to = where === 'first' ? 0 : Math.max(0, Math.min(order.length, at + (where === 'up' ? -1 : 1)));
    order.splice(to, 0, id);
    for (const [rank, job] of order.entries())
      await queries.query('UPDATE job SET rank = $2 WHERE id = $1', [job, rank + 1]);
  });
}

/** Keeps what a job found. */
export async function keepResult(queries: Queries, id: number, result: Job['result']): Promise<void> {
  await queries.query('UPDATE job SET result = $2 WHERE id = $1', [id, jsonOf(result)]);
}

/** Says of which page a job turned out to be. */
export async function setJobPage(queries: Queries, id: number, pageId: number): Promise<void> {
  await queries.query('UPDATE job SET page_id = $2 WHERE id = $1', [id, pageId]);
}

/** Jobs that wait or run, in their order, and the last that ended. */
export function listJobs(queries: Queries): Promise<Job[]> {
  return queries.query<Job>(
    `SELECT ${JOB} ${FROM} WHERE job.state IN ('waiting', 'running')
       OR job.id IN (SELECT max(id) FROM job WHERE state NOT IN ('waiting', 'running') GROUP BY page_id, kind)
     ORDER BY CASE job.state WHEN 'waiting' THEN 2 WHEN 'running' THEN 1 ELSE 0 END,
       CASE WHEN job.state = 'waiting' THEN job.rank END, job.id`,
  );
}

export async function findJob(queries: Queries, id: number): Promise<Job | null> {
  return (await queries.query<Job>(`SELECT ${JOB} ${FROM} WHERE job.id = $1`, [id]))[0] ?? null;
}

/** Whether something runs for a page, or for another one of its site: that may stand on what this one was captured as. */
export async function worksBeside(queries: Queries, pageId: number): Promise<boolean> {
  const rows = await queries.query(
    `SELECT 1 FROM job JOIN page ON page.id = job.page_id WHERE job.state = 'running'
       AND page.site_id = (SELECT site_id FROM page WHERE id = $1) LIMIT 1`,
    [pageId],
  );
  return rows.length > 0;
}

/** Takes the next waiting job; null when there is none. */
export function claimJob(database: Database): Promise<Job | null> {
  return database.transaction(async (queries) => {
    const [next] = await queries.query<{ id: number }>(
      "SELECT id FROM job WHERE state = 'waiting' ORDER BY rank, id LIMIT 1 FOR UPDATE SKIP LOCKED",
    );
    if (!next) return null;
    await queries.query(
      `UPDATE job SET state = 'running', started_at = now(), lease_until = ${LEASE} WHERE id = $1`,
      [next.id],
    );
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
    [id, state, message, certificate ? jsonOf(certificate) : null],
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

/** Says that a running job still has a process that does it. */
export async function renewLease(queries: Queries, id: number): Promise<void> {
  await queries.query(`UPDATE job SET lease_until = ${LEASE} WHERE id = $1 AND state = 'running'`, [id]);
}

/** Whether a job was asked to stop, or its page deleted: it takes its jobs with it. */
export async function cancelAsked(queries: Queries, id: number): Promise<boolean> {
  const [row] = await queries.query<{ cancel_asked: boolean }>('SELECT cancel_asked FROM job WHERE id = $1', [
    id,
  ]);
  return row?.cancel_asked ?? true;
}

/** Marks what counts as running but was left by its process: it waits for the user to retry. */
export async function markInterrupted(queries: Queries): Promise<void> {
  await queries.query(
    `UPDATE job SET state = 'interrupted', ended_at = now(),
       message = 'The application ended while this was running. Nothing stored before was lost; start it again.'
     WHERE state = 'running' AND (lease_until IS NULL OR lease_until < now())`,
  );
}
