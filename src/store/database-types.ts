/** A row as the driver gives it; each module of SQL says what is in its own. */
export type Row = Record<string, unknown>;

/** Secrets on their way into the database and out of it. */
export interface Seals {
  /** A text as it may be stored: nobody reads it without what lies beside the database. */
  seal(text: string): Promise<Uint8Array>;
  /** The text of it; null where that is not here any more. */
  open(sealed: Uint8Array): Promise<string | null>;
  /** From now on nobody can open these: call it once they are stored no more. */
  forget(sealed: readonly Uint8Array[]): Promise<void>;
}

/** All that the rest of the application knows of its database: plain PostgreSQL behind two calls. */
export interface Queries {
  /** Runs one statement. @param params values for $1, $2, … */
  query<T extends object = Row>(sql: string, params?: unknown[]): Promise<T[]>;
  readonly seals: Seals;
}

export interface Transactions extends Queries {
  /** Runs statements that take effect together or not at all. */
  transaction<T>(work: (queries: Queries) => Promise<T>): Promise<T>;
}

export interface Database extends Transactions {
  close(): Promise<void>;
}
