import { Piscina } from 'piscina';
import { programFile } from '../programs/program-file.ts';
import type { ThreadedDatabase } from '../store/threaded-database.ts';
import type { ReadingTask } from './reader-thread.ts';
import type { Read, ReadingName, ReadingOf, RestOf } from './readings.ts';

/** Each reads its own pages: what it has read for one stage is there for the next. */
const THREADS = 2;
/** A page that takes longer to read, or more memory, is given up; others go on. */
const MOST_MS = 90_000;
const MOST_MB = 3_000;

/** Threads that read captured pages for the one that answers. */
export class Readers {
  #database: ThreadedDatabase;
  #pools: Piscina[];

  constructor(database: ThreadedDatabase) {
    this.#database = database;
    const filename = programFile('usecases/reader-thread.ts');
    this.#pools = Array.from(
      { length: THREADS },
      () =>
        new Piscina({
          filename,
          minThreads: 0,
          maxThreads: 1,
          idleTimeout: 600_000,
          resourceLimits: { maxOldGenerationSizeMb: MOST_MB },
        }),
    );
  }

  /** @throws Error in plain words where a page cannot be read */
  readonly read: Read = async <N extends ReadingName>(name: N, ...rest: RestOf<N>) => {
    const pool = this.#pools[Number(rest[0]) % THREADS]!;
    const line = this.#database.connect();
    const task: ReadingTask = { name, rest, line };
    const signal = AbortSignal.timeout(MOST_MS);
    try {
      return (await pool.run(task, { transferList: [line], signal })) as ReadingOf<N>;
    } catch (error) {
      line.close();
      throw givenUp(error) ?? error;
    }
  };

  async close(): Promise<void> {
    await Promise.all(this.#pools.map((pool) => pool.destroy()));
  }
}

function givenUp(error: unknown): Error | null {
  if (!(error instanceof Error)) return null;
  if (error.name === 'AbortError')
    return new Error(`Reading this page took longer than ${MOST_MS / 1000} s and was given up.`);
  if ('code' in error && error.code === 'ERR_WORKER_OUT_OF_MEMORY')
    return new Error(`Reading this page took more than ${MOST_MB / 1000} GB of memory and was given up.`);
  return null;
}
