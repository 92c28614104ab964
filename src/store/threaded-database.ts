import { MessageChannel, Worker, type MessagePort } from 'node:worker_threads';
import { programFile } from '../programs/program-file.ts';
import { DatabaseClient } from './database-client.ts';
import type { Database, Queries, Seals } from './database-types.ts';

/** The embedded database in a thread of its own: storing much never holds up the thread that answers. */
export class ThreadedDatabase implements Database {
  #worker: Worker;
  #client: DatabaseClient;
  #ended = false;

  /** Opens the database in a folder. @param onEnded called once it is closed, or its thread has ended */
  static async open(folder: string, onEnded: () => void): Promise<ThreadedDatabase> {
    const database = new ThreadedDatabase(folder, onEnded);
    await database.query('SELECT 1');
    return database;
  }

  private constructor(folder: string, onEnded: () => void) {
    this.#worker = new Worker(/* turbopackIgnore: true */ programFile('store/database-thread.ts'), {
      workerData: { folder },
    });
    this.#client = new DatabaseClient(this.#worker);
    const end = (error: Error) => {
      if (this.#ended) return;
      this.#ended = true;
      this.#client.end(error);
      onEnded();
    };
    this.#worker.on('error', end);
    this.#worker.on('exit', () => end(new Error('The database has ended.')));
  }

  get seals(): Seals {
    return this.#client.seals;
  }

  query<T extends object>(sql: string, params: unknown[] = []): Promise<T[]> {
    return this.#client.query<T>(sql, params);
  }

  transaction<T>(work: (queries: Queries) => Promise<T>): Promise<T> {
    return this.#client.transaction(work);
  }

  /** A line to the same database for another thread, whose end has to be handed to it. */
  connect(): MessagePort {
    const { port1, port2 } = new MessageChannel();
    void this.#client.ask({ type: 'connect', port: port1 }, [port1]).catch(() => port2.close());
    return port2;
  }

  /** Copies the database's folder as it is at one moment, while it goes on. @param to a folder that is not there yet */
  async copyTo(to: string): Promise<void> {
    await this.#client.ask({ type: 'copy', to });
  }

  async close(): Promise<void> {
    if (!this.#ended) await this.#client.ask({ type: 'close' });
    await this.#worker.terminate();
  }
}
