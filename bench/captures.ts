import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { findConditions } from '../src/core/measure/conditions.ts';
import { readSeed } from '../src/demo/seed-file.ts';
import { openDatabase, type Database } from '../src/store/database.ts';
import { deleteMeasurement, keptMeasurements } from '../src/store/kept-measurements.ts';
import { deletePages, ensurePage } from '../src/store/sites.ts';
import { boardView } from '../src/usecases/board-view.ts';
import { keepMeasurement } from '../src/usecases/keep.ts';
import { READINGS } from '../src/usecases/readings.ts';
import type { Finding } from './report.ts';

const PAGES = 50;
const EACH = 20;
const conditions = findConditions('slow-phone')!;

async function tookMs(act: () => Promise<unknown>): Promise<number> {
  const began = performance.now();
  await act();
  return Math.round(performance.now() - began);
}

/** Each look and deletion once; the deletions are of other pages each time. */
async function looks(database: Database, [page, other]: number[]): Promise<number[]> {
  const [newest] = await keptMeasurements(database, page!, conditions.id);
  return [
    await tookMs(() => boardView(database, conditions.id)),
    await tookMs(() => READINGS.measure(database, page!, conditions.id)),
    await tookMs(() => READINGS.map(database, page!, conditions.id)),
    await tookMs(() => deleteMeasurement(database, page!, newest!.id)),
    await tookMs(() => deletePages(database, [other!])),
  ];
}

/** What a database of years costs: the board, a stage, deleting; with the indexes that it has and without them. */
export async function capturesBench(): Promise<Finding> {
  const data = mkdtempSync(join(tmpdir(), 'wistrel-bench-'));
  const database = await openDatabase(data, 'the benchmark');
  try {
    const { measure } = readSeed();
    const pages: number[] = [];
    for (let page = 0; page < PAGES; page++) {
      const { id } = await ensurePage(database, `https://quay.test/page-${page}`, `Page ${page}`);
      pages.push(id);
      for (let one = 0; one < EACH; one++) {
        // Each capture has a file that no other one has.
        const bodies = new Map(measure.bodies).set(`${page}-${one}`, new Uint8Array(2_000).fill(one));
        await keepMeasurement(database, id, conditions, { ...measure, bodies });
      }
    }
    await looks(database, pages.splice(0, 2));
    const now = await looks(database, pages.splice(0, 2));
    const indexes = await database.query<{ name: string }>(
      "SELECT indexname AS name FROM pg_indexes WHERE indexdef NOT LIKE '%UNIQUE%' AND schemaname = 'public'",
    );
    for (const { name } of indexes) await database.query(`DROP INDEX ${name}`);
    const without = await looks(database, pages.splice(0, 2));
    const names = ['the board', 'Measure', 'Map', 'deleting a measurement', 'deleting a page of 20'];
    return {
      title: 'A thousand captures',
      about: `${PAGES * EACH} captures with their runs and frames, on ${PAGES} pages: how long the database takes for each, with the indexes that it has and without any.`,
      columns: ['what', 'ms', 'without indexes, ms', 'times'],
      rows: names.map((name, at) => [
        name,
        now[at]!,
        without[at]!,
        (without[at]! / Math.max(1, now[at]!)).toFixed(1),
      ]),
    };
  } finally {
    await database.close();
    rmSync(data, { recursive: true, force: true });
  }
}
