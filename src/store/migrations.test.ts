import { chmodSync, mkdtempSync, readdirSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { PGlite } from '@electric-sql/pglite';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { migrate, openDatabase, type Queries, type Seals, type Transactions } from './database.ts';
import { MIGRATIONS } from './ready-made.ts';
import { measurementsOf, earliestPaintOf, runsOf } from './measurements.ts';
import { listJobs } from './jobs.ts';
import { latestTrial } from './proofs.ts';

let pglite: PGlite;
let database: Transactions;

beforeAll(async () => {
  pglite = await PGlite.create();
  const queries = (inner: Pick<PGlite, 'query'>): Queries => ({
    query: async <T extends object>(sql: string, params: unknown[] = []) =>
      (await inner.query<T>(sql, params)).rows,
    get seals(): Seals {
      throw new Error('Nothing here is secret.');
    },
  });
  database = {
    query: queries(pglite).query,
    get seals() {
      return queries(pglite).seals;
    },
    transaction: <T>(work: (inner: Queries) => Promise<T>) =>
      pglite.transaction((inner) => work(queries(inner as unknown as PGlite))) as Promise<T>,
  };
  await migrate(database, '007');
  const spread = (median: number) => ({ median, min: median, max: median, runs: [median] });
  const conditions = { id: 'slow-phone', name: 'Slow phone', downKbps: 1_400 };
  const yardstick = { score: 594, machine: 'm', takenAt: '2026-11-01T00:00:00Z' };
  await database.query(`INSERT INTO site (name, origin) VALUES ('Quay', 'https://quay.test')`);
  await database.query(`INSERT INTO page (site_id, name, url) VALUES (1, 'Home', 'https://quay.test/')`);
  await database.query(`INSERT INTO capture (page_id, taken_at, data) VALUES (1, now(), '{}')`);
  await database.query(`INSERT INTO yardstick (machine, data) VALUES ('m', $1)`, [JSON.stringify(yardstick)]);
  await database.query(
    `INSERT INTO measurement (page_id, capture_id, conditions_id, taken_at, spreads, median_run, conditions, yardstick, quality)
     VALUES (1, 1, 'slow-phone', now(), $1, 0, $2, $3, '{}')`,
    [{ firstPaintMs: spread(900) }, conditions, yardstick].map((one) => JSON.stringify(one)),
  );
  const longTasks = [
    { startMs: 100, endMs: 400 },
    { startMs: 900, endMs: 980 },
  ];
  await database.query(`INSERT INTO run (measurement_id, position, data) VALUES (1, 0, $1)`, [
    JSON.stringify({ metrics: { firstPaintMs: 900 }, longTasks }),
  ]);
  const paired = { pairs: 6, differenceMs: -300, low: -320, high: -280, verdict: 'earlier' };
  const arm = (name: string, ms: number) => ({
    name,
    metrics: [{ firstPaintMs: ms }],
    spreads: { firstPaintMs: spread(ms) },
    consoleErrors: [],
  });
  const trial = {
    arms: [arm('as is', 900), arm('treated', 600)],
    yardstick,
    checks: { finalPictureDiffers: 0, consoleErrors: { asIs: [], treated: [] }, unexplainedRequests: [] },
    result: {
      firstPaint: paired,
      speedIndex: paired,
      withheld: { firstPaint: null, speedIndex: 'the final pictures differ by 1.2 %' },
      sentence: 'Earlier.',
    },
  };
  await database.query(
    `INSERT INTO trial (page_id, capture_id, conditions_id, taken_at, plan, data) VALUES (1, 1, 'slow-phone', now(), '{"rules":[]}', $1)`,
    [JSON.stringify(trial)],
  );
  await migrate(database, '017');
  await database.query(
    `INSERT INTO job (kind, page_id, conditions_id, state, certificate) VALUES ('measure', 1, 'slow-phone', 'failed', $1)`,
    [JSON.stringify({ host: 'quay.test', publicKeyHash: 'x', subject: 'quay', validTo: '2027' })],
  );
  await migrate(database);
});
afterAll(() => pglite.close());

it('says of a measurement of before that it was taken with another yardstick', async () => {
  const [measurement] = await measurementsOf(database, 1, 'slow-phone');
  expect(measurement!.yardstick).toMatchObject({ version: 1, score: 594 });
  expect(await database.query('SELECT * FROM yardstick')).toEqual([]);
});

it('computes the blocking of the whole load from the long tasks that runs hold', async () => {
  const [run] = await runsOf(database, 1);
  expect(run!.metrics.wholeLoadBlockingMs).toBe(280);
  const [measurement] = await measurementsOf(database, 1, 'slow-phone');
  expect(measurement!.spreads.wholeLoadBlockingMs).toEqual({ median: 280, min: 280, max: 280, runs: [280] });
});

it('tells a trial of before as now, without what it did not note', async () => {
  const trial = (await latestTrial(database, 1, 'slow-phone'))!;
  expect(trial).toMatchObject({ conditions: null, foldHash: null, ownPlan: null, shownPair: null, wish: 6 });
  expect(trial.result).toMatchObject({
    verdict: 'earlier',
    headline: 'firstPaintMs',
    worse: [],
    better: [],
    breaks: [],
  });
  expect(trial.result.withheld).toEqual({
    paint: null,
    speedIndex: 'the final pictures differ by 1.2 %',
  });
  expect(trial.checks.missingRequests).toEqual([]);
  expect(trial.arms[1]!.spreads.wholeLoadBlockingMs.median).toBeNull();
});

it('takes for the earliest paint only what was measured by the same yardstick and the same conditions', async () => {
  const [measurement] = await measurementsOf(database, 1, 'slow-phone');
  // Its trial painted earlier, but did not note its conditions.
  expect(await earliestPaintOf(database, measurement!, 'firstPaintMs')).toBe(900);
  const edited = { ...measurement!, conditions: { ...measurement!.conditions, downKbps: 9_000 } };
  expect(await earliestPaintOf(database, edited, 'firstPaintMs')).toBeNull();
  const renamed = { ...measurement!, conditions: { ...measurement!.conditions, name: 'Tram' } };
  expect(await earliestPaintOf(database, renamed, 'firstPaintMs')).toBe(900);
  const anew = { ...measurement!.yardstick, version: 2 as const, script: 1, page: 1, quiet: true };
  expect(await earliestPaintOf(database, { ...measurement!, yardstick: anew }, 'firstPaintMs')).toBeNull();
});

it('offers a certificate that a job of before met for the host that showed it', async () => {
  expect((await listJobs(database)).map((job) => job.certificate)).toEqual([
    { hosts: ['quay.test'], publicKeyHash: 'x', subject: 'quay', validTo: '2027' },
  ]);
});

it('leaves a folder alone that a later version has written', async () => {
  await database.query(`INSERT INTO migration (name) VALUES ('900-later.sql')`);
  await expect(migrate(database)).rejects.toThrow(/later version of Wistrel.*Nothing in it was changed/);
  await database.query(`DELETE FROM migration WHERE name = '900-later.sql'`);
});

it('keeps a data folder to its owner, also one that others could enter', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'wistrel-owner-'));
  chmodSync(folder, 0o755);
  const opened = await openDatabase(folder, 'a test');
  await opened.close();
  expect(statSync(folder).mode & 0o777).toBe(0o700);
});

it('starts a new data folder from a database that was made beforehand', async () => {
  const began = new Date();
  const opened = await openDatabase(mkdtempSync(join(tmpdir(), 'wistrel-new-')), 'a test');
  const [row] = await opened.query<{ last: Date; migrations: number }>(
    'SELECT max(applied_at) AS last, count(*)::int AS migrations FROM migration',
  );
  await opened.close();
  expect(row!.migrations).toBe(readdirSync(MIGRATIONS).length);
  expect(row!.last.getTime()).toBeLessThan(began.getTime());
});
