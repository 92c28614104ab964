import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { findConditions } from '../src/core/measure/conditions.ts';
import { readSeed } from '../src/demo/seed-file.ts';
import { openDatabase } from '../src/store/database.ts';
import { ensurePage } from '../src/store/sites.ts';
import { keepMeasurement } from '../src/usecases/keep.ts';
import { boardView } from '../src/usecases/board-view.ts';
import type { Finding } from './report.ts';

const CAPTURES = 100;
const PAGES = 1_000;

/** The application's memory with many captures stored, and the board with many pages. */
export async function memoryBench(): Promise<Finding> {
  const data = mkdtempSync(join(tmpdir(), 'wistrel-bench-'));
  const database = await openDatabase(data, 'the benchmark');
  try {
    const megabytes = () => Math.round(process.memoryUsage().rss / 1e6);
    const empty = megabytes();
    const seed = readSeed();
    const conditions = findConditions('slow-phone')!;
    for (let index = 0; index < PAGES; index++) {
      const page = await ensurePage(database, `https://quay.test/page-${index}`, `Page ${index}`);
      if (index >= CAPTURES) continue;
      // Bodies of its own for each capture: nothing is shared between the pages of this benchmark.
      const bodies = new Map<string, Uint8Array>();
      const own = (hash: string) => `${hash.slice(0, 56)}${String(index).padStart(8, '0')}`;
      for (const [hash, bytes] of seed.measure.bodies) bodies.set(own(hash), bytes);
      const exchanges = seed.measure.capture.exchanges.map((one) => ({
        ...one,
        bodyHash: one.bodyHash && own(one.bodyHash),
      }));
      await keepMeasurement(database, page.id, conditions, {
        ...seed.measure,
        capture: { ...seed.measure.capture, exchanges },
        bodies,
      });
    }
    const full = megabytes();
    const started = performance.now();
    const board = await boardView(database, conditions.id);
    const boardMs = performance.now() - started;
    return {
      title: 'Memory and the board',
      about: `The process that holds the database, with ${CAPTURES} captures of the demo home page stored (nothing shared), and the board of ${PAGES} pages.`,
      columns: ['MB when empty', `MB with ${CAPTURES} captures`, 'pages on the board', 'board read in ms'],
      rows: [[empty, full, board.sites.flatMap((site) => site.pages).length, Math.round(boardMs)]],
    };
  } finally {
    await database.close();
    rmSync(data, { recursive: true, force: true });
  }
}
