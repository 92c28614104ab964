import type { MessagePort } from 'node:worker_threads';
import { DatabaseClient } from '../store/database-client.ts';
import type { Queries, Seals, Transactions } from '../store/database.ts';
import { READINGS, type ReadingName } from './readings.ts';

/** What a thread of the pool is given for one reading. */
export interface ReadingTask {
  name: ReadingName;
  rest: readonly unknown[];
  line: MessagePort;
}

/**
 * The database as readings see it: one object for the thread's life, so that what was read for one reading is
 * found again by the next, though each comes with a line of its own.
 */
class Line implements Transactions {
  #client: DatabaseClient | null = null;

  async during<T>(port: MessagePort, work: () => Promise<T>): Promise<T> {
    this.#client = new DatabaseClient(port);
    try {
      return await work();
    } finally {
      port.close();
    }
  }

  get seals(): Seals {
    return this.#client!.seals;
  }

  query<T extends object>(sql: string, params: unknown[] = []): Promise<T[]> {
    return this.#client!.query<T>(sql, params);
  }

  transaction<T>(work: (queries: Queries) => Promise<T>): Promise<T> {
    return this.#client!.transaction(work);
  }
}

const database = new Line();

/** Carries out one reading. */
export default function read({ name, rest, line }: ReadingTask): Promise<unknown> {
  const reading = READINGS[name] as (database: Transactions, ...rest: readonly unknown[]) => Promise<unknown>;
  return database.during(line, () => reading(database, ...rest));
}
