import { chmodSync, mkdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Queries, Transactions } from './database-types.ts';
import { takeLock } from '../locks/process-lock.ts';
import { copyWhole, MIGRATIONS, namesOfMigrations, putReadyMade } from './ready-made.ts';
import { sealPlain } from './seal-plain.ts';
import { ThreadedDatabase } from './threaded-database.ts';

export type { Database, Queries, Row, Seals, Transactions } from './database-types.ts';

/** The embedded database's own folder, within a data folder. */
export const DATABASE_FOLDER = 'database';

/** Where it lies as it was before the newest change of what is stored. */
const COPY_FOLDER = 'database-before-update';

/** Nobody else gets into the folder, and so at nothing in it. */
export const OWNER_ONLY = 0o700;

/** A data folder that a later version of Wistrel has written. */
export class LaterSchema extends Error {
  constructor() {
    super(
      'This data folder was written by a later version of Wistrel. Nothing in it was changed. Start that version, or choose another folder with --data DIR.',
    );
    this.name = 'LaterSchema';
  }
}

/**
 * Opens the database in a data folder, made on first use. The folder is locked for this process: the
 * embedded database does not do so itself, and two at once would lose rows.
 *
 * @param folder the data folder
 * @param holder what the lock says of the holder
 * @throws LockedError when another process holds the folder
 * @throws LaterSchema when a later version has written it
 */
export async function openDatabase(folder: string, holder: string): Promise<ThreadedDatabase> {
  mkdirSync(folder, { recursive: true, mode: OWNER_ONLY });
  closeToOthers(folder);
  const release = takeLock(join(folder, 'wistrel.lock'), holder);
  const files = join(folder, DATABASE_FOLDER);
  let isCopying = false;
  const open = () => ThreadedDatabase.open(files, () => isCopying || release());
  putReadyMade(files);
  let database = await open();
  try {
    const had = await checkSchema(database);
    if (had.size > 0 && namesOfMigrations().some((name) => !had.has(name))) {
      isCopying = true;
      await database.close();
      copyWhole(files, join(folder, COPY_FOLDER));
      isCopying = false;
      database = await open();
    }
    await migrate(database);
    await sealPlain(database);
    return database;
  } catch (error) {
    isCopying = false;
    await database.close();
    release();
    throw error;
  }
}

/** Captures hold what only their user may see: a folder that an older version made is closed as well. */
function closeToOthers(folder: string): void {
  try {
    chmodSync(folder, OWNER_ONLY);
  } catch {
    // Somebody else's folder, lent: who gets in is theirs to say.
  }
}

/**
 * Which numbered migrations a database has had.
 *
 * @throws LaterSchema when it has had one that this version does not know
 */
export async function checkSchema(database: Queries): Promise<ReadonlySet<string>> {
  await database.query(
    'CREATE TABLE IF NOT EXISTS migration (name text PRIMARY KEY, applied_at timestamptz NOT NULL DEFAULT now())',
  );
  const had = new Set(
    (await database.query<{ name: string }>('SELECT name FROM migration')).map((row) => row.name),
  );
  const names = namesOfMigrations();
  if ([...had].some((name) => !names.includes(name))) throw new LaterSchema();
  return had;
}

/**
 * Applies the numbered migrations that this database has not had, each in a transaction.
 *
 * @param before stops at the first whose name is not before this one; all by default
 */
export async function migrate(database: Transactions, before = '~'): Promise<void> {
  const had = await checkSchema(database);
  for (const name of namesOfMigrations()) {
    if (had.has(name) || name >= before) continue;
    const sql = readFileSync(join(MIGRATIONS, name), 'utf8');
    await database.transaction(async (queries) => {
      for (const statement of statementsOf(sql)) await queries.query(statement);
      await queries.query('INSERT INTO migration (name) VALUES ($1)', [name]);
    });
  }
}

/** Migrations hold plain statements, each ended by a semicolon at the end of a line. */
function statementsOf(sql: string): string[] {
  return sql
    .replace(/^\s*--.*$/gm, '')
    .split(/;\s*$/m)
    .map((statement) => statement.trim())
    .filter(Boolean);
}
