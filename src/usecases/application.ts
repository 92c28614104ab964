import { join } from 'node:path';
import { openDatabase } from '../store/database.ts';
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
  application.database ??= openDatabase(dataFolder(), 'the application');
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

/** Opens the database and begins to work on jobs; on SIGTERM and SIGINT both end cleanly. */
export async function startApplication(): Promise<void> {
  if (application.jobs) return;
  const database = await applicationDatabase();
  await forgetOldUploads(database);
  application.jobs = new JobLoop(database, applicationRead);
  application.jobs.start();
  let stopping = false;
  const stop = () => {
    if (stopping) return;
    stopping = true;
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
}
