import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it, vi } from 'vitest';
import { cancelled } from '../engine/errors.ts';
import { openDatabase, type Database } from '../store/database.ts';
import { addJob, findJob } from '../store/jobs.ts';
import { JobLoop } from './job-loop.ts';
import type { Work } from './jobs/kind.ts';

/** Work without a page: it never ends by itself, or at once. */
vi.mock('./jobs/index.ts', () => ({
  JOB_KINDS: new Map([
    ['never ends', { run: ({ carry }: Work) => carry({} as never) }],
    ['ends', { run: () => Promise.resolve() }],
  ]),
}));
vi.mock('../engine/jobs/job-client.ts', () => ({
  carryOutApart: (_order: unknown, _say: unknown, signal: AbortSignal) =>
    new Promise((_, reject) => signal.addEventListener('abort', () => reject(cancelled()))),
}));

let database: Database;
beforeAll(async () => {
  database = await openDatabase(mkdtempSync(join(tmpdir(), 'wistrel-loop-')), 'a test');
});
afterAll(() => database.close());

const readNothing = () => Promise.reject(new Error('nothing is read'));

async function carriedOut(on: Database, kind: string, deadlineMs?: number) {
  const id = await addJob(database, kind, null, 'slow-phone', { name: 'x' });
  const loop = new JobLoop(on, readNothing, deadlineMs);
  loop.start();
  await expect
    .poll(async () => (await findJob(database, id))!.state, { timeout: 15_000 })
    .not.toMatch(/waiting|running/);
  await loop.stop();
  return (await findJob(database, id))!;
}

it('ends work that would not end, and says so', async () => {
  const job = await carriedOut(database, 'never ends', 300);
  expect(job.state).toBe('failed');
  expect(job.message).toMatch(/^It was ended after 0 minutes: .* What was stored is kept\./);
});

it('says again how a job ended, where that could not be kept at first', async () => {
  let refused = 0;
  const unsteady: Database = {
    query: (sql, params) => {
      if (/SET state = \$2/.test(sql) && refused++ < 2) return Promise.reject(new Error('disk full'));
      return database.query(sql, params);
    },
    transaction: (work) => database.transaction(work),
    close: () => Promise.resolve(),
  };
  expect((await carriedOut(unsteady, 'ends')).state).toBe('done');
  expect(refused).toBe(3);
});
