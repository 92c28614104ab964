import { join } from 'node:path';
import { openDatabase, type Database } from '../store/database.ts';
import { JobLoop } from './job-loop.ts';
import { closePreviews } from './preview.ts';

/**
 * What one running application has once. Next gives routes and start-up separate instances of a module, so
 * it is kept on the global object.
 */
interface Application {
  database: Promise<Database> | null;
  jobs: JobLoop | null;
}

const key = Symbol.for('wistrel.application');
const shared = globalThis as unknown as Record<symbol, Application | undefined>;
const application = (shared[key] ??= { database: null, jobs: null });

/** The data folder: WISTREL_DATA, or .data/app in the project. */
export function dataFolder(): string {
  return process.env['WISTREL_DATA'] ?? join(process.cwd(), '.data', 'app');
}

/** The application's database, opened on first use. */
export function applicationDatabase(): Promise<Database> {
  application.database ??= openDatabase(dataFolder(), 'the application');
  return application.database;
}

/** Opens the database and begins to work on jobs; on SIGTERM and SIGINT both end cleanly. */
export async function startApplication(): Promise<void> {
  if (application.jobs) return;
  const database = await applicationDatabase();
  application.jobs = new JobLoop(database);
  await application.jobs.start();
  let stopping = false;
  const stop = () => {
    if (stopping) return;
    stopping = true;
    void (async () => {
      await application.jobs?.stop();
      await closePreviews();
      await database.close();
      process.exit(0);
    })();
  };
  process.on('SIGTERM', stop);
  process.on('SIGINT', stop);
}
