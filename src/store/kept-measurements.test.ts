import { rmSync } from 'node:fs';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { findConditions } from '../core/measure/conditions.ts';
import { seededData } from '../../tests/data-folders.ts';
import { readSeed } from '../demo/seed-file.ts';
import { keepMeasurement } from '../usecases/keep.ts';
import { openDatabase, type Database } from './database.ts';
import { deleteMeasurement, keptMeasurements } from './kept-measurements.ts';
import { keepLighter, lighterBodies } from './lighter-files.ts';
import { latestFold, latestTrial } from './proofs.ts';
import { listPages } from './sites.ts';

const SLOW = findConditions('slow-phone')!;
let folder: string;
let database: Database;
let pageId: number;

beforeAll(async () => {
  folder = await seededData();
  database = await openDatabase(folder, 'the tests');
  pageId = (await listPages(database)).find((page) => page.name === 'Home')!.id;
});
afterAll(async () => {
  await database.close();
  rmSync(folder, { recursive: true, force: true });
});

/** Measures the page once more: one file of it is another one than before. */
function measureAgain() {
  const { measure } = readSeed();
  const [first] = measure.bodies.keys();
  const bodies = new Map(measure.bodies);
  bodies.delete(first!);
  bodies.set('its own', new Uint8Array(5_000));
  return keepMeasurement(database, pageId, SLOW, { ...measure, bodies });
}
const kept = () => keptMeasurements(database, pageId, SLOW.id);
const rows = async (table: string) =>
  (await database.query<{ rows: number }>(`SELECT count(*)::int AS rows FROM ${table}`))[0]!.rows;
const TABLES = ['measurement', 'run', 'frame', 'capture', 'capture_body', 'body', 'fold', 'trial', 'picture'];
const counts = () => Promise.all(TABLES.map(rows));

it('goes with its runs, pictures and capture, and all else stays as it was', async () => {
  const before = await counts();
  const { measurementId } = await measureAgain();
  const [newest, first, ...none] = await kept();
  expect(none).toEqual([]);
  expect([newest!.id, newest!.captureStays, first!.captureStays]).toEqual([measurementId, false, true]);
  // Files that both captures hold do not go with either.
  const frames = newest!.ownBytes - 5_000;
  expect(frames).toBeGreaterThan(0);
  expect(first!.ownBytes).toBe(frames);

  expect(await deleteMeasurement(database, pageId, measurementId)).toBe(true);
  expect(await counts()).toEqual(before);
});

it('leaves the capture that fold CSS and a trial were made from', async () => {
  const { captureId } = await measureAgain();
  const [, first] = await kept();
  const [fold, trial] = [await latestFold(database, pageId), await latestTrial(database, pageId, SLOW.id)];
  expect(await deleteMeasurement(database, pageId, first!.id)).toBe(true);
  expect(await latestFold(database, pageId)).toEqual(fold);
  expect(await latestTrial(database, pageId, SLOW.id)).toEqual(trial);
  const captures = await database.query<{ id: number }>(
    'SELECT id FROM capture WHERE page_id = $1 ORDER BY id',
    [pageId],
  );
  expect(captures.map(({ id }) => id)).toEqual([fold!.captureId, captureId]);
  expect((await kept()).map(({ captureStays }) => captureStays)).toEqual([false]);
});

it('is not deleted as another page’s, nor twice', async () => {
  const [one] = await kept();
  const before = await counts();
  expect(await deleteMeasurement(database, pageId + 1, one!.id)).toBe(false);
  expect(await deleteMeasurement(database, pageId, 999_999)).toBe(false);
  expect(await counts()).toEqual(before);
});

it('leaves the lighter images of its page, and their files, which go with the page', async () => {
  const { measurementId, captureId } = await measureAgain();
  const bytes = new Uint8Array([1, 2, 3]);
  const record = {
    takenAt: '2026-12-01T09:00:00.000Z',
    images: [],
    stay: [],
    fonts: [],
    fontsStay: [],
    embeds: [],
    fingerprint: { sheets: [], structure: [] },
  };
  const keep = (files: [string, Uint8Array][]) =>
    database.transaction((queries) => keepLighter(queries, pageId, captureId, record, new Map(files)));
  await keep([['made lighter', bytes]]);
  expect(await deleteMeasurement(database, pageId, measurementId)).toBe(true);
  expect([...(await lighterBodies(database, pageId)).keys()]).toEqual(['made lighter']);
  await keep([]);
  const again = await measureAgain();
  await deleteMeasurement(database, pageId, again.measurementId);
  expect(await database.query('SELECT hash FROM body WHERE hash = $1', ['made lighter'])).toEqual([]);
});
