import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { monitorEventLoopDelay } from 'node:perf_hooks';
import { setTimeout as sleep } from 'node:timers/promises';
import { findConditions } from '../src/core/measure/conditions.ts';
import { readSeed } from '../src/demo/seed-file.ts';
import { openDatabase } from '../src/store/database.ts';
import { ensurePage } from '../src/store/sites.ts';
import { keepMeasurement } from '../src/usecases/keep.ts';
import { Readers } from '../src/usecases/readers.ts';
import { READINGS } from '../src/usecases/readings.ts';
import { LARGE, storeLargePage } from './large-page.ts';
import type { Finding } from './report.ts';

const CAPTURES = 100;
const STAGES = ['page', 'measure', 'map', 'fold', 'treat', 'prove', 'handoff'] as const;
const RESOLUTION_MS = 5;
const conditions = findConditions('slow-phone')!;

/** What opening each stage, and storing a capture, costs the thread that answers. */
export async function stagesBench(): Promise<Finding> {
  const data = mkdtempSync(join(tmpdir(), 'wistrel-bench-'));
  const database = await openDatabase(data, 'the benchmark');
  const readers = new Readers(database);
  try {
    const seed = readSeed();
    const store = async (name: string) => {
      const page = await ensurePage(database, `https://quay.test/${name}`, name);
      await keepMeasurement(database, page.id, conditions, seed.measure);
    };
    const megabytes = [...seed.measure.bodies.values()].reduce((sum, one) => sum + one.length, 0) / 1e6;
    for (let index = 1; index < CAPTURES; index++) await store(`page-${index}`);
    const storing = await held(() => store('last'));
    const pageId = await storeLargePage(database);
    // Its code is read when a thread starts: that is not what is measured.
    await readers.read('page', 1, conditions.id);
    const rows: Finding['rows'] = [];
    for (const stage of STAGES) {
      const apart = () =>
        stage === 'fold' ? readers.read('fold', pageId) : readers.read(stage, pageId, conditions.id);
      const first = await held(apart);
      const again = await held(apart);
      const here = await held(() => READINGS[stage](database, pageId, conditions.id));
      rows.push([stage, first.tookMs, first.heldMs, again.tookMs, again.heldMs, here.heldMs]);
    }
    rows.push([
      `storing a capture of ${megabytes.toFixed(1)} MB`,
      storing.tookMs,
      storing.heldMs,
      '–',
      '–',
      '–',
    ]);
    return {
      title: 'Stages and the thread that answers',
      about: `A page of ${LARGE} requests, ${CAPTURES} captures stored: how long a stage takes to be read, and for how long at most the thread that answers is held up meanwhile (${RESOLUTION_MS} ms is what is told apart). To reach: at most 50 ms. The last column: the same read on that thread itself, as it was before readings had threads of their own.`,
      columns: [
        'stage',
        'first, ms',
        'held up, ms',
        'again, ms',
        'held up, ms',
        'held up when read there, ms',
      ],
      rows,
    };
  } finally {
    await readers.close();
    await database.close();
    rmSync(data, { recursive: true, force: true });
  }
}

/** How long something takes, and the longest stretch in which the event loop answered nothing meanwhile. */
async function held(act: () => Promise<unknown>): Promise<{ tookMs: number; heldMs: number }> {
  await sleep(200);
  const delay = monitorEventLoopDelay({ resolution: RESOLUTION_MS });
  delay.enable();
  const started = performance.now();
  await act();
  const tookMs = performance.now() - started;
  // What began at the end is to be seen as well.
  await sleep(RESOLUTION_MS * 4);
  delay.disable();
  return { tookMs: Math.round(tookMs), heldMs: Math.max(0, Math.round(delay.max / 1e6 - RESOLUTION_MS)) };
}
