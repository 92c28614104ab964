import { afterAll, beforeAll, expect, it, vi } from 'vitest';
import { emptyData } from '../../tests/data-folders.ts';
import { cancelled } from '../engine/errors.ts';
import { openDatabase, type Database, type Queries } from '../store/database.ts';
import { addJob, findJob } from '../store/jobs.ts';
import { JobLoop } from './job-loop.ts';
import type { Work } from './jobs/kind.ts';

const FOUND = { found: [{ url: 'https://www.quay.test/', name: 'Quay' }] };
const keepFound = (queries: Queries) =>
  queries.query("UPDATE job SET result = $1 WHERE state = 'running'", [JSON.stringify(FOUND)]);

/** Work without a page: it never ends by itself, or at once, with something to keep or without. */
vi.mock('./jobs/index.ts', () => ({
  JOB_KINDS: new Map([
    ['never ends', { run: ({ carry }: Work) => carry({} as never) }],
    ['ends', { run: () => Promise.resolve(null) }],
    ['keeps', { run: () => Promise.resolve({ keep: keepFound }) }],
    [
      'stumbles',
      {
        run: () =>
          Promise.resolve({ keep: keepFound, afterwards: () => Promise.reject(new Error('no page')) }),
      },
    ],
  ]),
}));
vi.mock('../engine/jobs/job-client.ts', () => ({
  carryOutApart: (_order: unknown, _say: unknown, signal: AbortSignal) =>
    new Promise((_, reject) => signal.addEventListener('abort', () => reject(cancelled()))),
}));

let database: Database;
beforeAll(async () => {
  database = await openDatabase(emptyData(), 'a test');
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

/** The database, whose transactions break at their end so often. */
function unsteady(times: number): Database {
  return {
    seals: database.seals,
    query: (sql, params) => database.query(sql, params),
    transaction: (work) =>
      database.transaction(async (queries) => {
        const result = await work({
          seals: queries.seals,
          query: async (sql, params) => {
            const rows = await queries.query(sql, params);
            if (/SET state = \$2/.test(sql) && times-- > 0) throw new Error('disk full');
            return rows as never;
          },
        });
        return result;
      }),
    close: () => Promise.resolve(),
  };
}

it('keeps what came of a job with its end or not at all, and tries again where that could not be kept', async () => {
  expect(await carriedOut(unsteady(2), 'keeps')).toMatchObject({ state: 'done', result: FOUND });
  // Four times it could not be said that it is done; that it failed could.
  const lost = await carriedOut(unsteady(4), 'keeps');
  expect(lost).toMatchObject({ state: 'failed', result: null, message: 'It broke off: disk full' });
});

it('says of what followed from a job that it failed, and keeps what came of it', async () => {
  expect(await carriedOut(database, 'stumbles')).toMatchObject({
    state: 'failed',
    result: FOUND,
    message: 'It broke off: no page',
  });
});
