/** A row as the driver gives it; each module of SQL says what is in its own. */
export type Row = Record<string, unknown>;

/** All that the rest of the application knows of its database: plain PostgreSQL behind two calls. */
export interface Queries {
  /** Runs one statement. @param params values for $1, $2, … */
  query<T extends object = Row>(sql: string, params?: unknown[]): Promise<T[]>;
}

export interface Transactions extends Queries {
  /** Runs statements that take effect together or not at all. */
  transaction<T>(work: (queries: Queries) => Promise<T>): Promise<T>;
}

export interface Database extends Transactions {
  close(): Promise<void>;
}
