import type { MessagePort, Worker } from 'node:worker_threads';
import type { Queries, Seals, Transactions } from './database-types.ts';
import { storableText } from './storable.ts';

/** What the thread of the database is asked; each message is answered under its number. */
export type ToDatabase = { id: number } & (
  | { type: 'query'; session: number | null; sql: string; params: unknown[] }
  | { type: 'begin' | 'commit' | 'roll back'; session: number }
  | { type: 'connect'; port: MessagePort }
  | { type: 'copy'; to: string }
  | { type: 'seal'; text: string }
  | { type: 'open seal'; sealed: Uint8Array }
  | { type: 'forget seals'; sealed: readonly Uint8Array[] }
  | { type: 'close' }
);

type Ask = ToDatabase extends infer Message ? (Message extends unknown ? Omit<Message, 'id'> : never) : never;

/** Its answer. */
export type FromDatabase = { id: number } & ({ rows: unknown[] } | { error: string });

/** Whatever a page holds, the database can keep. */
function storable(message: Ask): Ask {
  if (message.type !== 'query') return message;
  const kept = (value: unknown): unknown =>
    typeof value === 'string' ? storableText(value) : Array.isArray(value) ? value.map(kept) : value;
  return { ...message, params: message.params.map(kept) };
}

interface Waiting {
  resolve(rows: unknown[]): void;
  reject(error: Error): void;
}

/** Asks the thread of the database, from whichever thread holds the other end of the line. */
export class DatabaseClient implements Transactions {
  #line: Worker | MessagePort;
  #waiting = new Map<number, Waiting>();
  #last = 0;
  #ended: Error | null = null;
  readonly seals: Seals = {
    seal: async (text) => (await this.#one<Uint8Array>({ type: 'seal', text }))!,
    open: (sealed) => this.#one<string>({ type: 'open seal', sealed }),
    forget: async (sealed) => {
      if (sealed.length > 0) await this.ask({ type: 'forget seals', sealed });
    },
  };

  constructor(line: Worker | MessagePort) {
    this.#line = line;
    line.on('message', (message: FromDatabase) => this.#hear(message));
    line.unref();
  }

  async query<T extends object>(sql: string, params: unknown[] = []): Promise<T[]> {
    return (await this.ask({ type: 'query', session: null, sql, params })) as T[];
  }

  async transaction<T>(work: (queries: Queries) => Promise<T>): Promise<T> {
    const session = ++this.#last;
    await this.ask({ type: 'begin', session });
    let result: T;
    try {
      result = await work({
        seals: this.seals,
        query: async <R extends object>(sql: string, params: unknown[] = []) =>
          (await this.ask({ type: 'query', session, sql, params })) as R[],
      });
    } catch (error) {
      await this.ask({ type: 'roll back', session }).catch(() => undefined);
      throw error;
    }
    await this.ask({ type: 'commit', session });
    return result;
  }

  async #one<T>(message: Ask): Promise<T | null> {
    const [row] = (await this.ask(message)) as [{ value: T | null }];
    return row.value;
  }

  ask(message: Ask, moved: MessagePort[] = []): Promise<unknown[]> {
    if (this.#ended) return Promise.reject(this.#ended);
    const id = ++this.#last;
    // As long as something is waited for, and no longer, the line keeps its thread alive.
    this.#line.ref();
    return new Promise((resolve, reject) => {
      this.#waiting.set(id, { resolve, reject });
      this.#line.postMessage({ ...storable(message), id }, moved);
    });
  }

  /** Nothing more will be answered. */
  end(error: Error): void {
    this.#ended ??= error;
    for (const { reject } of this.#waiting.values()) reject(error);
    this.#waiting.clear();
  }

  #hear(message: FromDatabase): void {
    const waiting = this.#waiting.get(message.id);
    this.#waiting.delete(message.id);
    if (this.#waiting.size === 0) this.#line.unref();
    if ('rows' in message) waiting?.resolve(message.rows);
    else waiting?.reject(new Error(message.error));
  }
}
