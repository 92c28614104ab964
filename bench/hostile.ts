import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { seedDatabase } from '../src/demo/seed-database.ts';
import { applicationDatabase } from '../src/usecases/application.ts';
import { LIMIT_MS, tryHostile } from '../tests/hostile/try-all.ts';
import type { Finding } from './report.ts';

const COUNTS = { pages: 3_000, har: 2_000, plans: 1_500, decisions: 1_000, texts: 1_500, requests: 1_000 };

/** Ten thousand hostile inputs, others each time. */
export async function hostileBench(): Promise<Finding> {
  const folder = mkdtempSync(join(tmpdir(), 'wistrel-hostile-'));
  process.env['WISTREL_DATA'] = folder;
  const database = await applicationDatabase();
  try {
    await seedDatabase(database, 'https://www.skerravane.localhost:9443', `${'x'.repeat(43)}=`);
    const seed = Math.floor(Math.random() * 2 ** 31);
    const tried = await tryHostile(COUNTS, seed);
    for (const { kind, broke } of tried) for (const one of broke) console.error(`${kind}, ${one}`);
    return {
      title: 'Hostile inputs',
      about: `Captured pages, HAR files, plan files, files of decisions, texts that users and servers write, and requests to every route, mutated by chance (seed ${seed}). To reach: each is taken, or refused in a sentence; no crash, no answer 500, none longer than ${LIMIT_MS / 1000} s.`,
      columns: ['what', 'tried', 'refused in a sentence', 'longest, ms', 'broke'],
      rows: tried.map(({ kind, count, refused, longestMs, broke }) => [
        kind,
        count,
        refused,
        Math.round(longestMs),
        broke.length,
      ]),
    };
  } finally {
    await database.close();
    rmSync(folder, { recursive: true, force: true });
  }
}
