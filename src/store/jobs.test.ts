import { rmSync } from 'node:fs';
import { emptyData } from '../../tests/data-folders.ts';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { openDatabase, type Database } from './database.ts';
import {
  addJob,
  askCancel,
  cancelAsked,
  claimJob,
  endJob,
  findJob,
  listJobs,
  markInterrupted,
  moveJob,
  renewLease,
  reportProgress,
  secondsTaken,
} from './jobs.ts';
import { deletePages, ensurePage } from './sites.ts';

describe('the queue', () => {
  let folder: string;
  let database: Database;
  let pageId: number;
  const add = (kind: 'measure' | 'fold' | 'trial' = 'measure') =>
    addJob(database, kind, pageId, 'slow-phone');
  const endLease = (id: number) =>
    database.query("UPDATE job SET lease_until = now() - interval '1 second' WHERE id = $1", [id]);

  beforeAll(async () => {
    folder = emptyData();
    database = await openDatabase(folder, 'the tests');
  });
  beforeEach(async () => {
    await database.query('DELETE FROM job');
    pageId = (await ensurePage(database, 'https://www.quay.test/', 'Quay')).id;
  });
  afterAll(async () => {
    await database.close();
    rmSync(folder, { recursive: true, force: true });
  });

  it('hands jobs out in their order, which the user can change', async () => {
    const [first, second, third] = [await add(), await add('fold'), await add('trial')];
    await moveJob(database, third, 'first');
    await moveJob(database, first, 'down');
    const order = [];
    for (let job = await claimJob(database); job; job = await claimJob(database)) order.push(job.id);
    expect(order).toEqual([third, second, first]);
  });

  it('is not upset by moves beyond its ends, or of what is not waiting', async () => {
    const [first, second] = [await add(), await add('fold')];
    await moveJob(database, first, 'up');
    await moveJob(database, second, 'down');
    await moveJob(database, 999_999, 'first');
    expect((await claimJob(database))!.id).toBe(first);
    await moveJob(database, first, 'down');
    expect((await claimJob(database))!.id).toBe(second);
    expect(await claimJob(database)).toBeNull();
  });

  it('cancels at once what has not begun, and asks what runs', async () => {
    const [running, waiting] = [await add(), await add('fold')];
    await claimJob(database);
    await askCancel(database, waiting);
    await askCancel(database, running);
    expect((await findJob(database, waiting))!.state).toBe('cancelled');
    expect((await findJob(database, running))!.state).toBe('running');
    expect(await cancelAsked(database, running)).toBe(true);
    await endJob(database, running, 'cancelled', 'You stopped it.');
    expect((await findJob(database, running))!.message).toBe('You stopped it.');
  });

  it('marks what was running when the application ended, and keeps what waits', async () => {
    const [running, waiting] = [await add(), await add('fold')];
    await claimJob(database);
    await reportProgress(database, running, 'Replaying, run 2 of 3', 2, 3);
    await endLease(running);
    await markInterrupted(database);
    expect(await findJob(database, running)).toMatchObject({
      state: 'interrupted',
      step: 'Replaying, run 2 of 3',
      message: expect.stringContaining('Nothing stored before was lost') as string,
    });
    expect((await findJob(database, waiting))!.state).toBe('waiting');
  });

  it('takes what runs for running as long as somebody says so, whoever looks', async () => {
    const running = await add();
    await claimJob(database);
    await markInterrupted(database);
    expect((await findJob(database, running))!.state).toBe('running');
    await endLease(running);
    await renewLease(database, running);
    await markInterrupted(database);
    expect((await findJob(database, running))!.state).toBe('running');
  });

  it('lists what runs and waits, and of what ended the newest of each kind', async () => {
    const [old, newer, running, waiting] = [await add(), await add(), await add('fold'), await add('trial')];
    await endJob(database, old, 'failed', 'It did not answer.');
    await endJob(database, newer, 'done', null);
    await claimJob(database);
    expect((await listJobs(database)).map((job) => job.id)).toEqual([newer, running, waiting]);
  });

  it('says how long work took of late, by its kind, under the same conditions', async () => {
    const took = async (kind: 'measure' | 'fold', seconds: number, state = 'done') => {
      const id = await add(kind);
      await database.query(
        `UPDATE job SET state = $2, started_at = now() - interval '1 second' * $3, ended_at = now() WHERE id = $1`,
        [id, state, seconds],
      );
    };
    await took('measure', 900);
    for (let count = 0; count < 10; count++) {
      await took('measure', 40);
      await took('measure', 60);
    }
    await took('measure', 5, 'failed');
    await took('fold', 12);
    await add('fold');
    // The twenty that were done last: what took so long once is not among them.
    expect(await secondsTaken(database, 'slow-phone')).toEqual(
      new Map([
        ['fold', 12],
        ['measure', 50],
      ]),
    );
    expect(await secondsTaken(database, 'home-laptop')).toEqual(new Map());
  });

  it('drops the work of a page that is deleted', async () => {
    const id = await add();
    await deletePages(database, [pageId]);
    expect(await findJob(database, id)).toBeNull();
    expect(await cancelAsked(database, id)).toBe(true);
  });
});
