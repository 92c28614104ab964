import { join } from 'node:path';
import { openDatabase } from '../store/database.ts';
import { sweepProfiles } from '../engine/chromium/profiles.ts';
import { sweepCopies } from '../store/backup.ts';
import { forgetOldUploads } from '../store/uploads.ts';
import type { ThreadedDatabase } from '../store/threaded-database.ts';
import { JobLoop } from './job-loop.ts';
import { closePreviews } from './preview.ts';
import { Readers } from './readers.ts';
import type { Read, ReadingName, ReadingOf, RestOf } from './readings.ts';

/**
 * What one running application has once. Next gives routes and start-up separate instances of a module, so
 * it is kept on the global object.
 */
interface Application {
  database: Promise<ThreadedDatabase> | null;
  readers: Promise<Readers> | null;
  jobs: JobLoop | null;
}

const key = Symbol.for('wistrel.application');
const shared = globalThis as unknown as Record<symbol, Application | undefined>;
const application = (shared[key] ??= { database: null, readers: null, jobs: null });

/** The data folder: WISTREL_DATA, or .data/app in the project. */
export function dataFolder(): string {
  return process.env['WISTREL_DATA'] ?? join(process.cwd(), '.data', 'app');
}

/** The application's database, opened on first use. */
export function applicationDatabase(): Promise<ThreadedDatabase> {
  application.database ??= openDatabase(dataFolder(), 'the application').catch((error: unknown) => {
    // What kept it from being opened may be over the next time it is asked for.
    application.database = null;
    application.readers = null;
    throw error;
  });
  return application.database;
}

/** Reads captured pages, in threads of their own. */
export const applicationRead: Read = async <N extends ReadingName>(
  name: N,
  ...rest: RestOf<N>
): Promise<ReadingOf<N>> => {
  application.readers ??= applicationDatabase().then((database) => new Readers(database));
  return (await application.readers).read(name, ...rest);
};

/** What is asked to end has so long to close what it holds, ms. */
const STOP_WITHIN_MS = 10_000;

/** Opens the database and begins to work on jobs; on SIGTERM and SIGINT, and when whoever started it is gone, both end cleanly. */
export async function startApplication(): Promise<void> {
  if (application.jobs) return;
  const database = await applicationDatabase();
  await forgetOldUploads(database);
  // What processes left that were killed: it takes some time, and nothing waits for it.
  void sweepProfiles().catch(() => undefined);
  void sweepCopies(dataFolder()).catch(() => undefined);
  application.jobs = new JobLoop(database, applicationRead);
  application.jobs.start();
  let stopping = false;
  const stop = () => {
    if (stopping) return;
    stopping = true;
    setTimeout(() => process.exit(1), STOP_WITHIN_MS).unref();
    void (async () => {
      await application.jobs?.stop();
      await closePreviews();
      await (await application.readers)?.close();
      await database.close();
      process.exit(0);
    })();
  };
  process.on('SIGTERM', stop);
  process.on('SIGINT', stop);
  process.on('disconnect', stop);
  // A terminal that was closed takes no more words: telling of that there would go round for ever.
  process.stderr.on('error', () => undefined);
}
